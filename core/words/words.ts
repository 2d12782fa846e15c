import type { Comparison } from '../time/comparison.js'
import type { Range } from '../time/range.js'
import { own } from '../names.js'
import { Temporal } from 'temporal-polyfill'
import type { Condition, EventChoice, Filter, GroupKey, PropertyRef } from '../questions/parts.js'
import { isClock } from '../questions/groupedBy.js'
import type { Side, SplitRef } from '../questions/split.js'
import type { StudyDefinition } from '../questions/study.js'
import type { Rule } from '../segments/rule.js'
import type { Unit } from '../time/range.js'
import { exactNumber, quoted, textWords } from './exact.js'
import { capital, formatDay, formatMonth, formatNumber, joinWords } from './format.js'

/** A piece of prose; figures are strong, gains and losses have a tone. */
export interface Piece {
  text: string
  strong?: true
  tone?: 'gain' | 'loss'
}
export type Finding = Piece[]

export const plain = (text: string): Piece => ({ text })
export const strong = (text: string, tone?: 'gain' | 'loss'): Piece =>
  tone ? { text, strong: true, tone } : { text, strong: true }

/** What words need to know beside the definition. */
export interface Words {
  /** the year that dates need not name */
  thisYear: number
  /** what events and properties are called in place of the names they arrive under */
  labels?: Labels
  /** IANA name, of moments that are said by their day; left out: UTC */
  zone?: string
  /** ISO 4217, of what is written as money */
  currency?: string
  /** what segments are called, by id; deleted ones too */
  segments?: Readonly<Record<string, string>>
  /** dated notes, by day */
  annotations?: readonly Annotation[]
  /** the segment, by its name, whose people no study counts unless it says so */
  leftOut?: string
  /** what is told of ends where the data does: what is open there is not the time that is running now */
  stopped?: true
  /** the profile properties whose values change in the course of time */
  changing?: readonly string[]
  /** nothing is folded: the sentence alone says all that is counted, and can be read back */
  full?: boolean
  /** prints a study that stands inside the sentence, in full */
  print?: (study: StudyDefinition) => string
  /** prints a rule that has no name, in full and in parentheses */
  printRule?: (rule: Rule) => string
}

/** A dated note on charts: what happened on a local day. */
export interface Annotation {
  id: string
  day: string
  text: string
  tags: string[]
  /** shown on this study alone; null = everywhere */
  study: string | null
}

/** The words of one study: of the notes, those that are for it. */
export function wordsFor<W extends Words>(words: W, study: string | null): W {
  const { annotations } = words
  return annotations
    ? { ...words, annotations: annotations.filter((each) => each.study === null || each.study === study) }
    : words
}

/** Display names by the names things arrive under; properties by `event minutes` or `person plan`. */
export interface Labels {
  events: Readonly<Record<string, string>>
  properties: Readonly<Record<string, string>>
}

export function eventWords(event: EventChoice, { labels }: Pick<Words, 'labels'>): string {
  if ('activity' in event) return 'anything'
  return joinWords(
    event.names.map((name) => own(labels?.events, name) ?? name),
    'or',
  )
}

/** A property as a reader would say it: its display name, or `home_district` → `Home district`. */
export function propertyWords(property: PropertyRef, { labels }: Pick<Words, 'labels'>): string {
  if (property.of === 'source') return 'Source'
  const label = own(labels?.properties, `${property.of} ${property.name}`)
  const now = property.of === 'person' && property.now ? NOW : ''
  if (label !== undefined) return label + now
  const spaced = property.name.replace(/[_-]+/g, ' ').replace(/([a-z])([A-Z])/g, '$1 $2')
  return capital(spaced) + now
}

/** Set behind the name of a profile's property that is read as it is now. */
export const NOW = ' now'

/** Set behind the name of an event's property that a profile has too. */
export const OF_THE_EVENT = ' of the event'

/** An event's property, where the event is told beside it and nobody would take it for the profile's. */
export function eventPropertyWords(name: string, words: Pick<Words, 'labels'>): string {
  const said = propertyWords({ of: 'event', name }, words)
  return said.endsWith(OF_THE_EVENT) ? said.slice(0, -OF_THE_EVENT.length) : said
}

export const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const

export function groupWords(group: GroupKey, rest?: number): string {
  if ('unreached' in group) return 'Did not get there'
  if ('rest' in group)
    return `Everything else${rest === undefined ? '' : ` (${rest} ${rest === 1 ? 'group' : 'groups'})`}`
  if ('each' in group) return group.each.map((key) => groupWords(key)).join(' · ')
  if ('weekday' in group) return WEEKDAYS[group.weekday - 1]
  if ('hour' in group) return `${String(group.hour).padStart(2, '0')}:00`
  if ('side' in group) return group.name
  if ('range' in group) {
    const [low, high] = group.range
    if (low === null) return `under ${formatNumber(high)}`
    if (high === null) return `${formatNumber(low)} and more`
    return `${formatNumber(low)} to ${group.closed ? '' : 'under '}${formatNumber(high)}`
  }
  const { value } = group
  if (value === null) return 'no value'
  if (value === '') return 'empty text'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return typeof value === 'number' ? formatNumber(value) : value
}

/**
 * A group in the middle of a sentence, where what says nothing by itself is told with the name of its property:
 * "Position in session 4", "Platform: no value".
 */
export function toldGroup(
  group: GroupKey,
  breakdowns: readonly { by: SplitRef }[] | undefined,
  words: Pick<Words, 'labels'>,
  rest?: number,
): string {
  if ('each' in group) return group.each.map((key, i) => toldGroup(key, breakdowns?.slice(i, i + 1), words)).join(' · ')
  const said = groupWords(group, rest)
  const by = breakdowns?.[0]?.by
  if (!by || isClock(by) || by.of === 'segments') return said
  if ('range' in group) return `${propertyWords(by, words)} ${said}`
  if (!('value' in group) || (typeof group.value === 'string' && group.value !== '')) return said
  return `${propertyWords(by, words)}${typeof group.value === 'number' ? '' : ':'} ${said}`
}

/** What groups are made by, as a reader would say it. */
export function splitWords(by: SplitRef, words: Pick<Words, 'labels' | 'segments' | 'full' | 'printRule'>): string {
  switch (by.of) {
    case 'weekday':
      return 'Day of week'
    case 'hour':
      return 'Hour of day'
    case 'segments':
      return `of ${joinWords(
        by.sides.map((side) => sideWords(side, words)),
        'and',
      )}`
    default:
      return propertyWords(by, words)
  }
}

/** What the groups of several breakdowns are called together. */
export function splitsHead(breakdowns: readonly { by: SplitRef }[], words: Words): string {
  return breakdowns.map(({ by }) => splitHead(by, words)).join(' · ')
}

/** What a breakdown's groups are called together, at the head of a column. */
export function splitHead(by: SplitRef, words: Pick<Words, 'labels'>): string {
  return by.of === 'segments' ? 'Segment' : splitWords(by, words)
}

/** A segment that stands beside others. */
export function sideWords(side: Side, words: Pick<Words, 'segments' | 'full' | 'printRule'>): string {
  if ('everybody' in side) return 'everybody'
  const name = 'name' in side ? side.name : (own(words.segments, side.segment) ?? UNKNOWN_SEGMENT)
  if (!words.full) return 'not' in side && side.not ? `not in ${name}` : name
  if ('rule' in side) return `${quoted(name)} = people ${words.printRule!(side.rule)}`
  return side.not ? `not in ${quoted(name)}` : quoted(name)
}

export const UNKNOWN_SEGMENT = 'a segment that is not known'

export function conditionWords(condition: Condition, words: Words): string {
  const name = propertyWords(condition.property, words)
  const day = (text: string) => formatDay(text, words.thisYear)
  const number = words.full ? exactNumber : formatNumber
  const fold = 'ignoreCase' in condition && condition.ignoreCase ? ' (any case)' : ''
  switch (condition.op) {
    case 'is':
    case 'is not': {
      if (words.full) return `${name} ${condition.op} ${joinWords(condition.values.map(textWords), 'or')}${fold}`
      const shown = condition.values.slice(0, 3).map((value) => value || 'empty text')
      const more = condition.values.length - shown.length
      const list = more > 0 ? `${shown.join(', ')} or ${more} more` : joinWords(shown, 'or')
      return `${name} ${condition.op} ${list || '…'}${fold}`
    }
    case 'contains':
    case 'does not contain':
    case 'starts with':
    case 'ends with':
    case 'matches':
      return `${name} ${condition.op} ${words.full ? quoted(condition.text) : `“${condition.text}”`}${fold}`
    case '=':
    case '≠':
    case '<':
    case '≤':
    case '>':
    case '≥':
      return `${name} ${condition.op} ${number(condition.number)}`
    case 'between':
      return `${name} is between ${number(condition.numbers[0])} and ${number(condition.numbers[1])}`
    case 'before':
    case 'after':
      return `${name} is ${condition.op} ${day(condition.day)}`
    case 'between days':
      return `${name} is between ${day(condition.days[0])} and ${day(condition.days[1])}`
    case 'in the last':
      return `${name} is in ${lastWords(condition.last, condition.unit)}`
    default:
      return `${name} ${condition.op}`
  }
}

/** A filter as words: up to two conditions in full, more are counted where not all is to be said. */
export function filterWords(filter: Filter, words: Words): string {
  const count = countConditions(filter)
  if (count > 2 && !words.full) return `${count} conditions hold`
  return fullFilterWords(filter, words)
}

/** Every condition; groups within groups in parentheses. */
export function fullFilterWords(filter: Filter, words: Words): string {
  const group = 'all' in filter ? filter.all : 'any' in filter ? filter.any : null
  if (group === null) return conditionWords(filter as Condition, words)
  const inner = group.map((each) => {
    const many = ('all' in each && each.all.length > 1) || ('any' in each && each.any.length > 1)
    const said = fullFilterWords(each, words)
    return many && group.length > 1 ? `(${said})` : said
  })
  if (inner.length === 0) return 'all' in filter ? 'anything holds' : 'nothing holds'
  return inner.join('all' in filter ? ' and ' : ' or ')
}

export function countConditions(filter: Filter): number {
  if ('all' in filter) return filter.all.reduce((n, inner) => n + countConditions(inner), 0)
  if ('any' in filter) return filter.any.reduce((n, inner) => n + countConditions(inner), 0)
  return 1
}

export function lastWords(last: number, unit: Unit): string {
  if (last === 1) return unit === 'day' ? 'today' : `this ${unit}`
  return `the last ${last} ${unit}s`
}

/** A range with the word that leads to it: over *the last 12 weeks*, in *October*, since *8 Oct*. */
export function rangeWords(range: Range, { thisYear }: Words): { lead: string; text: string } {
  if ('last' in range) return { lead: range.last === 1 ? '' : 'over ', text: lastWords(range.last, range.unit) }
  if (!range.to) return { lead: 'since ', text: formatDay(range.from, thisYear) }
  const from = Temporal.PlainDate.from(range.from)
  const to = Temporal.PlainDate.from(range.to)
  if (from.day === 1 && to.equals(from.with({ day: from.daysInMonth })))
    return { lead: 'in ', text: formatMonth(range.from, thisYear) }
  if (from.equals(to)) return { lead: 'on ', text: formatDay(range.from, thisYear) }
  return { lead: 'from ', text: `${formatDay(range.from, thisYear)} to ${formatDay(range.to, thisYear)}` }
}

/** A bucket by its key: `week of 14 Sep`, `October`, `14 Sep 13:00`. */
export function bucketWords(key: string, unit: Unit, { thisYear }: Words): string {
  switch (unit) {
    case 'hour':
      return `${formatDay(key.slice(0, 10), thisYear)} ${key.slice(11, 16)}`
    case 'day':
      return formatDay(key, thisYear)
    case 'week':
      return `the week of ${formatDay(key, thisYear)}`
    case 'month':
      return formatMonth(key, thisYear)
    case 'quarter':
      return `the quarter from ${formatDay(key, thisYear)}`
    case 'year':
      return `the year ${key.slice(0, 4)}`
  }
}

export function compareWords(compare: Comparison, { thisYear }: Words): string {
  if ('from' in compare) return `${formatDay(compare.from, thisYear)} to ${formatDay(compare.to, thisYear)}`
  switch (compare.to) {
    case 'before':
      return 'the time just before'
    default:
      return `the same dates a ${compare.to} earlier`
  }
}
