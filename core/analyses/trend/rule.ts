import { sideRule } from '../../segments/side.js'
import { isClock } from '../../questions/groupedBy.js'
import { Temporal } from 'temporal-polyfill'
import type { Condition, Filter, GroupKey, ValueKey } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { DidCondition, Rule, SegmentCondition, Window } from '../../segments/rule.js'
import { wholeWindow } from '../../segments/window.js'
import { addUnits, type Unit } from '../../time/range.js'
import { ruleOfPeople } from '../peopleRule.js'
import type { TrendMark } from './marks.js'
import { reachOf } from './measures.js'
import type { TrendQuestion } from './question.js'

/** "did X from 14 Sep to 20 Sep and is of Plan Annual"; null where the mark counts otherwise. */
export function ruleOfPoint(study: TrendQuestion, mark: TrendMark): Rule | null {
  if (mark.formula !== undefined || mark.before) return null
  const series = study.series[mark.series ?? 0]
  if (!series || reachOf(series.measure) !== 'range') return null
  const window = mark.bucket === undefined ? wholeWindow(study.range) : bucketWindow(study, mark.bucket)
  if (!window) return null
  const group = mark.group ? conditionsOf(study.breakdowns ?? [], mark.group) : { where: [], who: [] }
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

/** The days of a bucket, as far as they are in the range. */
function bucketWindow({ every, range }: Pick<TrendQuestion, 'every' | 'range'>, key: string): Window | null {
  if (every === 'hour') return null
  const first = Temporal.PlainDate.from(key)
  const last = addUnits(first, 1, every).subtract({ days: 1 })
  const [from, to] = [first.toString(), last.toString()]
  if ('last' in range) {
    // The range begins with one of its own units: a bucket of another kind may begin before it, and when is not known here.
    const within: Partial<Record<Unit, readonly Unit[]>> = { quarter: ['month'], year: ['month', 'quarter'] }
    const whole = every === 'day' || every === range.unit || within[range.unit]?.includes(every)
    return whole ? { from, to } : null
  }
  return { from: from < range.from ? range.from : from, to: range.to !== undefined && to > range.to ? range.to : to }
}

/** What makes an event, or its person, belong to a group; null where that cannot be said by conditions. */
function conditionsOf(splits: readonly Split[], group: GroupKey): { where: Filter[]; who: SegmentCondition[] } | null {
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
    const condition = oneCondition(by, key)
    if (!condition) return null
    if (by.of === 'person') who.push({ kind: 'profile', where: condition })
    else where.push(condition)
  }
  return { where, who }
}

function oneCondition(property: Condition['property'], key: ValueKey): Condition | null {
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
