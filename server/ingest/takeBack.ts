import type { Value } from '../../core/log/values.js'
import type { Db } from '../store/database.js'
import { bumpDefinitions } from '../store/definitions.js'
import { NotFoundError } from '../store/errors.js'
import { KEPT_MS, takenStore, type TakenValue } from '../store/taken.js'
import { CatalogTally } from './catalogTally.js'
import type { TakeChoice } from './takeChoice.js'
import { MOST_IN_BATCH, type EventWriter, type StoredRow } from './writer.js'

/** What would be taken back, or was. */
export interface TakeLook {
  events: number
  /** by event, the commonest first */
  byEvent: { event: string; events: number }[]
  /** people whose events these are, or whose profile values */
  people: number
  firstMs: number | null
  lastMs: number | null
  profileValues: number
  /** of the events: those that give their place to what stood there before */
  replaced: number
  /** pairs of ids that nothing else has seen together: their people are taken apart */
  apart: number
}

export interface Brought {
  events: number
  /** events whose id has come again meanwhile: those stay as they are */
  again: number
}

export type TakeRequest =
  /** `seqs`: the arrival numbers, where they are not found by what brought them */
  | { kind: 'look at taking back'; choice: TakeChoice; seqs: number[] | null }
  /** `forGood`: it can not be brought back, and no note of it stays */
  | {
      kind: 'take back'
      id: string
      choice: TakeChoice
      seqs: number[] | null
      nowMs: number
      forGood?: boolean
    }
  | { kind: 'bring back'; id: string; nowMs: number }

interface EventRow extends StoredRow {
  event_id: string
  dates: string
  received_ms: number
}

type SlimRow = Pick<EventRow, 'known' | 'anonymous' | 'type' | 'time_ms'>

/** So many events pass between two signs of life. */
const TOLD_EVERY = 5000

/** What is found for a choice: numbers only, for it may be a great deal. */
interface Found {
  seqs: number[]
  /** events that took the place of another: their number, and JSON of the row that stood there */
  replaced: { seq: number; before: string }[]
  values: TakenValue[]
}

const ownerOf = ({ known, anonymous }: Pick<EventRow, 'known' | 'anonymous'>) => (known ?? anonymous)!
const pairOf = (known: number, anonymous: number) => `${known} ${anonymous}`

/**
 * Takes back what came in, and brings it back again: each in one transaction, so that all of it is counted or none. What
 * is taken back keeps its arrival numbers; brought back, everything is as it was before.
 * @param onProgress told now and then while there is much to do
 */
export function takingBack(db: Db, writer: EventWriter, onProgress: () => void = () => {}) {
  const { ids, catalog, nextChange } = writer.inside
  const store = takenStore(db)
  const originRow = db.prepare<[string, string], number>('SELECT id FROM origins WHERE kind = ? AND ref = ?').pluck()
  const runs = db.prepare<[number, string], { first: number; last: number; received_ms: number }>(
    'SELECT first, last, received_ms FROM arrivals WHERE origin = ? AND what = ? ORDER BY first',
  )
  const seqsBetween = db
    .prepare<[number, number, number, number], number>(
      'SELECT seq FROM events WHERE seq BETWEEN ? AND ? AND received_ms BETWEEN ? AND ?',
    )
    .pluck()
  const bySeq = db.prepare<[number], EventRow>(
    `SELECT seq, event_id, known, anonymous, type, time_ms, source, properties, dates, received_ms
     FROM events WHERE seq = ?`,
  )
  const typeOf = db.prepare<[number], number>('SELECT type FROM events WHERE seq = ?').pluck()
  const slim = db.prepare<[number], SlimRow>('SELECT known, anonymous, type, time_ms FROM events WHERE seq = ?')
  const seqOfId = db.prepare<[string], number>('SELECT seq FROM events WHERE event_id = ?').pluck()
  const replacedBy = db.prepare<[number, number], { seq: number; before: string }>(
    `SELECT r.seq, r.before FROM replaced_events r JOIN (
       SELECT seq, MIN(id) AS first, MAX(id) AS last FROM replaced_events WHERE origin = ? GROUP BY seq) own
     ON r.id = own.first
     WHERE own.last = (SELECT MAX(id) FROM replaced_events WHERE seq = r.seq)
       AND NOT EXISTS (SELECT 1 FROM replaced_events o WHERE o.seq = r.seq AND o.origin <> ? AND o.id > own.first)`,
  )
  const dropReplaced = db.prepare('DELETE FROM replaced_events WHERE origin = ?')
  const dropOldReplaced = db.prepare('DELETE FROM replaced_events WHERE replaced_ms < ?')
  const valuesBetween = db.prepare<[number, number], TakenValue>(
    `SELECT id, property, written_ms, arrival, value, dated, timed FROM profile_history WHERE arrival BETWEEN ? AND ?`,
  )
  const dropValue = db.prepare('DELETE FROM profile_history WHERE id = ? AND property = ? AND written_ms = ?')
  const putValue = db.prepare(
    `INSERT INTO profile_history (id, property, written_ms, arrival, value, dated, timed) VALUES (?, ?, ?, ?, ?, ?, ?)
     ON CONFLICT DO NOTHING`,
  )
  const dropEvent = db.prepare('DELETE FROM events WHERE seq = ?')
  const putEvent = db.prepare(
    `INSERT INTO events (seq, event_id, known, anonymous, type, time_ms, source, properties, dates, received_ms)
     VALUES (@seq, @event_id, @known, @anonymous, @type, @time_ms, @source, @properties, @dates, @received_ms)
     ON CONFLICT DO NOTHING`,
  )
  const setEvent = db.prepare(
    `UPDATE events SET known = @known, anonymous = @anonymous, type = @type, time_ms = @time_ms, source = @source,
       properties = @properties, dates = @dates WHERE seq = @seq`,
  )
  const noteChange = db.prepare('INSERT INTO event_changes (seq, owner) VALUES (?, ?)')
  const typeNames = db.prepare<[], { id: number; name: string }>('SELECT id, name FROM event_types')
  const propertyNames = db.prepare<[], { id: number; name: string }>('SELECT id, name FROM properties')
  const seenPairs = db.prepare<[], { seq: number; known: number; anonymous: number }>(
    'SELECT seq, known, anonymous FROM events WHERE known IS NOT NULL AND anonymous IS NOT NULL',
  )

  function find(choice: TakeChoice, seqs: number[] | null): Found {
    const none = { replaced: [], values: [] }
    switch (choice.of) {
      case 'import':
      case 'key': {
        const origin = originRow.get(choice.of, choice.id)
        if (origin === undefined) return { seqs: [], ...none }
        const { fromMs, untilMs } = choice.of === 'key' ? choice : { fromMs: -Infinity, untilMs: Infinity }
        const within = (ms: number) => ms >= fromMs && ms <= untilMs
        const clamp = (ms: number) => Math.max(-Number.MAX_SAFE_INTEGER, Math.min(Number.MAX_SAFE_INTEGER, ms))
        return {
          seqs: runs
            .all(origin, 'events')
            .flatMap(({ first, last }) => seqsBetween.all(first, last, clamp(fromMs), clamp(untilMs))),
          replaced: choice.of === 'import' ? replacedBy.all(origin, origin) : [],
          values: runs
            .all(origin, 'profiles')
            .filter((run) => within(run.received_ms))
            .flatMap(({ first, last }) => valuesBetween.all(first * MOST_IN_BATCH, (last + 1) * MOST_IN_BATCH - 1)),
        }
      }
      case 'event': {
        const type = typeNames.all().find(({ name }) => name === choice.name)?.id
        return { seqs: (seqs ?? []).filter((seq) => typeOf.get(seq) === type), ...none }
      }
      case 'person':
        return { seqs: seqs ?? [], ...none }
      case 'events':
        return { seqs: choice.ids.flatMap((id) => seqOfId.get(id) ?? []), ...none }
    }
  }

  /** The pairs of ids that no event carries any more once these are gone. */
  function loosePairs(gone: ReadonlySet<number>, pairs: ReadonlyMap<string, [number, number]>): [number, number][] {
    if (pairs.size === 0) return []
    const left = new Map(pairs)
    for (const { seq, known, anonymous } of seenPairs.iterate()) {
      if (gone.has(seq)) continue
      left.delete(pairOf(known, anonymous))
      if (left.size === 0) break
    }
    return [...left.values()].filter(([known, anonymous]) => ids.isLinked(known, anonymous))
  }

  /** Adds up what is taken: row by row, then all together. */
  function adder() {
    const byType = new Map<number, number>()
    const owners = new Set<number>()
    const pairs = new Map<string, [number, number]>()
    const all = new Set<number>()
    let firstMs = Infinity
    let lastMs = -Infinity
    return {
      all,
      pairs,
      add(seq: number, row: SlimRow): void {
        all.add(seq)
        byType.set(row.type, (byType.get(row.type) ?? 0) + 1)
        owners.add(ownerOf(row))
        if (row.time_ms < firstMs) firstMs = row.time_ms
        if (row.time_ms > lastMs) lastMs = row.time_ms
        if (row.known !== null && row.anonymous !== null)
          pairs.set(pairOf(row.known, row.anonymous), [row.known, row.anonymous])
        if (all.size % TOLD_EVERY === 0) onProgress()
      },
      look({ replaced, values }: Found, apart: number): TakeLook {
        const names = new Map(typeNames.all().map(({ id, name }) => [id, name]))
        const people = new Set([...owners, ...values.map(({ id }) => id)].map((id) => ids.personOf(id)))
        return {
          ...{ events: all.size, people: people.size, profileValues: values.length },
          byEvent: [...byType]
            .map(([type, events]) => ({ event: names.get(type)!, events }))
            .sort((a, b) => b.events - a.events),
          ...(all.size > 0 ? { firstMs, lastMs } : { firstMs: null, lastMs: null }),
          ...{ replaced: replaced.length, apart },
        }
      },
    }
  }

  function lookAt(found: Found): TakeLook {
    const sum = adder()
    for (const seq of [...found.seqs, ...found.replaced.map((each) => each.seq)]) {
      const row = sum.all.has(seq) ? undefined : slim.get(seq)
      if (row) sum.add(seq, row)
    }
    return sum.look(found, loosePairs(sum.all, sum.pairs).length)
  }

  const propertiesOf = (row: EventRow) => JSON.parse(row.properties) as Record<string, Value>

  function tallyValues(tally: CatalogTally, values: readonly TakenValue[]): void {
    const names = new Map(propertyNames.all().map(({ id, name }) => [id, name]))
    for (const { property, value } of values)
      if (value !== null) tally.countProfile(names.get(property)!, JSON.parse(value) as Value)
  }

  function take({ id, choice, seqs, nowMs, forGood }: Extract<TakeRequest, { kind: 'take back' }>): TakeLook {
    return writer.together(() => {
      forgetOld(nowMs)
      const found = find(choice, seqs)
      const change = nextChange()
      // What there is to ask about is told anew at once, not only when its time has come.
      bumpDefinitions(db)
      const keeping = forGood ? null : store
      keeping?.begin({ id, choice, takenMs: nowMs })
      const tally = new CatalogTally()
      const sum = adder()
      const remove = (row: EventRow, isReplaced: boolean) => {
        sum.add(row.seq, row)
        keeping?.keepEvent(id, row.seq, JSON.stringify(row), isReplaced)
        noteChange.run(row.seq, ownerOf(row))
        tally.countEvent(row.type, row.time_ms, propertiesOf(row))
      }
      for (const seq of found.seqs) {
        const row = sum.all.has(seq) ? undefined : bySeq.get(seq)
        if (!row) continue
        remove(row, false)
        dropEvent.run(seq)
      }
      const gone = new Set(sum.all)
      const stood = new CatalogTally()
      for (const { seq, before } of found.replaced) {
        const row = gone.has(seq) ? undefined : bySeq.get(seq)
        if (!row) continue
        remove(row, true)
        // What was kept of it has no times of receipt and no dates of its own: those of the row that is there hold.
        const earlier = { ...row, ...(JSON.parse(before) as Partial<EventRow>), seq }
        setEvent.run({ ...earlier, dates: writer.datesIn(propertiesOf(earlier)) })
        noteChange.run(seq, ownerOf(earlier))
        stood.countEvent(earlier.type, earlier.time_ms, propertiesOf(earlier))
      }
      if (choice.of === 'import') {
        const origin = originRow.get('import', choice.id)
        if (origin !== undefined) dropReplaced.run(origin)
      }
      const touched = new Set<number>()
      for (const value of found.values) {
        keeping?.keepValue(id, value)
        dropValue.run(value.id, value.property, value.written_ms)
        touched.add(ids.personOf(value.id))
      }
      tallyValues(tally, found.values)
      for (const person of touched) ids.profileAnew(person, change)
      tally.write(catalog, -1)
      stood.write(catalog)
      const loose = loosePairs(gone, sum.pairs)
      const look = sum.look(found, loose.length)
      for (const [known, anonymous] of loose) {
        keeping?.keepLink(id, known, anonymous)
        ids.loosen(known, anonymous, change)
      }
      keeping?.counted(id, look)
      return look
    })
  }

  function bring({ id, nowMs }: Extract<TakeRequest, { kind: 'bring back' }>): Brought {
    return writer.together(() => {
      const taken = store.get(id)
      if (!taken || taken.broughtMs !== null) throw new NotFoundError('what was taken back', id)
      const change = nextChange()
      bumpDefinitions(db)
      const tally = new CatalogTally()
      const stood = new CatalogTally()
      let events = 0
      let again = 0
      for (const { content, replaced } of store.events(id)) {
        const row = JSON.parse(content) as EventRow
        if (replaced) {
          const now = bySeq.get(row.seq)
          if (!now) {
            again++
            continue
          }
          stood.countEvent(now.type, now.time_ms, propertiesOf(now))
          noteChange.run(row.seq, ownerOf(now))
          setEvent.run(row)
        } else if (putEvent.run(row).changes === 0) {
          again++
          continue
        }
        if (++events % TOLD_EVERY === 0) onProgress()
        noteChange.run(row.seq, ownerOf(row))
        tally.countEvent(row.type, row.time_ms, propertiesOf(row))
      }
      const values = store.values(id).filter((value) => {
        const { id: of, property, written_ms, arrival, dated, timed } = value
        return putValue.run(of, property, written_ms, arrival, value.value, dated, timed).changes > 0
      })
      tallyValues(tally, values)
      tally.write(catalog)
      stood.write(catalog, -1)
      for (const { known, anonymous } of store.links(id)) ids.tie(known, anonymous, change)
      for (const person of new Set(values.map((value) => ids.personOf(value.id)))) ids.profileAnew(person, change)
      store.end(id, nowMs)
      return { events, again }
    })
  }

  /** What can no longer be brought back is gone for good. */
  function forgetOld(nowMs: number): void {
    store.forget(nowMs - KEPT_MS)
    dropOldReplaced.run(nowMs - KEPT_MS)
  }

  return {
    forgetOld: (nowMs: number) => writer.together(() => forgetOld(nowMs)),
    request(request: TakeRequest): TakeLook | Brought {
      switch (request.kind) {
        case 'look at taking back':
          return lookAt(find(request.choice, request.seqs))
        case 'take back':
          return take(request)
        case 'bring back':
          return bring(request)
      }
    },
  }
}
