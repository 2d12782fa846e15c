import type { GroupKey, Mark } from '../questions/parts.js'
import type { TimeLimit } from '../questions/parts.js'
import { exactNumber, keyWords, quoted } from '../words/exact.js'
import {
  bucketWords,
  eventWords,
  groupWords,
  propertyWords,
  rangeWords,
  sideWords,
  type Words,
} from '../words/words.js'
import { limitWords } from '../words/limitWords.js'
import { dayOf } from '../time/range.js'
import type { CrosstabQuestion } from './crosstab/question.js'
import type { SentencePart } from './analysis.js'
import type { Among, PeopleRef, RulePeople, StudyPeople } from './people.js'
import { isGroup, type MemberCondition, type Rule } from '../segments/rule.js'
import { ruleWords, segmentName, type StudyWords } from '../segments/words.js'
import { formatDay, formatDuration, formatNumber, joinWords } from '../words/format.js'
import type { FunnelQuestion } from './funnel/question.js'
import type { OverlapQuestion } from './overlap/question.js'
import type { Question } from './registry.js'
import { exactGap, gapMarkWords } from './gaps/words.js'
import { exactState, stateMarkWords } from './growth/words.js'
import { daysMarkWords, exactDays } from './habit/words.js'
import { cohortMarkWords, exactCohort } from './retention/words.js'
import { DEFAULT_DAYS, type TrendQuestion, type TrendSeries } from './trend/question.js'

/** ", among …" or ", not among …"; nothing where everybody is asked. */
export function amongParts({ among }: { among?: Among | undefined }, words: Words): SentencePart[] {
  if (!among) return []
  const alone = loneSegment(among)
  return [
    { text: alone?.not ? ', not among ' : ', among ' },
    { text: amongWords(among, words), token: 'among', tone: 'water', path: 'among' },
  ]
}

/** Whoever is, or is not, in the one segment that people are asked by. */
export function loneSegment(ref: PeopleRef): MemberCondition | null {
  return 'rule' in ref && ref.at === undefined && !ref.came ? loneCondition(ref.rule) : null
}

function loneCondition(rule: Rule): MemberCondition | null {
  if (isGroup(rule) || rule.kind !== 'segment') return null
  return rule.since === undefined && !rule.off ? rule : null
}

/** Who the people are, after "among" or "not among": `those who did Ride completed in the week of 14 Sep`. */
export function amongWords(ref: Among, words: Words): string {
  const alone = loneSegment(ref)
  if (alone) return words.full ? quoted(segmentName(alone.segment, words)) : segmentName(alone.segment, words)
  if ('rule' in ref) return `people ${words.full ? exactPeople(ref, words) : peopleWords(ref, words)}`
  return `those ${words.print ? exactMarks(ref, words) : `who ${marksWords(ref, words)}`}`
}

/** Who a rule's people are, with the moments said to the millisecond. */
function exactPeople({ rule, at, came, since }: RulePeople, words: Words): string {
  const said = ruleWords(rule, words, studyClause)
  const moment = (ms: number) => quoted(new Date(ms).toISOString())
  if (came)
    return `who ${came === 'in' ? 'came into' : 'went out of'} ${said} between ${moment(since!)} and ${at === undefined ? 'now' : moment(at)}`
  return at === undefined ? said : `${said} as of ${moment(at)}`
}

function exactMarks({ study, marks }: StudyPeople, words: Words): string {
  const said = marks.map((mark) => exactMark(study, mark, words))
  return `${said.join(', or ')} of “${(words.print as (study: Question) => string)(study)}”`
}

/** Who a study's people are, after "who"; in full, after "are". */
export const studyClause: StudyWords = (condition, words) =>
  words.print ? `are those ${exactMarks(condition, words)}` : marksWords(condition, words)

/** Who the people are, beginning with "who", "whose" or "for whom". */
export function peopleWords(ref: PeopleRef, words: Words): string {
  if (!('rule' in ref)) return `who ${marksWords(ref, words)}`
  const alone = loneCondition(ref.rule)
  const name = alone && `${alone.not ? 'not ' : ''}in ${segmentName(alone.segment, words)}`
  const day = (ms: number) => formatDay(dayOf(ms, words.zone ?? 'UTC').toString(), words.thisYear)
  if (ref.came) {
    const which = alone && !alone.not ? segmentName(alone.segment, words) : 'the people'
    const into = ref.came === 'in' ? `who came into ${which}` : `who went out of ${which}`
    const until = ref.at === undefined ? 'now' : day(ref.at)
    const rest = alone && !alone.not ? '' : ` ${ruleWords(ref.rule, words, studyClause)}`
    return `${into}${rest} between ${day(ref.since!)} and ${until}`
  }
  if (ref.at !== undefined)
    return name
      ? `who were ${name} on ${day(ref.at)}`
      : `${ruleWords(ref.rule, words, studyClause)}, as of ${day(ref.at)}`
  return name ? `who are ${name}` : ruleWords(ref.rule, words, studyClause)
}

/** A mark of a study that is printed beside it, so that it can be read back. */
function exactMark(study: Question, mark: Mark, words: Words): string {
  const every = 'every' in study ? study.every : 'day'
  // Of the two hours that a clock change repeats, only the key tells which is meant.
  const bucket = (key: string) => (every === 'hour' ? quoted(key) : bucketWords(key, every, words))
  const more = (...parts: (string | undefined)[]) => {
    const said = parts.filter((part) => part !== undefined)
    return said.length > 0 ? ` (${said.join('; ')})` : ''
  }
  const event = (name: string) => eventWords({ names: [name] }, words)
  const dayWords = (key: string) => bucketWords(key, 'day', words)
  switch (mark.kind) {
    case 'point': {
      const time = mark.bucket === undefined ? 'at any time' : `in ${bucket(mark.bucket)}`
      const before = mark.before ? ' of the time it is compared with' : ''
      const not = mark.not === undefined ? '' : ` and not in ${bucket(mark.not)}`
      const line = mark.series ? `series ${mark.series + 1}` : undefined
      const formula = mark.formula === undefined ? undefined : `formula ${mark.formula + 1}`
      return time + before + not + more(line, formula, mark.group && exactGroup(mark.group))
    }
    case 'step': {
      const what = { reached: 'who reached', lost: 'lost at', open: 'still open at', gone: 'lost for good at' }[
        mark.what
      ]
      const before = mark.before ? ' of the time it is compared with' : ''
      const begun = mark.bucket === undefined ? '' : `, begun in ${funnelBucket(study, mark.bucket, words)}`
      return `${what} step ${mark.step + 1}${before}${begun}${more(mark.group && exactGroup(mark.group))}`
    }
    case 'took': {
      const under = mark.under === undefined ? '' : ` and under ${exactNumber(mark.under)} ms`
      const steps = ` from step ${mark.from + 1} to step ${mark.to + 1}`
      return `who took at least ${exactNumber(mark.least)} ms${under}${steps}${more(mark.group && exactGroup(mark.group))}`
    }
    case 'repeats':
      return `who did step ${mark.step + 1} ${mark.more ? 'at least' : 'exactly'} ${exactNumber(mark.times)} times before going on`
    case 'after': {
      const then = mark.event === null ? 'did nothing more' : `then did ${event(mark.event)}`
      return `lost for good at step ${mark.step + 1} who ${then} ${withinWords(mark.within)}`
    }
    case 'with': {
      const value = mark.property === undefined ? '' : ` with ${withWords(mark, words)}`
      return `who did ${event(mark.event)}${value} on the way and ${mark.through ? 'got through' : 'were lost'}`
    }
    case 'way':
      if (mark.only) return `who got through and did ${event(mark.events[0])} on the way`
      return mark.events.length === 0
        ? 'who got through straight away'
        : `who got through by way of ${mark.events.map(event).join(' › ')}`
    case 'cell': {
      const row = mark.row.length === 0 ? 'in all rows' : `in the row ${mark.row.map(keyWords).join(' › ')}`
      const column = mark.column ? ` and the column ${keyWords(mark.column)}` : ''
      const time = mark.bucket === undefined ? '' : ` in ${bucket(mark.bucket)}`
      return row + column + time + more(mark.series ? `series ${mark.series + 1}` : undefined)
    }
    case 'cohort':
      return exactCohort(mark, bucket) + more(mark.group && exactGroup(mark.group))
    case 'state':
      return exactState(mark, dayWords)
    case 'days':
      return exactDays(mark, dayWords) + more(mark.group && exactGroup(mark.group))
    case 'gap':
      return exactGap(mark)
    case 'part':
      return `in part ${partPlaces(mark.in)}${mark.more ? ' or more' : ''}`
  }
}

/** By what time a funnel's attempts are gathered; its name says which, so that it is read back. */
function funnelBucket(study: Question, key: string, words: Words): string {
  const every = study.kind === 'funnel' && study.show?.form === 'over time' ? (study.show.every ?? 'week') : 'week'
  return every === 'hour' ? quoted(key) : bucketWords(key, every, words)
}

export function withinWords(within: TimeLimit | 'session'): string {
  return within === 'session' ? 'in the same session' : `within ${limitWords(within)}`
}

/** `Reason form error`. */
function withWords({ property, value }: Mark & { kind: 'with' }, words: Words): string {
  return `${propertyWords({ of: 'event', name: property! }, words)} ${keyWords({ value: value ?? null })}`
}

/** The group of a mark, so that it can be read back. */
function exactGroup(group: GroupKey): string {
  if ('unreached' in group) return 'did not get there'
  return 'each' in group ? group.each.map(keyWords).join(' · ') : keyWords(group)
}

/** Who the people are, after "who": `did Ride completed in the week of 14 Sep (Plan: Day pass)`. */
function marksWords({ study, marks }: StudyPeople, words: Words): string {
  const shown = marks.slice(0, 3).map((mark) => markWords(study, mark, words))
  const more = marks.length - shown.length
  return [...new Set(shown), ...(more > 0 ? [`are in ${more} more selected places`] : [])].join(', or ')
}

/** Of a mark that is none of the study's. */
const COUNTED = 'are counted in it'

function markWords(study: Question, mark: Mark, words: Words): string {
  if (study.kind === 'trend') return pointWords(study, mark, words)
  if (study.kind === 'crosstab') return cellWords(study, mark, words)
  if (study.kind === 'overlap') return partWords(study, mark, words)
  if (study.kind === 'retention')
    return mark.kind === 'cohort'
      ? cohortMarkWords(study, mark, (key) => bucketWords(key, study.every, words), words)
      : COUNTED
  if (study.kind === 'habit') return mark.kind === 'days' ? daysMarkWords(study, mark, words) : COUNTED
  if (study.kind === 'gaps') return mark.kind === 'gap' ? gapMarkWords(study, mark, words) : COUNTED
  if (study.kind === 'growth') {
    const { interval } = study
    const bucket = (key: string) =>
      'unit' in interval
        ? bucketWords(key, interval.unit, words)
        : `the interval from ${bucketWords(key, 'day', words)}`
    return mark.kind === 'state' ? stateMarkWords(study, mark, bucket, words) : COUNTED
  }
  return stepMarkWords(study, mark, words)
}

/** `did Dock chosen and did not go on to Card added within 7 days (Annual)`. */
function stepMarkWords(study: FunnelQuestion, mark: Mark, words: Words): string {
  const group = 'group' in mark && mark.group ? ` (${groupWords(mark.group)})` : ''
  const range = rangeWords(study.range, words)
  const within = `within ${limitWords(study.window)}`
  const event = (name: string) => eventWords({ names: [name] }, words)
  const name = (step: number) => (study.steps[step] ? eventWords(study.steps[step].event, words) : 'the next step')
  const next = (step: number) => study.steps.findIndex((each, i) => i > step && !each.optional)
  const lost = (step: number) => `did ${name(step)} and did not go on to ${name(next(step))}`
  switch (mark.kind) {
    case 'step': {
      const time = mark.before ? ', in the time it is compared with' : ''
      const begun = mark.bucket === undefined ? '' : `, having begun in ${funnelBucket(study, mark.bucket, words)}`
      const tail = `${time}${begun}${group}`
      if (study.order === 'any order') {
        const done = `did ${mark.step + 1} of the ${study.steps.length} steps`
        if (mark.what === 'reached') return `${done} ${within}${tail}`
        return mark.what === 'open' ? `${done} and may still go on${tail}` : `${done} and no more ${within}${tail}`
      }
      if (mark.what === 'reached') {
        const when = mark.step > 0 ? ` ${within} of the start` : time || begun ? '' : ` ${range.lead}${range.text}`
        return `did ${name(mark.step)}${when}${tail}`
      }
      if (mark.what === 'open') return `did ${name(mark.step)} and may still go on${tail}`
      return `${lost(mark.step)} ${within}${tail}`
    }
    case 'took': {
      const least = formatDuration(mark.least)
      const long = mark.under === undefined ? `${least} or longer` : `${least} to ${formatDuration(mark.under)}`
      return `took ${long} from ${name(mark.from)} to ${name(mark.to)}${group}`
    }
    case 'repeats': {
      const times = mark.times === 1 ? 'once' : `${formatNumber(mark.times)} times`
      return `did ${name(mark.step)} ${times}${mark.more ? ' or more' : ''} before going on`
    }
    case 'after':
      return `${lost(mark.step)}, and ${mark.event === null ? 'did nothing more' : `then did ${event(mark.event)}`} ${withinWords(mark.within)}`
    case 'with': {
      const value = mark.property === undefined ? '' : ` with ${withWords(mark, words)}`
      return `did ${event(mark.event)}${value} on the way and ${mark.through ? 'got through' : 'were lost'}`
    }
    case 'way': {
      const way = mark.events.map(event)
      if (mark.only) return `got through and did ${way[0]} on the way`
      return way.length === 0 ? 'got through straight away' : `got through by way of ${way.join(', then ')}`
    }
    default:
      return `started ${range.lead}${range.text}`
  }
}

/** `did Ride completed in the week of 14 Sep and not in the week of 21 Sep (Annual)`. */
function pointWords(study: TrendQuestion, mark: Mark, words: Words): string {
  const point = mark.kind === 'point' ? mark : null
  const group = point?.group ? ` (${groupWords(point.group)})` : ''
  const series = study.series[point?.series ?? 0] ?? study.series[0]
  const what =
    point?.formula === undefined
      ? `did ${eventWords(series.event, words)}${series.where ? ', as filtered,' : ''}`
      : `are counted in ${study.formulas?.[point.formula]?.name ?? study.formulas?.[point.formula]?.formula ?? 'the formula'}`
  if (point?.before && point.bucket === undefined) return `${what} in the time it is compared with${group}`
  const when =
    point?.formula === undefined
      ? whenWords(series, study, point?.bucket, words)
      : plainWhen(study, point.bucket, words)
  return `${what} ${when}${point?.not === undefined ? '' : ` and not ${whenWords(series, study, point.not, words)}`}${group}`
}

/** `did Ride completed over the last 12 weeks (Harbour · Day pass)`. */
function cellWords(study: CrosstabQuestion, mark: Mark, words: Words): string {
  const cell = mark.kind === 'cell' ? mark : null
  const series = study.series[cell?.series ?? 0] ?? study.series[0]
  const places = [...(cell?.row ?? []), ...(cell?.column ? [cell.column] : [])].map((key) => groupWords(key))
  const when = whenWords(series, study, cell?.bucket, words)
  const group = places.length > 0 ? ` (${places.join(' · ')})` : ''
  return `did ${eventWords(series.event, words)}${series.where ? ', as filtered,' : ''} ${when}${group}`
}

/** `are in App buyers and Kiosk buyers, and not in Website buyers`. */
function partWords({ sides }: OverlapQuestion, mark: Mark, words: Words): string {
  if (mark.kind !== 'part') return 'are in any of them'
  const name = (side: number) => (sides[side] ? sideWords(sides[side], words) : '…')
  const inside = mark.in.map(name)
  const outside = mark.more ? [] : sides.map((_, side) => side).filter((side) => !mark.in.includes(side))
  const not = outside.length > 0 ? `, and not in ${joinWords(outside.map(name), 'or')}` : ''
  return `are in ${joinWords(inside, 'and')}${not}`
}

/** When what a series counts was done: in a bucket, or in the whole range. */
function whenWords(series: TrendSeries, study: Timed, bucket: string | undefined, words: Words): string {
  const last =
    bucket !== undefined
      ? `the end of ${bucketWords(bucket, study.every, words)}`
      : 'to' in study.range
        ? `the end of ${rangeWords(study.range, words).text}`
        : 'now'
  if (series.measure === 'people so far') return `up to ${last}`
  if (series.measure === 'people in the last days') return `in the ${series.days ?? DEFAULT_DAYS} days up to ${last}`
  return plainWhen(study, bucket, words)
}

type Timed = Pick<TrendQuestion, 'every' | 'range'>

/** `in the week of 14 Sep`, `over the last 12 weeks`. */
function plainWhen({ every, range }: Timed, bucket: string | undefined, words: Words): string {
  const whole = rangeWords(range, words)
  if (bucket === undefined) return `${whole.lead}${whole.text}`
  return `${every === 'hour' ? 'at' : every === 'day' ? 'on' : 'in'} ${bucketWords(bucket, every, words)}`
}

function partPlaces(inside: readonly number[]): string {
  return joinWords(
    inside.map((side) => String(side + 1)),
    'and',
  )
}
