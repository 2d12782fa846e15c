import { bindPick, rowMatcher } from '../../filters/picks.js'
import {
  bindPeopleGroups,
  groupFinder,
  isIn,
  mergeFound,
  nextGrouped,
  rankFinder,
  type FoundGroups,
} from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId } from '../../questions/groupId.js'
import { bucketAt } from '../../time/buckets.js'
import type { EffectMark, EffectStep } from './marks.js'
import type { QueryContext } from '../analysis.js'
import type { EffectPlan } from './plan.js'
import type { EffectQuestion } from './question.js'

export type EffectPart = FoundGroups | ({ pass: 'count' } & EffectCounts)

/** What is counted of each group and variant, people but for the last. */
export const FIGURES = [
  ...(['entered', 'counted', 'goal', 'sent', 'delivered', 'opened', 'pressed', 'optedOut'] as const),
  /** entries after a person's first */
  'later',
] as const
export type Figure = (typeof FIGURES)[number]
const PLACE = Object.fromEntries(FIGURES.map((name, place) => [name, place])) as Record<Figure, number>

/** Joins by adding. Groups: the kept ones, then everybody; variants: in order, then those left alone. */
export interface EffectCounts {
  /** by group × variant × figure */
  figures: Float64Array
  /** by variant × day somebody came in: people whose time is over, and of them those who did it */
  counted: Float64Array
  goals: Float64Array
  /** people whose first entry is of no variant that was named */
  unknown: number
}

/** What became of a person's first entry. */
interface Came {
  /** place of the variant; −1 = none that was named */
  variant: number
  atMs: number
  counted: boolean
  goal: boolean
  sent: boolean
  delivered: boolean
  opened: boolean
  pressed: boolean
  optedOut: boolean
  later: number
}

export const figuresOf = (counts: EffectCounts, plan: EffectPlan, group: number, variant: number): Float64Array => {
  const from = (group * plan.variants.length + variant) * FIGURES.length
  return counts.figures.subarray(from, from + FIGURES.length)
}
export const figureIn = (figures: Float64Array, name: Figure): number => figures[PLACE[name]]

export function nextEffect(
  part: EffectPart,
  plan: EffectPlan,
  question: EffectQuestion,
  context: QueryContext,
): EffectPlan | null {
  if (part.pass === 'count' || !plan.split) return null
  return { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
}

export function scanEffect(log: EventLog, people: PersonRange, plan: EffectPlan): EffectPart {
  if (plan.pass === 'cuts') {
    const finder = groupFinder(log, plan)
    eachPerson(log, people, plan, (person, _came, row) => finder.meet(row, person))
    return finder.found()
  }
  if (plan.pass === 'rank') {
    const { readPerson, count, found } = rankFinder(log, plan)
    eachPerson(log, people, plan, (person, { atMs }) => {
      const groups = readPerson(person, atMs)
      for (let g = 0; g < groups.length; g++) count(groups.found[g], 1)
    })
    return found()
  }
  const everybody = plan.keys.length
  const many = plan.variants.length
  const days = plan.days.length
  const counts: EffectCounts = {
    figures: new Float64Array((everybody + 1) * many * FIGURES.length),
    ...{ counted: new Float64Array(many * days), goals: new Float64Array(many * days), unknown: 0 },
  }
  const groupsOf = plan.split && bindPeopleGroups(log, plan.split)
  eachPerson(log, people, plan, (person, came) => {
    if (came.variant < 0) {
      counts.unknown++
      return
    }
    const groups = groupsOf && groupsOf(person, came.atMs)
    if (groups)
      for (let g = 0; g < groups.length; g++) add(figuresOf(counts, plan, groups.found[g], came.variant), came)
    add(figuresOf(counts, plan, everybody, came.variant), came)
    if (!came.counted) return
    const day = came.variant * days + bucketAt(plan.grid, came.atMs)
    counts.counted[day]++
    if (came.goal) counts.goals[day]++
  })
  return { pass: 'count', ...counts }
}

function add(figures: Float64Array, came: Came): void {
  const { counted, goal, sent, delivered, opened, pressed, optedOut, later } = came
  figures[PLACE.entered]++
  if (counted) figures[PLACE.counted]++
  if (counted && goal) figures[PLACE.goal]++
  if (sent) figures[PLACE.sent]++
  if (delivered) figures[PLACE.delivered]++
  if (opened) figures[PLACE.opened]++
  if (pressed) figures[PLACE.pressed]++
  if (optedOut) figures[PLACE.optedOut]++
  figures[PLACE.later] += later
}

export function mergeEffect(a: EffectPart, b: EffectPart): EffectPart {
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      figures: addArrays(a.figures, b.figures),
      counted: addArrays(a.counted, b.counted),
      goals: addArrays(a.goals, b.goals),
      unknown: a.unknown + b.unknown,
    }
  if (a.pass === 'count' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** Visits everybody whose first entry lies in the range, with what became of it; `row` is that of the entry. */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: EffectPlan,
  visit: (person: number, came: Came, row: number) => void,
): void {
  const { offsets, time, hidden, person: persons } = log
  const { among, grid, now, withinMs } = plan
  const entered = bindPick(plan.entered, log)
  const variants = plan.variants.map((pick) => rowMatcher(pick, log))
  const goal = bindPick(plan.goal, log)
  const { sent, delivered, opened, pressed, optedOut } = plan.steps
  const steps = [sent, delivered, opened, pressed, optedOut].map((pick) => bindPick(pick, log))
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const [from, end] = [offsets[index], offsets[index + 1]]
    const row = entered.next(from, end, person)
    if (row < 0) continue
    const atMs = time[row]
    if (atMs < grid.from || atMs >= grid.until || atMs > now) continue
    let later = 0
    for (let next = entered.next(row + 1, end, person); next >= 0 && time[next] <= now;) {
      later++
      next = entered.next(next + 1, end, person)
    }
    const did = goal.next(row + 1, end, person)
    // What is told of an entry may stand at its very moment, before it or after it.
    const happened = steps.map((step) => {
      let at = step.next(from, end, person)
      while (at >= 0 && time[at] < atMs) at = step.next(at + 1, end, person)
      return at >= 0 && time[at] <= now
    })
    visit(
      person,
      {
        variant: variants.findIndex((matcher) => matcher.holds(row, person)),
        ...{ atMs, later, counted: atMs + withinMs <= now },
        goal: did >= 0 && time[did] <= atMs + withinMs && time[did] <= now,
        ...{ sent: happened[0], delivered: happened[1], opened: happened[2] || happened[3], pressed: happened[3] },
        optedOut: happened[4],
      },
      row,
    )
  }
}

const HOLDS: Readonly<Record<EffectStep, (came: Came) => boolean>> = {
  entered: () => true,
  open: ({ counted }) => !counted,
  counted: ({ counted }) => counted,
  goal: ({ counted, goal }) => counted && goal,
  'no goal': ({ counted, goal }) => counted && !goal,
  sent: ({ sent }) => sent,
  delivered: ({ delivered }) => delivered,
  opened: ({ opened }) => opened,
  pressed: ({ pressed }) => pressed,
  'opted out': ({ optedOut }) => optedOut,
}

/** The people of any of the marks, ascending by the workspace's number. */
export function selectEffect(
  log: EventLog,
  people: PersonRange,
  plan: EffectPlan,
  marks: readonly EffectMark[],
): Uint32Array {
  const last = plan.variants.length - 1
  const tests = marks.flatMap((mark) => {
    const place = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
    const variant = mark.alone ? last : mark.variant === undefined ? null : plan.names.indexOf(mark.variant)
    return place === -1 || variant === -1 ? [] : [{ place, variant, holds: HOLDS[mark.step] }]
  })
  const found: number[] = []
  const groupsOf = plan.split && bindPeopleGroups(log, plan.split)
  eachPerson(log, people, plan, (person, came) => {
    if (came.variant < 0) return
    const groups = groupsOf && groupsOf(person, came.atMs)
    const isMeant = tests.some(
      ({ place, variant, holds }) =>
        (place === null || isIn(groups, place)) &&
        (variant === null ? came.variant < last : came.variant === variant) &&
        holds(came),
    )
    if (isMeant) found.push(person)
  })
  return Uint32Array.from(found)
}
