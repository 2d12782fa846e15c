import type { Steps } from '../../core/steps.js'
import type { Db } from '../store/database.js'
import {
  countUsage,
  readCatalog,
  readCatalogDetail,
  type Catalog,
  type CatalogDetail,
  type Counted,
} from './catalog.js'
import type { LogKeeper } from './keeper.js'
import { inTurns } from './turns.js'

/** While events stream in, counting everything anew for each state would leave no time for questions. */
const FRESH_MS = 3000
const FRESH_TIMES_COST = 20

/** The state of the data that something was counted for, and how long it may be used beside newer ones. */
interface Usable<T> {
  version: number
  definitions: number
  untilMs: number
  value: T
}

/** What there is to ask about, counted once for a state of the data and shared by all who want to know at once. */
export function usageReader(db: Db, keeper: LogKeeper, note: (what: string) => void, now: () => number) {
  const isUsable = (of: Usable<unknown>) => {
    if (of.definitions !== keeper.definitions) return false
    return of.version === keeper.current.version || performance.now() < of.untilMs
  }

  /** Keeps what was worked out last, and what is being worked out now. */
  function kept<T>(work: () => Promise<Usable<T>>): () => Promise<Usable<T>> {
    let last: Usable<T> | null = null
    let under: Promise<Usable<T>> | null = null
    return () => {
      if (last && isUsable(last)) return Promise.resolve(last)
      under ??= work()
        .then((found) => (last = found))
        .finally(() => (under = null))
      return under
    }
  }

  const counted = kept<Counted>(async () => {
    const { version, logs, schema } = keeper.current
    const { definitions } = keeper
    const started = performance.now()
    const value = await inTurns(countUsage(logs, schema.types.length, now()), () => note('counting usage'))
    const cost = performance.now() - started
    return { version, definitions, untilMs: performance.now() + Math.max(FRESH_MS, FRESH_TIMES_COST * cost), value }
  })
  const told = <T>(what: string, read: (of: Counted) => Steps<T>) =>
    kept<T>(async () => {
      const of = await counted()
      return { ...of, value: await inTurns(read(of.value), () => note(what)) }
    })
  const catalog = told('catalog', (of) => readCatalog(db, keeper.current.schema, keeper.current.logs, of))
  const detail = told('catalog in detail', (of) =>
    readCatalogDetail(db, keeper.current.schema, keeper.current.logs, of, keeper.current.seenPeople),
  )
  return {
    catalog: async (): Promise<Catalog> => {
      const { version, value } = await catalog()
      return { version, ...value }
    },
    detail: async (): Promise<CatalogDetail> => (await detail()).value,
  }
}
