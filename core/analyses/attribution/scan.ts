import { columnOf, isOfPerson } from '../../filters/bind.js'
import { bindGrouped, groupFinder, isIn, mergeFound, rankFinder, type FoundGroups } from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId } from '../../questions/groupId.js'
import { Growing } from '../../stats/pieces.js'
import { bucketAt } from '../../time/buckets.js'
import { COUNTED, FIGURES, sharesOf, type Figure } from './credit.js'
import { ageAt, MOST_TOLD, type Model } from './question.js'
import { groupOfPerson, GROUPS } from './draws.js'
import type { AttributionMark } from './marks.js'
import {
  PARTS,
  SIDE,
  statesOf,
  type AttributionPart,
  type AttributionPlan,
  type ExamplePath,
  type GoalTally,
} from './plan.js'
import { eachTouched, touchWalk, type ReadValues, type Touches, type ValueReader } from './walk.js'

export function scanAttribution(log: EventLog, people: PersonRange, plan: AttributionPlan): AttributionPart {
  if (plan.pass === 'count') return count(log, people, plan)
  const groups = plan.split ? groupFinder(log, plan) : null
  if (plan.pass === 'cuts') {
    eachTouched(log, people, plan, NO_VALUES, {
      conversion: (_goal, row, { person }) => groups!.meet(row, person),
    })
    return { pass: 'cuts', groups: groups!.found() }
  }
  const values = valueFinder(log, plan)
  let stamp = 0
  const stamped: number[] = []
  eachTouched(log, people, plan, values.read, {
    conversion(_goal, row, touches, from, to) {
      groups?.meet(row, touches.person)
      stamp++
      let left = touches.different
      for (let i = to - 1; i >= from && left > 0; i--) {
        const value = touches.values[i]
        if (stamped[value] === stamp) continue
        stamped[value] = stamp
        values.count(value)
        left--
      }
    },
    // What nobody was brought by is told apart as well, where the ways of those who were not are asked about.
    other(_goal, touches, from, to) {
      for (let i = from; i < to; i++) if (stamped[touches.values[i]] === undefined) values.less(touches.values[i])
    },
  })
  return { pass: 'rank', groups: groups?.found() ?? null, values: values.found() }
}

const NOTHING_READ: ValueReader = { length: 0, found: [] }
const NO_VALUES: ReadValues = () => NOTHING_READ

/** Of a value that comes before no conversion: all of them together rank after one that does. */
const LESS = 2 ** -40

/** Finds which values touches have, and in how many conversions. */
function valueFinder(log: EventLog, plan: AttributionPlan) {
  if (plan.values) {
    const { read, count, found } = rankFinder(log, { ...plan, split: plan.values })
    return {
      read: read as ReadValues,
      count: (value: number) => count(value, 1),
      less: (value: number) => count(value, LESS),
      found,
    }
  }
  const ids = [...new Set(plan.names)]
  const placeOf = new Map(ids.map((id, place) => [id, place]))
  const places = Uint32Array.from(plan.names, (name) => placeOf.get(name)!)
  const counts = new Float64Array(ids.length)
  return {
    read: typeReader(log, places),
    count: (value: number) => void counts[value]++,
    less: (value: number) => void (counts[value] += LESS),
    found: (): FoundGroups => ({ pass: 'rank', ids, counts }),
  }
}

function typeReader({ type }: EventLog, places: ArrayLike<number>): ReadValues {
  const reader = { length: 1, found: new Int32Array(1) }
  return (row) => {
    reader.found[0] = places[type[row]] ?? -1
    reader.length = reader.found[0] < 0 ? 0 : 1
    return reader
  }
}

/** Reads the kept values. */
export function valueReader(log: EventLog, plan: AttributionPlan): ReadValues {
  return plan.valueOfType ? typeReader(log, plan.valueOfType) : (bindGrouped(log, plan.values) as ReadValues)
}

/** What each conversion is worth: 1, or the number that it carries. */
export function worthReader(log: EventLog, { worth }: AttributionPlan): (row: number, person: number) => number {
  if (!worth) return () => 1
  const byPerson = isOfPerson(worth)
  const columns: (Float64Array | null | undefined)[] = []
  return (row, person) => {
    const type = log.type[row]
    const numbers = (columns[type] ??= columnOf(worth, log, type)?.numbers ?? null)
    const number = numbers ? numbers[byPerson ? person : log.slot[row]] : NaN
    return number === number ? number : 0
  }
}

function count(log: EventLog, people: PersonRange, plan: AttributionPlan): AttributionPart {
  const read = valueReader(log, plan)
  const goals = plan.goals.map(() => new GoalCounter(log, plan))
  const example = new ExampleFinder()
  let missed = 0
  eachTouched(log, people, plan, read, {
    conversion(goal, row, touches, from, to) {
      goals[goal].converted(row, touches, from, to)
      example.look(goal, log.time[row], touches, from, to)
    },
    other: (goal, touches, from, to) => goals[goal].other(touches, from, to),
    done(_person, touches) {
      for (const goal of goals) goal.personDone()
      missed = touches.missed
    },
  })
  return { pass: 'count', goals: goals.map((goal) => goal.done()), example: example.found, missed }
}

const WIDTH = FIGURES.length
const AT = Object.fromEntries(FIGURES.map((name, at) => [name, at])) as Record<Figure, number>
const OF_WORTH = FIGURES.length - COUNTED
const SIDE_WIDTH = SIDE.length
const ON = Object.fromEntries(SIDE.map((name, at) => [name, at])) as Record<(typeof SIDE)[number], number>

/** Counts the conversions of one goal. */
class GoalCounter {
  private readonly values: number
  private readonly states: number
  private readonly all: number
  private readonly credit: Float64Array
  private readonly sides: Float64Array
  private readonly touches = new Float64Array(MOST_TOLD + 1)
  private readonly firstAges = new Growing()
  /** by step: how often it was taken, by group of people */
  private readonly draws: (Float64Array | undefined)[] = []
  private readonly sets = new Map<number, [number, number]>()
  private readonly ways = new Map<string, [number, number, number, number]>()
  private readonly wayOf = new Map<string, number>()
  private readonly groupsOf
  private readonly worthOf
  /** by side × values + value, and by side: the person counted last */
  private readonly seen: Uint32Array
  private readonly seenSide: Uint32Array
  private readonly seenNone: Uint32Array
  /** of the conversion at hand: by value × figure, in parts of it or in touches; and which values it has */
  private readonly one: Float64Array
  private readonly met: Int32Array
  private readonly many: Float64Array
  private readonly heavy: Float64Array
  private readonly hasDirect: boolean
  private metCount = 0
  /** by value: how much more often the person at hand begins a way with it than closes one; and which values have any */
  private readonly lead: Int32Array
  private readonly leading: number[] = []
  private readonly leaning: Float64Array
  /** by touch of the person: what it weighs, of what the next one does */
  private decay = new Float64Array(64)
  private self = 0
  private last = 0
  /** of the person at hand: whose steps are gathered, in which group, and the values they touched */
  private stepper = -1
  private group = 0
  private readonly touched: Uint8Array
  private set = 0
  private hasConverted = false

  constructor(
    private readonly log: EventLog,
    private readonly plan: AttributionPlan,
  ) {
    this.values = plan.keyed.length
    this.states = statesOf(plan)
    this.all = plan.keys.length
    const sides = this.all + 1 + plan.buckets.length
    this.credit = new Float64Array(sides * this.values * WIDTH)
    this.sides = new Float64Array(sides * SIDE_WIDTH)
    this.seen = new Uint32Array(sides * this.values)
    this.seenSide = new Uint32Array(sides)
    this.seenNone = new Uint32Array(sides)
    this.one = new Float64Array(this.values * WIDTH)
    this.met = new Int32Array(this.values)
    this.many = new Float64Array(this.values)
    this.heavy = new Float64Array(this.values)
    this.hasDirect = plan.direct.includes(1)
    this.lead = new Int32Array(this.values)
    this.leaning = new Float64Array(this.values * 2)
    this.touched = new Uint8Array(this.values)
    this.groupsOf = bindGrouped(log, plan.split)
    this.worthOf = worthReader(log, plan)
  }

  converted(row: number, touches: Touches, from: number, to: number): void {
    const { plan, log, all } = this
    const { person } = touches
    const worth = plan.people ? (this.last === person ? 0 : 1) : this.worthOf(row, person)
    if (this.last !== person) this.decays(touches)
    this.last = person
    this.hasConverted = true
    this.touches[Math.min(to - from, MOST_TOLD)]++
    if (to > from) {
      this.firstAges.push(log.time[row] - touches.times[from])
      if (touches.rows[to - 1] === row) this.self++
      this.share(touches, from, to)
      if (to - from > 1) {
        this.lean(touches.values[from], 1)
        this.lean(touches.values[to - 1], -1)
      }
    }
    this.add(all, worth, person, to > from)
    const groups = this.groupsOf?.(row, person)
    if (groups) for (let g = 0; g < groups.length; g++) this.add(groups.found[g], worth, person, to > from)
    if (plan.buckets.length > 0) this.add(all + 1 + bucketAt(plan.grid, log.time[row]), worth, person, to > from)
    if (plan.removal) this.path(touches, from, to, this.states - 2)
    if (plan.shapley) this.touch(touches, from, to)
    if (plan.ways && to > from) this.way(touches, from, to, worth)
  }

  /** Somebody who did not convert. */
  other(touches: Touches, from: number, to: number): void {
    const { plan } = this
    if (plan.removal) this.path(touches, from, to, this.states - 1)
    if (plan.shapley) this.touch(touches, from, to)
    if (plan.ways && to > from) this.wayAt(this.key(touches, from, to))[3]++
  }

  private lean(value: number, by: number): void {
    if (this.lead[value] === 0 && !this.leading.includes(value)) this.leading.push(value)
    this.lead[value] += by
  }

  /** How much less a touch weighs than the next one, for all conversions of a person. */
  private decays({ times, length }: Touches): void {
    const { plan } = this
    if (this.decay.length < length) this.decay = new Float64Array(length * 2)
    for (let i = 1; i < length; i++) {
      const apart = times[i - 1] - times[i]
      this.decay[i - 1] = apart === 0 ? 1 : 2 ** (apart / plan.halfLifeMs)
    }
  }

  /**
   * Shares a conversion among its touches, in whole parts of which the last touch takes what is left: all of them together
   * are the conversion, to the last part.
   */
  private share({ values }: Touches, from: number, to: number): void {
    const { one, met, many, heavy, decay } = this
    for (let i = 0; i < this.metCount; i++) many[met[i]] = heavy[met[i]] = 0
    let metCount = 0
    let whole = 0
    let weight = 1
    for (let i = to - 1; i >= from; i--) {
      const value = values[i]
      if (i < to - 1) weight *= decay[i]
      whole += weight
      if (many[value]++ === 0) met[metCount++] = value
      heavy[value] += weight
    }
    this.metCount = metCount
    const n = to - from
    const even = Math.floor(PARTS / n)
    const inner = n > 2 ? Math.floor(PARTS / (n - 2)) : 0
    const [first, last] = [values[from], values[to - 1]]
    let decayed = 0
    for (let i = 0; i < metCount; i++) {
      const value = met[i]
      const at = value * WIDTH
      for (let figure = 0; figure < WIDTH; figure++) one[at + figure] = 0
      one[at + AT.any] = PARTS
      one[at + AT.conversions] = 1
      one[at + AT.linear] = even * many[value]
      const own = Math.floor((PARTS * heavy[value]) / whole)
      one[at + AT.decay] = own
      decayed += own
      if (n === 1) continue
      const between = many[value] - (value === first ? 1 : 0) - (value === last ? 1 : 0)
      one[at + AT.middle3] = inner * between
      one[at + AT.middleTouches] = between
    }
    const [start, end] = [first * WIDTH, last * WIDTH]
    one[end + AT.linear] += PARTS - even * n
    one[end + AT.decay] += PARTS - decayed
    one[this.lastOther(values, from, to) * WIDTH + AT.other] = PARTS
    if (n === 1) {
      one[start + AT.alone] = PARTS
      one[start + AT.onlyTouches] = 1
      return
    }
    if (n > 2) one[values[to - 2] * WIDTH + AT.middle3] += PARTS - inner * (n - 2)
    one[start + (n === 2 ? AT.first2 : AT.first3)] = PARTS
    one[end + (n === 2 ? AT.last2 : AT.last3)] = PARTS
    one[start + AT.firstTouches] = 1
    one[end + AT.lastTouches] = 1
  }

  /** The value of the last touch that is not direct; where all are, of the last. */
  private lastOther(values: readonly number[], from: number, to: number): number {
    if (this.hasDirect) for (let i = to - 1; i >= from; i--) if (this.plan.direct[values[i]] === 0) return values[i]
    return values[to - 1]
  }

  /** Adds the conversion that was shared to a side. */
  private add(side: number, worth: number, person: number, isTouched: boolean): void {
    const { credit, sides, values, seen, one, met, metCount } = this
    const line = side * SIDE_WIDTH
    sides[line + ON.conversions]++
    sides[line + ON.worth] += worth
    if (this.seenSide[side] !== person) {
      this.seenSide[side] = person
      sides[line + ON.people]++
    }
    if (!isTouched) {
      sides[line + ON.noneConversions]++
      sides[line + ON.none] += worth
      if (this.seenNone[side] !== person) {
        this.seenNone[side] = person
        sides[line + ON.nonePeople]++
      }
      return
    }
    for (let i = 0; i < metCount; i++) {
      const from = met[i] * WIDTH
      const at = (side * values + met[i]) * WIDTH
      for (let figure = 0; figure < OF_WORTH; figure++) credit[at + figure] += one[from + figure] * worth
      for (let figure = OF_WORTH; figure < AT.people; figure++) credit[at + figure] += one[from + figure]
      if (seen[side * values + met[i]] === person) continue
      seen[side * values + met[i]] = person
      credit[at + AT.people]++
    }
  }

  /** The steps of a path, runs of one value being one. */
  private path({ values, person }: Touches, from: number, to: number, end: number): void {
    const { draws, states } = this
    if (this.stepper !== person) {
      this.stepper = person
      this.group = groupOfPerson(person)
    }
    const { group } = this
    let before = 0
    for (let i = from; i <= to; i++) {
      const state = i === to ? end : values[i] + 1
      if (state === before) continue
      const step = before * states + state
      let taken = draws[step]
      if (taken === undefined) draws[step] = taken = new Float64Array(GROUPS)
      taken[group]++
      before = state
    }
  }

  private touch(touches: Touches, from: number, to: number): void {
    for (let i = from; i < to; i++) {
      const value = touches.values[i]
      if (this.touched[value] === 1) continue
      this.touched[value] = 1
      this.set += 2 ** value
    }
  }

  private key(touches: Touches, from: number, to: number): string {
    let text = ''
    let before = -1
    for (let i = from; i < to; i++) {
      const value = touches.values[i]
      if (value !== before) text += text === '' ? value : `,${value}`
      before = value
    }
    return text
  }

  private way(touches: Touches, from: number, to: number, worth: number): void {
    const key = this.key(touches, from, to)
    const way = this.wayAt(key)
    way[0]++
    way[1] += worth
    if (this.wayOf.get(key) === touches.person) return
    this.wayOf.set(key, touches.person)
    way[2]++
  }

  private wayAt(key: string): [number, number, number, number] {
    let way = this.ways.get(key)
    if (!way) this.ways.set(key, (way = [0, 0, 0, 0]))
    return way
  }

  personDone(): void {
    if (this.set > 0) {
      const found = this.sets.get(this.set)
      if (found) {
        found[0]++
        if (this.hasConverted) found[1]++
      } else this.sets.set(this.set, [1, this.hasConverted ? 1 : 0])
      this.set = 0
      this.touched.fill(0)
    }
    for (const value of this.leading) {
      const own = this.lead[value]
      if (own !== 0) this.leaning[value * 2]++
      this.leaning[value * 2 + 1] += own ** 2
      this.lead[value] = 0
    }
    this.leading.length = 0
    this.hasConverted = false
  }

  done(): GoalTally {
    const { credit, sides, touches, firstAges, self, leaning, sets, ways } = this
    const chain = new Float64Array(this.plan.removal ? this.states ** 2 : 0)
    this.draws.forEach((taken, step) => (chain[step] = taken?.reduce((sum, own) => sum + own) ?? 0))
    const draws = new Map(this.draws.flatMap((taken, step): [number, Float64Array][] => (taken ? [[step, taken]] : [])))
    return { credit, sides, touches, firstAges: [firstAges.done()], self, leaning, chain, draws, sets, ways }
  }
}

/** Looks for a path that shows how models differ: of three touches and as many values, if there is one. */
class ExampleFinder {
  found: ExamplePath | null = null
  private best = 0

  look(goal: number, at: number, { values, times }: Touches, from: number, to: number): void {
    const n = to - from
    if (this.best === BEST || n < 2 || n > 5) return
    const own = values.slice(from, to)
    const score = scoreOf(own)
    if (score <= this.best) return
    this.best = score
    this.found = { goal, values: own, ages: times.slice(from, to).map((time) => at - time) }
  }
}

const BEST = 31
/** More values are better, and then three touches. */
function scoreOf(values: readonly number[]): number {
  return Math.min(3, new Set(values).size) * 10 + (values.length === 3 ? 1 : 0)
}

export function mergeAttribution(a: AttributionPart, b: AttributionPart): AttributionPart {
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      goals: a.goals.map((own, goal) => mergeGoals(own, b.goals[goal])),
      missed: a.missed + b.missed,
      example:
        a.example && b.example
          ? scoreOf(b.example.values) > scoreOf(a.example.values)
            ? b.example
            : a.example
          : (a.example ?? b.example),
    }
  if (a.pass === 'cuts' && b.pass === 'cuts') return { pass: 'cuts', groups: mergeFound(a.groups, b.groups) }
  if (a.pass === 'rank' && b.pass === 'rank')
    return {
      pass: 'rank',
      groups: a.groups && b.groups ? mergeFound(a.groups, b.groups) : null,
      values: mergeFound(a.values, b.values),
    }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
}

/** Into the first, which is taken over. */
function mergeGoals(a: GoalTally, b: GoalTally): GoalTally {
  a.firstAges.push(...b.firstAges)
  for (const [step, drawn] of b.draws)
    a.draws.set(step, a.draws.has(step) ? addArrays(a.draws.get(step)!, drawn) : drawn)
  for (const [set, [people, converted]] of b.sets) {
    const own = a.sets.get(set)
    a.sets.set(set, own ? [own[0] + people, own[1] + converted] : [people, converted])
  }
  for (const [way, counts] of b.ways) {
    const own = a.ways.get(way)
    if (own) counts.forEach((n, i) => (own[i] += n))
    else a.ways.set(way, counts)
  }
  return {
    ...a,
    credit: addArrays(a.credit, b.credit),
    sides: addArrays(a.sides, b.sides),
    touches: addArrays(a.touches, b.touches),
    leaning: addArrays(a.leaning, b.leaning),
    chain: addArrays(a.chain, b.chain),
    self: a.self + b.self,
  }
}

type TestOf = (row: number, touches: Touches, from: number, to: number) => boolean

/** Whether a conversion is counted in a mark. */
function testOf(log: EventLog, plan: AttributionPlan, mark: AttributionMark): TestOf | null {
  const placeOf = (key: object) => plan.keyed.findIndex((own) => groupId(own) === groupId(key as never))
  if (mark.kind === 'touches') {
    const asked = mark.values.map(placeOf)
    return (_row, { values }, from, to) => {
      let at = -1
      for (let i = from; i < to; i++) {
        if (i > from && values[i] === values[i - 1]) continue
        if (values[i] !== asked[++at]) return false
      }
      return at === asked.length - 1
    }
  }
  const { value, model, none, many, age } = mark
  const place = value === undefined ? null : placeOf(value)
  const bucket = mark.bucket === undefined ? null : plan.buckets.findIndex(({ key }) => key === mark.bucket)
  const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
  if (place === -1 || bucket === -1 || group === -1) return null
  const groupsOf = bindGrouped(log, plan.split)
  return (row, touches, from, to) => {
    if (none && to > from) return false
    const at = log.time[row]
    if (many !== undefined && Math.min(to - from, MOST_TOLD) !== many) return false
    if (age !== undefined && (to === from || ageAt(at - touches.times[from]) !== age)) return false
    if (bucket !== null && bucketAt(plan.grid, at) !== bucket) return false
    if (group !== null && !isIn(groupsOf?.(row, touches.person) ?? null, group)) return false
    if (place === null) return true
    if (model === undefined) return isWithin(touches, place, from, to)
    return isCredited(plan, model, place, at, touches, from, to)
  }
}

function isWithin({ values }: Touches, place: number, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (values[i] === place) return true
  return false
}

/**
 * How a model shares one conversion among its touches, as parts of 1. By participation each value has it whole, in equal
 * parts of its touches.
 */
export function creditedTouches(
  plan: AttributionPlan,
  model: Model,
  at: number,
  { values, times }: Touches,
  from: number,
  to: number,
): number[] {
  if (to === from) return []
  const own = values.slice(from, to)
  if (model === 'participation') {
    const many = new Map<number, number>()
    for (const value of own) many.set(value, (many.get(value) ?? 0) + 1)
    return own.map((value) => 1 / many.get(value)!)
  }
  return sharesOf(
    model,
    times.slice(from, to).map((time) => at - time),
    own.map((value) => plan.direct[value] === 1),
    plan.halfLifeMs,
  )
}

/** Whether a model credits a value with any of a conversion. */
function isCredited(
  plan: AttributionPlan,
  model: Model,
  place: number,
  at: number,
  touches: Touches,
  from: number,
  to: number,
): boolean {
  const shares = creditedTouches(plan, model, at, touches, from, to)
  return shares.some((share, i) => share > 0 && touches.values[from + i] === place)
}

interface AskedTest {
  goal: number
  test: TestOf
}

/** Which conversions are counted in each mark, and of which goal they are. */
export function testsOf(log: EventLog, plan: AttributionPlan, marks: readonly AttributionMark[]): AskedTest[] {
  return marks.flatMap((mark) => {
    const test = testOf(log, plan, mark)
    return test ? [{ goal: mark.goal ?? 0, test }] : []
  })
}

/** The people one of whose conversions is counted in any of the marks, ascending by the workspace's number. */
export function selectAttribution(
  log: EventLog,
  people: PersonRange,
  plan: AttributionPlan,
  marks: readonly AttributionMark[],
): Uint32Array {
  const tests = testsOf(log, plan, marks)
  const found = new Set<number>()
  eachTouched(log, people, plan, valueReader(log, plan), {
    conversion(goal, row, touches, from, to) {
      if (found.has(touches.person)) return
      if (tests.some((each) => each.goal === goal && each.test(row, touches, from, to))) found.add(touches.person)
    },
  })
  return Uint32Array.from(found).sort()
}

/** The first conversion that a person is counted for. */
export function momentOfAttribution(
  log: EventLog,
  index: number,
  plan: AttributionPlan,
  marks: readonly AttributionMark[],
): number | null {
  let moment: number | null = null
  const tests = testsOf(log, plan, marks)
  touchWalk(
    log,
    { ...plan, among: null },
    valueReader(log, plan),
  )(index, {
    conversion(goal, row, touches, from, to) {
      if (moment !== null && moment <= row) return
      if (tests.some((each) => each.goal === goal && each.test(row, touches, from, to))) moment = row
    },
  })
  return moment
}
