import { columnOf, isOfPerson } from '../../filters/bind.js'
import { bindGrouped, groupFinder, isIn, mergeFound, rankFinder, type FoundGroups } from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId } from '../../questions/groupId.js'
import { Growing } from '../../stats/pieces.js'
import { bucketAt } from '../../time/buckets.js'
import { ageAt, FIGURES, MOST_TOLD, sharesOf, type Figure } from './credit.js'
import { DRAWS, weightsOf } from './draws.js'
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
      for (let i = from; i < to; i++) {
        const value = touches.values[i]
        if (stamped[value] === stamp) continue
        stamped[value] = stamp
        values.count(value)
      }
    },
  })
  return { pass: 'rank', groups: groups?.found() ?? null, values: values.found() }
}

const NOTHING_READ: ValueReader = { length: 0, found: [] }
const NO_VALUES: ReadValues = () => NOTHING_READ

/** Finds which values touches have, and in how many conversions. */
function valueFinder(log: EventLog, plan: AttributionPlan) {
  if (plan.values) {
    const { read, count, found } = rankFinder(log, { ...plan, split: plan.values })
    return { read: read as ReadValues, count: (value: number) => count(value, 1), found }
  }
  const ids = [...new Set(plan.names)]
  const placeOf = new Map(ids.map((id, place) => [id, place]))
  const places = Uint32Array.from(plan.names, (name) => placeOf.get(name)!)
  const counts = new Float64Array(ids.length)
  return {
    read: typeReader(log, places),
    count: (value: number) => void counts[value]++,
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
function valueReader(log: EventLog, plan: AttributionPlan): ReadValues {
  return plan.valueOfType ? typeReader(log, plan.valueOfType) : (bindGrouped(log, plan.values) as ReadValues)
}

/** What each conversion is worth: 1, or the number that it carries. */
function worthReader(log: EventLog, { worth }: AttributionPlan): (row: number, person: number) => number {
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
  eachTouched(log, people, plan, read, {
    conversion(goal, row, touches, from, to) {
      goals[goal].converted(row, touches, from, to)
      example.look(goal, log.time[row], touches, from, to)
    },
    other: (goal, touches, from, to) => goals[goal].other(touches, from, to),
    done: (person) => {
      for (const goal of goals) goal.personDone(person)
    },
  })
  return { pass: 'count', goals: goals.map((goal) => goal.done()), example: example.found }
}

const WIDTH = FIGURES.length
const AT = Object.fromEntries(FIGURES.map((name, at) => [name, at])) as Record<Figure, number>
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
  private readonly chain: Float64Array
  private readonly draws = new Map<number, Float64Array>()
  private readonly sets = new Map<number, [number, number]>()
  private readonly ways = new Map<string, [number, number, number, number]>()
  private readonly wayOf = new Map<string, number>()
  private readonly groupsOf
  private readonly worthOf
  /** by side × values + value, and by side: the person counted last */
  private readonly seen: Uint32Array
  private readonly seenSide: Uint32Array
  private readonly seenNone: Uint32Array
  /** by value: the conversion that it was met in last */
  private readonly stamped: Uint32Array
  private stamp = 0
  private self = 0
  private last = 0
  /** of the person at hand: the steps of their paths, and the values they touched */
  private readonly steps: number[] = []
  private readonly touched: Uint8Array
  private set = 0
  private hasConverted = false
  private readonly own = new Int32Array(64)
  private readonly weights = new Uint8Array(DRAWS)

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
    this.chain = new Float64Array(plan.removal ? this.states ** 2 : 0)
    this.seen = new Uint32Array(sides * this.values)
    this.seenSide = new Uint32Array(sides)
    this.seenNone = new Uint32Array(sides)
    this.stamped = new Uint32Array(this.values)
    this.touched = new Uint8Array(this.values)
    this.groupsOf = bindGrouped(log, plan.split)
    this.worthOf = worthReader(log, plan)
  }

  converted(row: number, touches: Touches, from: number, to: number): void {
    const { plan, log, all } = this
    const { person } = touches
    const worth = plan.people ? (this.last === person ? 0 : 1) : this.worthOf(row, person)
    this.last = person
    this.hasConverted = true
    this.touches[Math.min(to - from, MOST_TOLD)]++
    if (to > from) {
      this.firstAges.push(log.time[row] - touches.times[from])
      if (touches.rows[to - 1] === row) this.self++
    }
    this.stamp++
    this.share(all, worth, log.time[row], touches, from, to)
    const groups = this.groupsOf?.(row, person)
    if (groups)
      for (let g = 0; g < groups.length; g++) this.share(groups.found[g], worth, log.time[row], touches, from, to)
    if (plan.buckets.length > 0)
      this.share(all + 1 + bucketAt(plan.grid, log.time[row]), worth, log.time[row], touches, from, to)
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

  /** Shares what a conversion is worth among its touches, for one side. */
  private share(side: number, worth: number, at: number, touches: Touches, from: number, to: number): void {
    const { credit, sides, values, seen, stamped, plan } = this
    const { person, times } = touches
    const own = touches.values
    const line = side * SIDE_WIDTH
    sides[line + ON.conversions]++
    sides[line + ON.worth] += worth
    if (this.seenSide[side] !== person) {
      this.seenSide[side] = person
      sides[line + ON.people]++
    }
    const n = to - from
    if (n === 0) {
      sides[line + ON.noneConversions]++
      sides[line + ON.none] += worth
      if (this.seenNone[side] !== person) {
        this.seenNone[side] = person
        sides[line + ON.nonePeople]++
      }
      return
    }
    const whole = PARTS * worth
    const add = (value: number, figure: number, by: number) => {
      credit[(side * values + value) * WIDTH + figure] += by
    }
    const [first, last] = [own[from], own[to - 1]]
    if (n === 1) {
      add(first, AT.alone, whole)
      add(first, AT.onlyTouches, 1)
    } else {
      add(first, n === 2 ? AT.first2 : AT.first3, whole)
      add(last, n === 2 ? AT.last2 : AT.last3, whole)
      add(first, AT.firstTouches, 1)
      add(last, AT.lastTouches, 1)
    }
    // In whole parts, the last one taking what is left: all of them together are the conversion, to the last part.
    const even = Math.floor(PARTS / n)
    const inner = n > 2 ? Math.floor(PARTS / (n - 2)) : 0
    let weights = 0
    for (let i = from; i < to; i++) weights += 2 ** ((times[i] - times[to - 1]) / plan.halfLifeMs)
    let decayed = 0
    let other = to - 1
    while (other >= from && plan.direct[own[other]] === 1) other--
    for (let i = from; i < to; i++) {
      const value = own[i]
      const isLast = i === to - 1
      add(value, AT.linear, worth * (isLast ? PARTS - even * (n - 1) : even))
      const weight = Math.floor((PARTS * 2 ** ((times[i] - times[to - 1]) / plan.halfLifeMs)) / weights)
      add(value, AT.decay, worth * (isLast ? PARTS - decayed : weight))
      decayed += weight
      if (i > from && !isLast) {
        add(value, AT.middle3, worth * (i === to - 2 ? PARTS - inner * (n - 3) : inner))
        add(value, AT.middleTouches, 1)
      }
      const mark = this.stamp * 2 + (side === this.all ? 0 : 1)
      if (stamped[value] !== mark) {
        stamped[value] = mark
        add(value, AT.any, whole)
        add(value, AT.conversions, 1)
        if (seen[side * values + value] !== person) {
          seen[side * values + value] = person
          add(value, AT.people, 1)
        }
      }
    }
    add(own[other < from ? to - 1 : other], AT.other, whole)
  }

  /** The steps of a path, runs of one value being one. */
  private path(touches: Touches, from: number, to: number, end: number): void {
    let before = 0
    for (let i = from; i < to; i++) {
      const state = touches.values[i] + 1
      if (state === before) continue
      this.step(before * this.states + state)
      before = state
    }
    this.step(before * this.states + end)
  }

  private step(step: number): void {
    this.chain[step]++
    this.steps.push(step)
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

  personDone(person: number): void {
    const { steps, draws, weights } = this
    if (steps.length > 0) {
      weightsOf(person, weights)
      for (const step of steps) {
        let drawn = draws.get(step)
        if (!drawn) draws.set(step, (drawn = new Float64Array(DRAWS)))
        for (let draw = 0; draw < DRAWS; draw++) drawn[draw] += weights[draw]
      }
      steps.length = 0
    }
    if (this.set > 0) {
      const found = this.sets.get(this.set)
      if (found) {
        found[0]++
        if (this.hasConverted) found[1]++
      } else this.sets.set(this.set, [1, this.hasConverted ? 1 : 0])
      this.set = 0
      this.touched.fill(0)
    }
    this.hasConverted = false
  }

  done(): GoalTally {
    const { credit, sides, touches, firstAges, self, chain, draws, sets, ways } = this
    return { credit, sides, touches, firstAges: [firstAges.done()], self, chain, draws, sets, ways }
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
    if (model === undefined) return touches.values.indexOf(place, from) >= 0 && isWithin(touches, place, from, to)
    return creditedIn(plan, model, at, touches, from, to)[place] > 0
  }
}

function isWithin({ values }: Touches, place: number, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (values[i] === place) return true
  return false
}

/** How a model shares one conversion among values, as parts of 1. */
export function creditedIn(
  plan: AttributionPlan,
  model: Parameters<typeof sharesOf>[0],
  at: number,
  { values, times }: Touches,
  from: number,
  to: number,
): Float64Array {
  const shares = new Float64Array(plan.keyed.length)
  const ages = times.slice(from, to).map((time) => at - time)
  if (ages.length === 0) return shares
  const own = values.slice(from, to)
  const each = sharesOf(
    model,
    ages,
    own.map((value) => plan.direct[value] === 1),
    plan.halfLifeMs,
  )
  own.forEach((value, i) => (shares[value] = model === 'participation' ? 1 : shares[value] + each[i]))
  return shares
}

/** The people one of whose conversions is counted in any of the marks, ascending by the workspace's number. */
export function selectAttribution(
  log: EventLog,
  people: PersonRange,
  plan: AttributionPlan,
  marks: readonly AttributionMark[],
): Uint32Array {
  const tests = marks.flatMap((mark) => {
    const test = testOf(log, plan, mark)
    return test ? [{ goal: mark.goal ?? 0, test }] : []
  })
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
  const tests = marks.flatMap((mark) => {
    const test = testOf(log, plan, mark)
    return test ? [{ goal: mark.goal ?? 0, test }] : []
  })
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
