import fc from 'fast-check'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { passAll, passesOf } from '../../core/analyses/passes.js'
import { analysisOf, type Question } from '../../core/analyses/registry.js'
import type { Value } from '../../core/log/values.js'
import { fold, type FoldRequest } from '../../core/log/fold.js'
import { atOnce } from '../../core/steps.js'
import { newFolder, RECEIVED } from '../../tests/workspace.js'
import { afterwards } from '../ingest/afterwards.js'
import { eventWriter, type EventWriter } from '../ingest/writer.js'
import { openDatabase, type Db } from '../store/database.js'
import { LogKeeper, type Snapshot } from './keeper.js'

let folder: ReturnType<typeof newFolder>
let db: Db
let writer: EventWriter
let count: number
beforeEach(() => {
  folder = newFolder()
  db = openDatabase(`${folder.dir}/w.db`)
  writer = eventWriter(db)
  count = 0
})
afterEach(() => {
  db.close()
  folder.remove()
})

const TABLES = [
  ...['event_changes', 'split_people', 'set_aside', 'events', 'profile_values', 'profile_history', 'id_links'],
  ...['person_ids', 'people', 'event_type_properties', 'event_types', 'properties', 'sources'],
]

const range = { from: '2026-10-01', to: '2026-10-31' }
const questions: Question[] = [
  {
    kind: 'trend',
    series: [{ event: { activity: true }, measure: 'events per person' }],
    every: 'day',
    range,
    breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }],
    show: { form: 'lines', as: 'number' },
  },
  {
    kind: 'trend',
    series: [{ event: { names: ['a'] }, measure: 'people' }],
    every: 'week',
    range,
    breakdowns: [{ by: { of: 'event', name: 'size' }, keep: 2 }],
    show: { form: 'lines', as: 'number' },
  },
  {
    kind: 'funnel',
    steps: [{ event: { names: ['a'] } }, { event: { names: ['b'] } }],
    window: { count: 3, unit: 'day' },
    range,
  },
  {
    kind: 'crosstab',
    series: [{ event: { activity: true }, measure: 'people' }],
    every: 'week',
    range,
    rows: [{ by: { of: 'event', name: 'size' }, keep: 2 }],
    column: { by: { of: 'person', name: 'plan' }, keep: 5 },
    show: { cells: 'plain', beside: 'nothing' },
  },
  {
    kind: 'retention',
    start: { event: { names: ['a'] } },
    back: { event: { activity: true } },
    first: true,
    every: 'week',
    range,
    breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 5 }],
    show: { form: 'curve' },
  },
  {
    kind: 'habit',
    start: { event: { activity: true } },
    period: 'week',
    range,
    breakdowns: [{ by: { of: 'event', name: 'size' }, keep: 2 }],
    show: { form: 'at least' },
  },
  { kind: 'growth', start: { event: { activity: true } }, interval: { unit: 'week' }, range, show: { form: 'states' } },
  { kind: 'gaps', start: { event: { names: ['b'] } }, range, show: { form: 'gaps' } },
]

/** @param between what happens after each pass over the events */
function answerOf(question: Question, { logs, schema }: Snapshot, between = () => {}) {
  const analysis = analysisOf(question.kind)
  const context = { schema, calendar: { zone: 'UTC', firstDayOfWeek: 1 }, now: RECEIVED, among: null }
  const first = analysis.plan(question, context, [])
  const { plan, parts } = passAll(passesOf(question, first, context), (plan) => {
    const part = logs
      .map((log) => analysis.scan(log, { from: 0, to: log.people }, plan))
      .reduce((a, b) => analysis.merge(a, b))
    between()
    return part
  })
  return analysis.finish(parts.at(-1), plan, question, context, parts.slice(0, -1))
}

function answers(keeper: LogKeeper) {
  return questions.map((question) => answerOf(question, keeper.current))
}

type Write = {
  known: string | null
  anonymous: string | null
  event: string
  hour: number
  size: Value | null
  plan: string | null
}
const write: fc.Arbitrary<Write> = fc.record({
  known: fc.option(fc.constantFrom('ada', 'bea', 'cai', 'dot')),
  anonymous: fc.option(fc.constantFrom('c1', 'c2', 'c3', 'c4')),
  event: fc.constantFrom('a', 'b'),
  hour: fc.integer({ min: 0, max: 700 }),
  size: fc.constantFrom<Write['size'][]>('s', 'm', 'l', 7, null, '2026-10-03', ['s', 'xs']),
  plan: fc.option(fc.constantFrom('Annual', 'None'), { freq: 3 }),
})

function send(writes: readonly Write[]): void {
  const usable = writes.filter(({ known, anonymous }) => known !== null || anonymous !== null)
  writer.writeEvents(
    usable.map(({ known, anonymous, event, hour, size }) => ({
      id: `e${count++}`,
      known,
      anonymous,
      event,
      timeMs: Date.UTC(2026, 9, 1) + hour * 3_600_000,
      source: null,
      properties: (size === null ? {} : { size }) as Record<string, Value>,
    })),
    RECEIVED,
  )
  const people = writes.filter(({ known, plan }) => known !== null && plan !== null)
  if (people.length > 0)
    writer.writePeople(
      people.map(({ known, plan, hour, size }) => ({
        known: known!,
        properties: { plan: plan! },
        // Some carry a time of their own, in no order.
        ...(size === null
          ? { writtenMs: RECEIVED + count++ }
          : { writtenMs: Date.UTC(2026, 9, 1) + hour * 3_600_000, timed: true }),
      })),
    )
}

/** What is done by hand after a batch: to the n-th id or event there is. */
const deed = fc.record({
  what: fc.constantFrom('nothing', 'unmerge', 'remerge', 'replace', 'take out', 'fold'),
  n: fc.nat(200),
})

function apply({ what, n }: { what: string; n: number }): void {
  const later = afterwards(db, writer)
  const pickFrom = <T>(sql: string) => {
    const rows = db.prepare<[], T>(sql).all()
    return rows[n % rows.length]
  }
  if (what === 'unmerge' || what === 'remerge') {
    const { id } = pickFrom<{ id: number }>('SELECT id FROM person_ids ORDER BY id')
    later({ kind: what, id })
  }
  if (what === 'replace') {
    const { event_id: id } = pickFrom<{ event_id: string }>('SELECT event_id FROM events ORDER BY seq')
    const event = n % 2 ? 'a' : 'b'
    const timeMs = Date.UTC(2026, 9, 1) + n * 3_600_000
    const changed = { id, known: ['ada', 'bea', 'eli'][n % 3], anonymous: null, event, timeMs, source: null }
    writer.writeEvents([{ ...changed, properties: { size: 'xl' } }], RECEIVED, { replace: true })
  }
  if (what === 'take out') {
    // The first two events stay, so that both names are known.
    const { seq } = pickFrom<{ seq: number }>('SELECT seq FROM events ORDER BY seq LIMIT 500 OFFSET 2') ?? { seq: -1 }
    later({ kind: 'set aside', seqs: [seq], rule: 'by hand', property: null, reason: 'test', nowMs: RECEIVED })
  }
}

test('whatever comes in or is changed afterwards, answers are those of a start from the rows', () => {
  const batch = fc.record({ writes: fc.array(write, { minLength: 1, maxLength: 12 }), deed })
  fc.assert(
    fc.property(
      fc.array(batch, { minLength: 2, maxLength: 9 }),
      fc.constantFrom(0, 5, 1000),
      fc.constantFrom(1, 1e9),
      (batches, smallRows, foldFrom) => {
        for (const table of TABLES) db.prepare(`DELETE FROM ${table}`).run()
        writer = eventWriter(db)
        // Names are known from the start, so that every question can be asked.
        send(['a', 'b'].map((event) => ({ known: 'zoe', anonymous: null, event, hour: 0, size: 's', plan: 'None' })))
        const keeper = new LogKeeper(db, { foldFrom, smallRows })
        atOnce(keeper.refresh())
        let folding: FoldRequest | null = null
        for (const { writes, deed } of batches) {
          send(writes)
          apply(deed)
          atOnce(keeper.refresh())
          // A fold that was begun ends some batches later, with whatever happened in between.
          if (folding && deed.n % 2) {
            // Its thread may die over it as well.
            if (deed.n % 3 === 0) keeper.foldFailed()
            else keeper.folded(fold(folding))
            folding = null
          } else folding ??= deed.what === 'fold' ? keeper.startFold() : null
        }
        if (folding) keeper.folded(fold(folding))
        const anew = new LogKeeper(db)
        atOnce(anew.refresh())
        expect(answers(keeper)).toEqual(answers(anew))
        const { events, seenPeople } = anew.current
        expect([keeper.current.events, keeper.current.seenPeople]).toEqual([events, seenPeople])
      },
    ),
    { numRuns: 150 },
  )
})

test.each<Question>([
  ...questions,
  {
    kind: 'funnel',
    steps: [{ event: { names: ['a'] } }, { event: { names: ['b'] } }],
    window: { count: 30, unit: 'day' },
    range,
    breakdowns: [{ by: { of: 'event', name: 'size' }, keep: 20 }],
  },
])('what comes in between two passes of a $kind changes nothing of its answer', (question) => {
  const write = (known: string, event: string, hour: number, size: Value, plan: string | null = null): Write => ({
    ...{ known, anonymous: null, event, hour, size, plan },
  })
  send([
    ...['s', '2026-10-03', 'm', 7, ['s', 'xs'], '2026-10-04'].flatMap((size, i) => [
      write(`p${i}`, 'a', i, size, i % 2 ? 'Annual' : 'None'),
      write(`p${i}`, 'b', 200 + i, size),
      write(`p${i}`, 'a', 400 + i * 24, size),
    ]),
  ])
  const keeper = new LogKeeper(db, { smallRows: 4 })
  atOnce(keeper.refresh())
  const state = keeper.current
  const alone = answerOf(question, state)
  let times = 0
  const comes = () => {
    times++
    send([
      // Values, days, lists, events and names that were not there, of people who were.
      ...[`new ${times}`, [`other ${times}`, 's'], `2026-10-1${times}`, 100 + times].map((size, i) =>
        write(`p${i}`, i % 2 ? 'a' : `event ${times}`, 300 + i, size, `Plan ${times}`),
      ),
      ...['a', 'b', 'b'].map((event, i) => write(`q${times}`, event, 20 + i, 'm', 'Annual')),
    ])
    atOnce(keeper.refresh())
  }
  expect(answerOf(question, state, comes)).toEqual(alone)
  expect(times).toBeGreaterThan(0)
  expect(answerOf(question, keeper.current)).not.toEqual(alone)
})

test('whether a text is a date was decided when it was written; what was written before that goes by its look', () => {
  const ofDay = (known: string, size: Value): Write => ({
    known,
    anonymous: null,
    event: 'a',
    hour: 1,
    size,
    plan: null,
  })
  send([ofDay('ada', '2026-10-03'), ofDay('bea', '2026-10-03'), ofDay('cai', 's')])
  const stored = db.prepare<[], string>('SELECT dates FROM events ORDER BY seq').pluck().all()
  expect(stored).toEqual(['["size"]', '["size"]', '[]'])
  writer.writePeople([{ known: 'ada', properties: { born: '1990-01-01', plan: 'x' }, writtenMs: RECEIVED }])
  const dated = 'SELECT name, dated FROM profile_values JOIN properties ON id = property ORDER BY name'
  expect(db.prepare(dated).raw().all()).toEqual([
    ['born', 1],
    ['plan', 0],
  ])
  const kinds = () => {
    const keeper = new LogKeeper(db)
    atOnce(keeper.refresh())
    const { logs, schema } = keeper.current
    const { codes, dates } = logs[0].columns[schema.typeCode('a')!].get(schema.propertyCode('size')!)!
    return Array.from(dates ?? [], (date, slot) => (Number.isNaN(date) ? (codes?.[slot] ? 'text' : 'none') : 'date'))
  }
  expect(kinds()).toEqual(['date', 'date', 'text'])
  db.exec(`UPDATE events SET dates = '[]' WHERE seq = 1; UPDATE events SET dates = NULL WHERE seq > 1`)
  expect(kinds()).toEqual(['text', 'date', 'text'])
})

test('who is in a list is asked of the state that stands, while the next one is being read', () => {
  const ride = (known: string | null, anonymous: string | null): Write => ({
    ...{ known, anonymous, event: 'a', hour: 1, size: null, plan: null },
  })
  send([ride('ada', null), ride(null, 'c1')])
  const keeper = new LogKeeper(db)
  atOnce(keeper.refresh())
  const ids = db.prepare<[], number>('SELECT id FROM person_ids ORDER BY id').pluck().all()
  const before = ids.map((id) => keeper.personOf(id))
  expect(new Set(before).size).toBe(2)
  send([ride('ada', 'c1')])
  const steps = keeper.refresh()
  const during: number[][] = []
  for (let done = false; !done; done = steps.next().done === true) during.push(ids.map((id) => keeper.personOf(id)))
  expect(during.every((people) => people.join() === before.join())).toBe(true)
  const after = ids.map((id) => keeper.personOf(id))
  expect(new Set(after).size).toBe(1)
})

test('folding the tail into the main block, while events come in and people merge, changes no answer', () => {
  const ride = (known: string | null, anonymous: string | null, event: string, hour: number): Write => ({
    known,
    anonymous,
    event,
    hour,
    size: 'm',
    plan: null,
  })
  send([
    ride('ada', null, 'a', 1),
    ride('bea', null, 'b', 2),
    ride(null, 'c1', 'a', 3),
    { ...ride('cai', null, 'b', 4), plan: 'Annual' },
  ])
  const keeper = new LogKeeper(db)
  atOnce(keeper.refresh())
  const [main] = keeper.current.logs
  send([ride('ada', null, 'b', 5), ride('dot', 'c9', 'a', 6)])
  atOnce(keeper.refresh())
  const [{ hidden }, tail] = keeper.current.logs
  // As the keeper does it when the tail has grown, with the tail's people taken from the main block.
  const layers = [
    { block: main, hidden },
    { block: tail, hidden: null },
  ]
  const folded = fold({ layers, people: keeper.current.people, types: keeper.current.schema.types.length })
  expect(folded.length).toBe(6)
  expect(folded.people).toBe(5)
  const times = Array.from(folded.offsets.subarray(0, -1), (from, i) =>
    Array.from(folded.time.subarray(from, folded.offsets[i + 1])),
  )
  for (const own of times) expect(own).toEqual([...own].sort((x, y) => x - y))
})

test('nothing new is told as nothing new', () => {
  send([{ known: 'ada', anonymous: null, event: 'a', hour: 1, size: null, plan: null }])
  const keeper = new LogKeeper(db)
  expect(atOnce(keeper.refresh())).toBe(true)
  const { version } = keeper.current
  expect(atOnce(keeper.refresh())).toBe(false)
  expect(keeper.current.version).toBe(version)
})

test('others may ask, and more may be written, between any two steps: each state is of one moment of the file', () => {
  const many = (from: number): Write[] =>
    Array.from({ length: 1200 }, (_, i) => ({
      known: `p${(from + i) % 700}`,
      anonymous: null,
      event: 'a',
      hour: i % 700,
      size: 's',
      plan: null,
    }))
  send(many(0))
  const keeper = new LogKeeper(openDatabase(`${folder.dir}/w.db`, { readonly: true }))
  atOnce(keeper.refresh())
  send(many(350))
  const before = keeper.current
  const steps = keeper.refresh()
  let count = 0
  while (!steps.next().done) {
    expect(keeper.current).toBe(before)
    if (count++ === 1) send(many(5))
  }
  expect(count).toBeGreaterThan(3)
  expect([before.events, keeper.current.events]).toEqual([1200, 2400])
  atOnce(keeper.refresh())
  expect(keeper.current.events).toBe(3600)
})
