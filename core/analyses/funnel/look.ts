import { limitMs } from '../../questions/limits.js'
import { cutter, type CutPlan } from '../../sessions/cuts.js'
import type { Events, FunnelPlan, LookAs, LookPlan, StepPlan, ValuesOfType } from './shape.js'
import type { Column, EventLog } from '../../log/log.js'
import type { Schema } from '../../log/schema.js'
import type { Attempt } from './attempts.js'
import type { FunnelShow } from './question.js'
import { isOpen, lastStep } from './tally.js'

/** Properties with more different values than this are not looked through. */
export const MOST_VALUES = 200

export type LookTally =
  | { form: 'after'; people: number; nothing: number; did: Float64Array; ways: Map<string, number> }
  /** `features` ascending; `counts` by feature, then by required steps filled − 1; `people` by the latter */
  | { form: 'apart'; people: Float64Array; features: Uint32Array; counts: Float64Array }
  | { form: 'between'; people: number; did: Float64Array; place: Float64Array; ways: Map<string, number> }

/** A way is told by so many events at most. */
export const LONGEST_WAY = 5
/** A sequence between start and end holds so many different events at most. */
const LONGEST_SEQUENCE = 8

export function planLook(
  show: FunnelShow,
  steps: readonly StepPlan[],
  /** by step: whether it names no event, but stands for any activity */
  anything: readonly boolean[],
  schema: Schema,
  sessions: CutPlan,
): LookPlan | null {
  if (show.form !== 'after' && show.form !== 'between' && show.form !== 'apart') return null
  const counts = Uint16Array.from(schema.types, ({ name }, type) => schema.typeCode(schema.currentName(name)) ?? type)
  const skip = new Uint8Array(schema.types.length)
  steps.forEach(({ types }, step) => {
    if (!anything[step]) for (const type of types) skip[counts[type]] = 1
  })
  const events: Events = {
    ...{ counts, skip, passive: Uint8Array.from(schema.types, ({ passive }) => (passive ? 1 : 0)) },
    codes: Object.fromEntries(schema.types.map(({ name }, type) => [name, counts[type]])),
  }
  if (show.form === 'after')
    return {
      ...{ form: 'after', step: show.step, sessions, ...events },
      withinMs: show.within === 'session' ? null : limitMs(show.within),
    }
  if (show.form === 'between') return { form: 'between', ...events }
  // Feature n < number of types is the event; then come the values of each property for each event.
  const few = schema.properties.flatMap((info, property) => {
    const { name, dictionary } = info
    if (dictionary.size <= 1 || dictionary.size > MOST_VALUES + 1) return []
    return [{ name, property, values: dictionary.values.slice(), lists: new Map(dictionary.elements) }]
  })
  const width = few.reduce((sum, { values }) => sum + values.length, 0)
  const columns: ValuesOfType[] = []
  for (const type of counts.keys()) {
    if (skip[counts[type]] === 1) continue
    let base = counts.length + counts[type] * width
    for (const each of few) {
      columns.push({ type, base, ...each })
      base += each.values.length
    }
  }
  return { form: 'apart', columns, ...events }
}

/** Which of a person's counted attempts are looked at: there may be several where attempts are counted. */
export class Chosen {
  private readonly kept: Attempt[] = []
  private many = 0

  constructor(
    private readonly log: EventLog,
    private readonly plan: FunnelPlan,
    private readonly look: LookPlan,
  ) {}

  /** All that were lost at the step; else the first of the deepest. What is still open is left out. */
  consider(attempt: Attempt): void {
    const { log, plan, look, kept } = this
    if (look.form === 'after') {
      if (!isLostFor(log, plan, attempt, look.step)) return
    } else if (this.many > 0) {
      if (attempt.depth <= kept[0].depth) return
      this.many = 0
    }
    const into = (kept[this.many++] ??= { depth: 0, rows: new Int32Array(plan.steps.length), ended: false })
    into.depth = attempt.depth
    into.ended = attempt.ended
    into.rows.set(attempt.rows)
  }

  /** @returns the attempts, until the next person's; none where none is to be looked at */
  take(): readonly Attempt[] {
    const found = this.kept.slice(0, this.many)
    this.many = 0
    return found.some((attempt) => isOpen(this.log, this.plan, attempt)) ? NONE : found
  }
}
const NONE: readonly Attempt[] = []

/** Lost at a step for good: what is still open may go on. */
export function isLostFor(log: EventLog, plan: FunnelPlan, attempt: Attempt, step: number): boolean {
  return attempt.depth < plan.required.length && lastStep(plan, attempt) === step && !isOpen(log, plan, attempt)
}

interface Observer {
  add(attempt: Attempt, index: number, person: number): void
  endPerson(index: number, person: number): void
  done(): LookTally
}

export function observerOf(log: EventLog, plan: FunnelPlan): Observer | null {
  const { look } = plan
  if (!look) return null
  const chosen = new Chosen(log, plan, look)
  const counter =
    look.form === 'after'
      ? new AfterCounter(log, plan, look)
      : look.form === 'apart'
        ? new ApartCounter(log, plan, look)
        : new BetweenCounter(log, plan, look)
  return {
    add: (attempt) => chosen.consider(attempt),
    endPerson(index) {
      const attempts = chosen.take()
      if (attempts.length > 0) counter.count(attempts, index)
    },
    done: () => counter.done(),
  }
}

/**
 * The rows after the last step filled, as long as they count as *after the loss*: within so long of it, or in its session.
 * @returns the row after the last one
 */
export function endOfAfter(
  log: EventLog,
  plan: FunnelPlan,
  look: LookAs<'after'>,
  start: number,
  index: number,
): number {
  const { time, offsets } = log
  const end = offsets[index + 1]
  const limit = look.withinMs === null ? plan.now : Math.min(plan.now, time[start] + look.withinMs)
  let row = start + 1
  const begins = look.withinMs === null ? cutter(log, look.sessions) : null
  while (row < end && time[row] <= limit && !begins?.(row)) row++
  return row
}

class AfterCounter {
  private people = 0
  private nothing = 0
  private readonly did: Float64Array
  private readonly ways = new Map<string, number>()
  private readonly stamp: Uint32Array

  constructor(
    private readonly log: EventLog,
    private readonly plan: FunnelPlan,
    private readonly look: LookAs<'after'>,
  ) {
    this.did = new Float64Array(log.rowsOfType.length)
    this.stamp = new Uint32Array(log.rowsOfType.length)
  }

  /** A person counts once for each event, and each way, that followed any of their losses. */
  count(attempts: readonly Attempt[], index: number): void {
    const { log, plan, look, did, ways, stamp } = this
    const mark = ++this.people
    const gone = new Set<string>()
    let nothing = true
    for (const { rows } of attempts) {
      const start = rows[look.step]
      const end = endOfAfter(log, plan, look, start, index)
      if (end > start + 1) nothing = false
      const met = new Set<number>()
      const way: number[] = []
      let cut = false
      for (let row = start + 1; row < end; row++) {
        const type = look.counts[log.type[row]]
        if (way.at(-1) !== type) way.push(type)
        if (way.length > LONGEST_WAY) {
          way.shift()
          cut = true
        }
        if (stamp[type] !== mark) {
          stamp[type] = mark
          did[type]++
        }
        if (met.has(type)) continue
        met.add(type)
        gone.add(`${cut ? '…,' : ''}${way.join(',')}`)
      }
    }
    if (nothing) this.nothing++
    for (const key of gone) ways.set(key, (ways.get(key) ?? 0) + 1)
  }

  done(): LookTally {
    const { people, nothing, did, ways } = this
    return { form: 'after', people, nothing, did, ways }
  }
}

/** The rows in which what goes with getting through is looked for: after the entry, before getting through or giving up. */
export function apartRows(
  { time, offsets }: EventLog,
  plan: FunnelPlan,
  { depth, rows }: Attempt,
  index: number,
): [number, number] {
  const from = rows[0] + 1
  const complete = depth === plan.required.length
  if (complete) return [from, plan.rules.order === 'any order' ? rows[depth - 1] : rows[plan.required[depth - 1]]]
  const limit = Math.min(time[rows[0]] + plan.windowMs, plan.now)
  let row = from
  while (row < offsets[index + 1] && time[row] <= limit) row++
  return [from, row]
}

/** A column of this block, with where its values are counted. */
interface LocalColumn {
  codes: NonNullable<Column['codes']>
  base: number
  size: number
  lists: ReadonlyMap<number, readonly number[]>
}

class ApartCounter {
  private readonly people: Float64Array
  private readonly counts: Float64Array
  private readonly stamp: Uint32Array
  private readonly columnsOf: LocalColumn[][]
  /** by place among the values that can occur here: the feature */
  private readonly featureOf: number[]
  private marks = 0

  constructor(
    private readonly log: EventLog,
    private readonly plan: FunnelPlan,
    private readonly look: LookAs<'apart'>,
  ) {
    const depths = plan.required.length
    this.people = new Float64Array(depths)
    this.featureOf = [...log.rowsOfType.keys()]
    const placeOf = new Map<number, number>()
    this.columnsOf = log.rowsOfType.map((_rows, type) =>
      look.columns.flatMap((column): LocalColumn[] => {
        const codes = column.type === type ? log.columns[type]?.get(column.property)?.codes : null
        if (!codes) return []
        let base = placeOf.get(column.base)
        if (base === undefined) {
          placeOf.set(column.base, (base = this.featureOf.length))
          for (let code = 0; code < column.values.length; code++) this.featureOf.push(column.base + code)
        }
        return [{ codes, base, size: column.values.length, lists: column.lists }]
      }),
    )
    this.counts = new Float64Array(this.featureOf.length * depths)
    this.stamp = new Uint32Array(this.featureOf.length)
  }

  count([attempt]: readonly Attempt[], index: number): void {
    const { log, plan, look, people, counts, stamp, columnsOf } = this
    const depths = plan.required.length
    const place = attempt.depth - 1
    const mark = ++this.marks
    people[place]++
    const [from, to] = apartRows(log, plan, attempt, index)
    for (let row = from; row < to; row++) {
      const own = log.type[row]
      const type = look.counts[own]
      if (look.skip[type] === 1) continue
      if (stamp[type] !== mark) {
        stamp[type] = mark
        counts[type * depths + place]++
      }
      for (const { codes, base, size, lists } of columnsOf[own]) {
        const code = codes[log.slot[row]]
        if (code === 0 || code >= size) continue
        const inner = lists.size > 0 ? lists.get(code) : undefined
        for (const each of inner ?? [code]) {
          const at = base + each
          if (stamp[at] === mark) continue
          stamp[at] = mark
          counts[at * depths + place]++
        }
      }
    }
  }

  done(): LookTally {
    const { people, counts, stamp, featureOf } = this
    const depths = people.length
    const places = featureOf.flatMap((feature, at) => (stamp[at] > 0 ? [{ feature, at }] : []))
    places.sort((a, b) => a.feature - b.feature)
    const found = new Float64Array(places.length * depths)
    places.forEach(({ at }, i) => found.set(counts.subarray(at * depths, (at + 1) * depths), i * depths))
    return { form: 'apart', people, features: Uint32Array.from(places, ({ feature }) => feature), counts: found }
  }
}

class BetweenCounter {
  private people = 0
  private readonly did: Float64Array
  private readonly place: Float64Array
  private readonly ways = new Map<string, number>()

  constructor(
    private readonly log: EventLog,
    private readonly plan: FunnelPlan,
    private readonly look: LookAs<'between'>,
  ) {
    this.did = new Float64Array(log.rowsOfType.length)
    this.place = new Float64Array(log.rowsOfType.length)
  }

  count([attempt]: readonly Attempt[], index: number): void {
    const { log, plan, look, did, place, ways } = this
    if (attempt.depth < plan.required.length) return
    this.people++
    const sequence = sequenceOf(log, plan, look, attempt, index)
    sequence.forEach((type, i) => {
      if (look.skip[type] === 1) return
      did[type]++
      place[type] += (i + 1) / (sequence.length + 1)
    })
    const key = sequence.slice(0, LONGEST_SEQUENCE).join(',')
    ways.set(key, (ways.get(key) ?? 0) + 1)
  }

  done(): LookTally {
    const { people, did, place, ways } = this
    return { form: 'between', people, did, place, ways }
  }
}

/** The different events between an attempt's start and end, each where it first happened; passive ones left out. */
export function sequenceOf(
  log: EventLog,
  plan: FunnelPlan,
  { counts, passive }: LookAs<'between'>,
  attempt: Attempt,
  index: number,
): number[] {
  const [from, to] = apartRows(log, plan, attempt, index)
  const found: number[] = []
  for (let row = from; row < to; row++) {
    const type = counts[log.type[row]]
    if (passive[type] !== 1 && !found.includes(type)) found.push(type)
  }
  return found
}

export function sequenceKey(types: readonly number[]): string {
  return types.slice(0, LONGEST_SEQUENCE).join(',')
}

export function mergeLooks(a: LookTally, b: LookTally): LookTally {
  if (a.form === 'after' && b.form === 'after')
    return {
      ...{ form: 'after', people: a.people + b.people, nothing: a.nothing + b.nothing },
      ...{ did: addTo(a.did, b.did), ways: addWays(a.ways, b.ways) },
    }
  if (a.form === 'between' && b.form === 'between')
    return {
      ...{ form: 'between', people: a.people + b.people, did: addTo(a.did, b.did) },
      ...{ place: addTo(a.place, b.place), ways: addWays(a.ways, b.ways) },
    }
  if (a.form === 'apart' && b.form === 'apart') return mergeApart(a, b)
  throw new RangeError(`looks of different forms: ${a.form} and ${b.form}`)
}

/** Two blocks may know different numbers of event types. */
function addTo(a: Float64Array, b: Float64Array): Float64Array {
  const [long, short] = a.length >= b.length ? [a, b] : [b, a]
  const sum = long.slice()
  short.forEach((x, i) => (sum[i] += x))
  return sum
}

function addWays(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): Map<string, number> {
  const sum = new Map(a)
  for (const [key, people] of b) sum.set(key, (sum.get(key) ?? 0) + people)
  return sum
}

function mergeApart(a: LookTally & { form: 'apart' }, b: LookTally & { form: 'apart' }): LookTally {
  const depths = a.people.length
  const features = Uint32Array.from(new Set([...a.features, ...b.features])).sort()
  const counts = new Float64Array(features.length * depths)
  const placeOf = new Map([...features].map((feature, i) => [feature, i]))
  for (const part of [a, b])
    part.features.forEach((feature, i) => {
      const at = placeOf.get(feature)! * depths
      for (let depth = 0; depth < depths; depth++) counts[at + depth] += part.counts[i * depths + depth]
    })
  return { form: 'apart', people: addTo(a.people, b.people), features, counts }
}
