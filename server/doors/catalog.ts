import type { Derived, Recipe } from '../../core/made/definitions.js'
import type { MadePreview, RulesCaught } from '../../core/made/preview.js'
import { caughtBy } from '../../core/made/tryEvent.js'
import type { Value } from '../../core/log/values.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { checkerOf } from '../../core/plan/check.js'
import { planToJsonSchema } from '../../core/plan/jsonSchema.js'
import type { Problem } from '../../core/plan/quality.js'
import type { Catalog, CatalogDetail, PropertyEntry } from '../engine/catalog.js'
import type { EventPolicy } from '../ingest/afterwards.js'
import { violationWords } from '../ingest/doorway.js'
import type { LiveFilter, StoredEvent } from '../store/events.js'
import type { AsideChoice } from '../store/setAside.js'
import type { Inside } from './inside.js'
import { mender } from './mend.js'
import { planCsv, readPlanFile } from './planFiles.js'
import { usesOfEvent, usesOfProperty } from './uses.js'

export interface LiveEvent extends StoredEvent {
  /** in what ways it does not fit the plan; none for an event that does */
  verdict: string[]
  /** sent to try things out: counted nowhere */
  test: boolean
}

/** Which property it is, as of whatever moment it is read. */
const nameOf = (ref: PropertyRef) => (ref.of === 'source' ? ref.of : `${ref.of} ${ref.name}`)

/** A typed text as the value it stands for; none = no value. */
function typedValue(text: string, kind: PropertyEntry['kind'] | undefined): Value | null {
  if (text === '') return null
  if (kind === 'number' && Number.isFinite(Number(text))) return Number(text)
  if (kind === 'boolean') return /^(?:yes|true)$/i.test(text)
  return kind === 'list' ? text.split(',').map((each) => each.trim()) : text
}

/** What there is to ask about, what is said and made of it, and what does not fit. */
export function catalogDoor({ stores, ask, threads, known }: Inside) {
  const { catalog, plan, mending, events, aside } = stores
  const { ingest } = threads
  const preview = (definition: Derived) => ask<MadePreview>({ kind: 'preview made', definition })
  const definitions = () => ({ studies: stores.studies, dashboards: stores.dashboards, mending: mending.get() })

  /** Events sent as a test, as if they had been counted; their numbers are no arrival numbers, and below zero. */
  function testsOf({ event, source, person }: LiveFilter, limit: number): Omit<LiveEvent, 'verdict'>[] {
    return stores.testEvents
      .newest(limit)
      .filter(
        ({ event: each }) =>
          (event === undefined || each.event === event) &&
          (source === undefined || each.source === source) &&
          (person === undefined || each.known === person || each.anonymous === person),
      )
      .map(({ id, event: each, receivedMs }) => ({
        ...{ seq: -id, id: each.id, person: each.known, anonymous: each.anonymous, event: each.event },
        ...{ timeMs: each.timeMs, receivedMs, source: each.source, properties: each.properties, test: true },
      }))
  }

  /** A change that other threads read from the file: they are told at once, and the page waits until they know. */
  async function told<T>(change: T | Promise<T>): Promise<T> {
    const result = await change
    await known()
    return result
  }

  return {
    catalog: () => ask<Catalog>({ kind: 'catalog' }),
    catalogDetail: () => ask<CatalogDetail>({ kind: 'catalog detail' }),
    /** what is said of events and properties, the tracking plan, and what is made of them */
    said: catalog,
    plan: {
      ...plan,
      readFile: readPlanFile,
      csv: () => planCsv(plan.get().events),
      jsonSchema: () => planToJsonSchema(plan.get().events),
    },
    mending: {
      ...mender(mending, catalog, preview),
      get: mending.get,
      removeDerived: mending.removeDerived,
      removeCombined: mending.removeCombined,
    },
    told,
    usesOfEvent: (name: string) => usesOfEvent(name, definitions()),
    usesOfProperty: (ref: { of: 'event' | 'person'; name: string }) => usesOfProperty(ref, definitions()),
    previewDerived: preview,
    countRules: (definition: Derived) => ask<RulesCaught>({ kind: 'count rules', definition }),

    /** Which row of a rule set catches an event with these values, typed as texts; that of the fallback is one more than the last. */
    async tryEvent(
      recipe: Extract<Recipe, { kind: 'rules' }>,
      values: readonly { property: PropertyRef; text: string }[],
    ): Promise<number> {
      const { zone, firstDayOfWeek } = stores.settings.get()
      const { properties } = await ask<Catalog>({ kind: 'catalog' })
      const read = values.map(({ property, text }) => {
        const known = properties.find(({ property: each }) => nameOf(each) === nameOf(property))
        return { property, value: typedValue(text.trim(), known?.kind) }
      })
      return caughtBy(recipe, read, { zone, firstDayOfWeek }, Date.now())
    },

    /** What has come that does not fit the plan. */
    problems: () => ask<Problem[]>({ kind: 'problems' }),
    aside,
    /** Events as they came, by arrival number. */
    eventsBySeq: (seqs: readonly number[]): StoredEvent[] => events.bySeqs(seqs),
    async newestOfEvent(event: string, limit: number): Promise<StoredEvent[]> {
      return events.bySeqs(await ask<number[]>({ kind: 'newest of event', event, limit }))
    },
    /** Moves all events with a problem out of the numbers. @returns how many */
    async setProblemAside(
      problem: { rule: Problem['rule']; event: string; property: string | null },
      reason: string,
      policy?: EventPolicy,
    ): Promise<number> {
      const seqs = await ask<number[]>({ kind: 'all of problem', ...problem })
      const { rule, property } = problem
      return told(
        ingest.ask<number>({
          ...{ kind: 'set aside', seqs, rule, property, reason, nowMs: Date.now() },
          ...(policy ? { policy } : {}),
        }),
      )
    },
    letIn: (choice: AsideChoice, atReceipt: boolean, policy?: EventPolicy) =>
      told(
        ingest.ask<{ accepted: number; duplicates: number }>({
          ...{ kind: 'let in', choice, atReceipt, nowMs: Date.now() },
          ...(policy ? { policy } : {}),
        }),
      ),
    discardAside: (choice: AsideChoice) => ingest.ask<number>({ kind: 'discard', choice }),

    /** The last events, each with the plan's verdict on it; newest first. */
    live(filter: LiveFilter, limit: number): LiveEvent[] {
      const checker = checkerOf(plan.get(), mending.get())
      const counted = events.newest(filter, limit).map((event) => ({ ...event, test: false }))
      return [...counted, ...testsOf(filter, limit)]
        .sort((a, b) => b.receivedMs - a.receivedMs || b.seq - a.seq)
        .slice(0, limit)
        .map((event) => ({
          ...event,
          verdict: checker.check(event.event, event.properties).map((each) => violationWords(each, event.event)),
        }))
    },
  }
}
