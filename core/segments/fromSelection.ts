import { Temporal } from 'temporal-polyfill'
import type { PeopleRef, StudyPeople } from '../analyses/people.js'
import type { OverlapQuestion } from '../analyses/overlap/question.js'
import type { Question } from '../analyses/registry.js'
import { reachOf } from '../analyses/trend/measures.js'
import type { TrendQuestion } from '../analyses/trend/question.js'
import type { Condition, Filter, GroupKey, Mark, ValueKey } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import { isClock } from '../groups/split.js'
import { addUnits, type Range } from '../time/range.js'
import { asGroup, type DidCondition, type Rule, type RuleGroup, type SegmentCondition, type Window } from './rule.js'
import { sideRule } from './sides.js'

/**
 * A rule that says who was selected, and goes on saying it as time goes on; null where only a list can keep them: who
 * came in or went out, who was in as of an earlier moment, and points of a time that moves on.
 */
export function ruleOfPeople(ref: PeopleRef): RuleGroup | null {
  if ('rule' in ref) return ref.at === undefined && !ref.came ? asGroup(ref.rule) : null
  const { study, marks } = lostForGood(ref)
  const each = marks.map((mark) => ruleOfMark(study, mark))
  const plain = each.flatMap((rule) => rule ?? [])
  // Parts that can be said plainly are; the others refer to the study.
  const rule: Rule | null =
    plain.length === marks.length
      ? plain.length === 1
        ? plain[0]
        : { hold: 'any', of: plain }
      : staysPut(ref)
        ? { kind: 'study', study: withoutLook(study, marks), marks }
        : null
  return rule && asGroup(rule)
}

/** Whether the marks mean the same people whenever they are asked: their time is fixed, or is the study's whole time. */
function staysPut({ study, marks }: StudyPeople): boolean {
  if ('from' in study.range && study.range.to !== undefined) return true
  const isTimed = (mark: Mark) =>
    ('bucket' in mark && mark.bucket !== undefined) ||
    ('cohort' in mark && mark.cohort !== undefined) ||
    (mark.kind === 'state' && mark.interval !== undefined)
  return marks.every((mark) => !isTimed(mark) && !('before' in mark && mark.before))
}

/** In a segment, being lost is for good: those who may still go on come in when their time is up. */
export function lostForGood<Ref extends PeopleRef>(ref: Ref): Ref {
  if (!('study' in ref)) return ref
  const marks = ref.marks.map((mark) =>
    (mark.kind === 'step' && mark.what === 'lost') || (mark.kind === 'cohort' && mark.what === 'not')
      ? { ...mark, what: 'gone' as const }
      : mark,
  )
  return { ...ref, marks }
}

/** How the study is drawn is no part of who is meant, unless a mark is of what only that drawing shows. */
function withoutLook(study: Question, marks: readonly Mark[]): Question {
  if (study.kind === 'trend') return { ...study, show: { form: 'lines', as: 'number' } }
  if (study.kind === 'retention') return { ...study, show: { form: 'curve' } }
  if (study.kind === 'habit') return { ...study, show: { form: 'at least' } }
  if (study.kind === 'growth') return { ...study, show: { form: 'states' } }
  if (study.kind === 'gaps') return { ...study, show: { form: 'gaps' } }
  if (study.kind !== 'funnel' || marks.some((mark) => LOOKED_AT.has(mark.kind) || 'bucket' in mark)) return study
  const { show: _show, ...steps } = study
  return steps
}

const LOOKED_AT: ReadonlySet<Mark['kind']> = new Set(['after', 'with', 'way'])

/** "did X from 14 Sep to 20 Sep and is of Plan Annual"; null where the mark counts otherwise. */
function ruleOfMark(study: Question, mark: Mark): Rule | null {
  if (study.kind === 'overlap' && mark.kind === 'part') return ruleOfPart(study, mark)
  if (study.kind !== 'trend' || mark.kind !== 'point' || mark.formula !== undefined || mark.before) return null
  const series = study.series[mark.series ?? 0]
  if (!series || reachOf(series.measure) !== 'range') return null
  const window = mark.bucket === undefined ? wholeWindow(study.range) : bucketWindow(study, mark.bucket)
  if (!window) return null
  const group = mark.group ? ofGroup(study.breakdowns ?? [], mark.group) : { where: [], who: [] }
  if (!group) return null
  const where: Filter[] = [...(series.where ? [series.where] : []), ...group.where]
  const did = (when: Window): DidCondition => ({
    ...{ kind: 'did', event: series.event, window: when },
    ...(where.length === 1 ? { where: where[0] } : where.length > 1 ? { where: { all: where } } : {}),
  })
  const of: Rule[] = [did(window), ...group.who]
  if (mark.not !== undefined) {
    const other = bucketWindow(study, mark.not)
    if (!other) return null
    of.push({ ...did(other), not: true })
  }
  const { among } = study
  if (among) {
    const inner = ruleOfPeople(among)
    if (!inner) return null
    of.push(inner.of.length === 1 && inner.hold !== 'none' ? inner.of[0] : inner)
  }
  return of.length === 1 ? of[0] : { hold: 'all', of }
}

/** In these segments, and in none of the others. */
function ruleOfPart({ sides, among }: OverlapQuestion, mark: Mark & { kind: 'part' }): Rule | null {
  const of: Rule[] = mark.in.flatMap((side) => (sides[side] ? [sideRule(sides[side])] : []))
  const others = mark.more ? [] : sides.filter((_side, place) => !mark.in.includes(place)).map(sideRule)
  if (others.length > 0) of.push({ hold: 'none', of: others })
  if (among) {
    const inner = ruleOfPeople(among)
    if (!inner) return null
    of.push(inner)
  }
  return { hold: 'all', of }
}

/** A range as a condition's window; null where no window says the same. */
export function wholeWindow(range: Range): Window | null {
  if ('last' in range) return range.unit === 'day' ? { last: range.last } : null
  return range.to === undefined ? null : { from: range.from, to: range.to }
}

/** The days of a bucket, as far as they are in the range. */
function bucketWindow({ every, range }: Pick<TrendQuestion, 'every' | 'range'>, key: string): Window | null {
  if (every === 'hour') return null
  const first = Temporal.PlainDate.from(key)
  const last = addUnits(first, 1, every).subtract({ days: 1 })
  const [from, to] = [first.toString(), last.toString()]
  if ('last' in range) {
    // The range begins with one of its own units: a bucket of another kind may begin before it, and when is not known here.
    const whole = every === 'day' || every === range.unit || (every === 'month' && range.unit === 'quarter')
    return whole ? { from, to } : null
  }
  return { from: from < range.from ? range.from : from, to: range.to !== undefined && to > range.to ? range.to : to }
}

/** What makes an event, or its person, belong to a group; null where that cannot be said by conditions. */
function ofGroup(splits: readonly Split[], group: GroupKey): { where: Filter[]; who: SegmentCondition[] } | null {
  if ('rest' in group || 'unreached' in group) return null
  const keys: readonly ValueKey[] = 'each' in group ? group.each : [group]
  if (keys.length !== splits.length) return null
  const where: Filter[] = []
  const who: SegmentCondition[] = []
  for (const [index, { by }] of splits.entries()) {
    const key = keys[index]
    if (by.of === 'segments') {
      const side = 'side' in key ? by.sides[key.side] : undefined
      const rule = side && sideRule(side)
      if (!rule || 'hold' in rule) return null
      who.push(rule)
      continue
    }
    if (isClock(by)) return null
    const condition = conditionOf(by, key)
    if (!condition) return null
    if (by.of === 'person') who.push({ kind: 'profile', where: condition })
    else where.push(condition)
  }
  return { where, who }
}

function conditionOf(property: Condition['property'], key: ValueKey): Condition | null {
  if ('range' in key) {
    const [low, high] = key.range
    // A range holds its lower end and not its upper one: that is one comparison only where one end is open or both are in.
    if (low !== null && high === null) return { property, op: '≥', number: low }
    if (low === null && high !== null) return { property, op: '<', number: high }
    return low !== null && high !== null && key.closed ? { property, op: 'between', numbers: [low, high] } : null
  }
  if (!('value' in key)) return null
  const { value } = key
  if (value === null) return { property, op: 'has no value' }
  if (typeof value === 'number') return { property, op: '=', number: value }
  if (typeof value === 'boolean') return { property, op: value ? 'is true' : 'is false' }
  // A group of dates is a local day and looks like any other text: only the data tells which it is.
  return /^\d{4}-\d{2}-\d{2}$/.test(value) ? null : { property, op: 'is', values: [value] }
}
