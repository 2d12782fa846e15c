import { Temporal } from 'temporal-polyfill'
import type { Rule, RuleGroup, SegmentCondition, Window } from '../segments/rule.js'
import type { Condition } from '../questions/parts.js'
import { UNIT_DAYS, type Range } from '../time/range.js'
import { timesSaid, TIMES_SAID } from './askings.js'
import type { EventChoices } from './choices.js'
import { propertyMentions } from './match.js'
import { ANYBODY } from './phrase.js'
import type { Said } from './said.js'
import type { Text } from './text.js'
import { NUMBER } from './times.js'
import type { KnownEvent, Vocabulary } from './vocabulary.js'

/** That people themselves are asked for, and what was said of how often they did something. */
export interface PeopleAsked {
  counts: { from: number; op: '>' | '≥' | '<' | '≤' | '='; number: number }[]
}

const NEVER =
  /(?<![\p{L}])(?:never|not|don[’']t|didn[’']t|did not|haven[’']t|hasn[’']t|without|no|no longer)(?![\p{L}])/u

const LEAD = new RegExp(
  `^\\s*(?:(?:show|find|list|give|get|select)(?: me| us)?(?: a list of)? |(?:a )?list of |which of )?(?:all |the |our )*${ANYBODY} (?:(?:who|that)(?: (?:have|has|had|were|was|are|did))?|with|without)(?![\\p{L}\\p{N}])|^\\s*who (?:has |have )?(?=(?:never |not )?\\p{L}+)(?!is |are |was |will |would |lapsed|revived|comes? back|came back|stopped|quit|churned)`,
  'u',
)

/** A number of people of whom something did not happen is that of a list. */
const HOW_MANY = new RegExp(
  `^\\s*(?:how many|(?:the )?(?:number|count) of) (?:the |our )*${ANYBODY} (?:(?:who|that)(?: (?:have|has|had))?|have|has|had)?(?![\\p{L}\\p{N}])`,
  'u',
)

/** Whether it begins as people do who want a list: takes those words, and how often something was done. */
export function readPeopleAsked(text: Text, vocabulary: Vocabulary): PeopleAsked | null {
  const lead = LEAD.exec(text.lower) ?? (NEVER.test(text.lower) ? HOW_MANY.exec(text.lower) : null)
  if (!lead) return null
  text.take(0, lead[0].length, 'kind', 'people')
  const counts: PeopleAsked['counts'] = []
  for (const match of text.lower.matchAll(new RegExp(TIMES_SAID.source, 'gu'))) {
    const read = timesSaid(match as unknown as RegExpExecArray)
    text.take(match.index, match.index + match[0].length, 'measure', `${read.op} ${read.number} times`)
    counts.push({ from: match.index, ...read })
  }
  // "at least 5 tasks": so often, where the number is not of something that is measured.
  for (const match of text.lower.matchAll(MANY)) {
    const next = text.tokens.findIndex(({ from }) => from > match.index + match[0].length)
    if (next < 0 || text.isTaken(match.index, match.index + match[0].length)) continue
    const isMeasured = propertyMentions(text.tokens, text.isFree, vocabulary).some(
      ({ first, fit, value }) => first === next && value.kind === 'number' && fit >= 0.6,
    )
    if (isMeasured || /^(?:second|minute|hour|day|week|month|year|percent)s?$/.test(text.tokens[next]!.word)) continue
    const read = timesSaid([match[0], match[1], match[2]] as unknown as RegExpExecArray)
    text.take(match.index, match.index + match[0].length, 'measure', `${read.op} ${read.number} times`)
    counts.push({ from: match.index, ...read })
  }
  return { counts }
}

const MANY = new RegExp(
  `(?<![\\p{L}])(more than|over|at least|fewer than|less than|at most|exactly) (${NUMBER})(?= \\p{L})`,
  'gu',
)

/**
 * The rule of the people asked for: each event did or did not, how often, when; what is of people must hold.
 * @returns null where nothing of people is said
 */
export function peopleRule(
  text: Text,
  said: Said,
  { counts }: PeopleAsked,
  { events, spans }: EventChoices,
  where: readonly { from: number; condition: Condition }[],
): RuleGroup | null {
  const window = said.range ? windowOf(said.range, said.today) : null
  const profile = where.filter(({ condition }) => condition.property.of === 'person')
  // Without any event it is about doing anything at all.
  const wanted = where.some(({ condition }) => condition.property.of !== 'person')
  const named: (KnownEvent | null)[] = events.length > 0 ? events : wanted ? [null] : []
  const of: Rule[] = named.flatMap((event, index): Rule[] => {
    const from = spans[index]?.from ?? text.text.length
    const before = index === 0 ? 0 : spans[index - 1]!.to
    const denied = NEVER.exec(text.lower.slice(before, from))
    // "completed at least 5 tasks" names one event twice.
    if (index > 0 && event === named[index - 1] && !denied) return []
    if (denied) text.take(before + denied.index, before + denied.index + denied[0].length, 'value', 'did not')
    const own = where.filter(
      ({ condition, from: at }) => condition.property.of !== 'person' && nearest(spans, at) === index,
    )
    const count = counts.find(({ from: at }) => nearest(spans, at) === index)
    const op = count && (denied ? CONTRARY[count.op] : count.op)
    const test = count && { measure: 'times' as const, test: { op: op!, number: count.number } }
    const did = (conditions: readonly Condition[]): SegmentCondition => ({
      ...{ kind: 'did', event: event ? { names: [event.name] } : { activity: true as const } },
      ...(conditions.length > 1 ? { where: { all: [...conditions] } } : conditions[0] ? { where: conditions[0] } : {}),
      // Who did not do it more than thrice did it thrice at most.
      ...(test ? { count: test } : denied ? { not: true as const } : {}),
      // What did not happen is asked of ever, where the time was not said of it.
      ...(window && (!denied || said.rangeAt === null || nearest(spans, said.rangeAt) === index) ? { window } : {}),
    })
    const conditions = own.map(({ condition }) => condition)
    const apart = /(?<![\p{L}])both(?![\p{L}])/u.exec(text.lower) ? valuesApart(conditions) : null
    if (!apart) return [did(conditions)]
    const at = text.lower.search(/(?<![\p{L}])both(?![\p{L}])/u)
    text.take(at, at + 4, 'groups', 'each of them')
    return apart.map((each) => did(each))
  })
  const either = spans.some(({ from }, index) => index > 0 && OR.test(text.lower.slice(spans[index - 1]!.to, from)))
  const acts: Rule[] = either && of.length > 1 ? [{ hold: 'any', of }] : of
  const all = [...acts, ...profile.map(({ condition }): Rule => ({ kind: 'profile', where: condition }))]
  return all.length > 0 ? { hold: 'all', of: all } : null
}

const OR = /(?<![\p{L}])or(?![\p{L}])/u
const CONTRARY = { '>': '≤', '≥': '<', '<': '≥', '≤': '>', '=': '≠' } as const

/** "both electric and cargo": a condition for each of the values of one property; null where there are not several. */
export function valuesApart(conditions: readonly Condition[]): Condition[][] | null {
  const same = conditions.filter(
    (each) => 'values' in each && JSON.stringify(each.property) === JSON.stringify(conditions[0]?.property),
  )
  if (same.length < 2) return null
  const others = conditions.filter((each) => !same.includes(each))
  return same.map((each) => [each, ...others])
}

function nearest(spans: EventChoices['spans'], at: number): number {
  let best = 0
  spans.forEach((span, index) => {
    const far = ({ from, to }: { from: number; to: number }) => Math.min(Math.abs(from - at), Math.abs(to - at))
    if (far(span) < far(spans[best]!)) best = index
  })
  return best
}

function windowOf(range: Range, today: string): Window {
  if (!('last' in range)) return { from: range.from, to: range.to ?? today }
  if (range.unit === 'day') return { last: range.last }
  if (range.unit === 'week' && range.last > 1) return { last: range.last * 7 }
  const now = Temporal.PlainDate.from(today)
  if (range.last === 1) {
    const from =
      range.unit === 'week'
        ? now.subtract({ days: now.dayOfWeek - 1 })
        : range.unit === 'month'
          ? now.with({ day: 1 })
          : now
    return { from: from.toString(), to: today }
  }
  return { last: range.last * UNIT_DAYS[range.unit] }
}
