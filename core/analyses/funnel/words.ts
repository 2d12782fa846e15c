import type { TimeLimit } from '../../questions/limits.js'
import { exactNumber, keyWords } from '../../words/exact.js'
import { formatDuration, formatNumber } from '../../words/format.js'
import { limitWords } from '../../words/limitWords.js'
import { eventWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import { exactBucket, exactDetails, exactGroup, ofGroup } from '../markWords.js'
import type { FunnelMark } from './marks.js'
import type { FunnelQuestion } from './question.js'

/** How selections of a funnel are said. */

export function withinWords(within: TimeLimit | 'session'): string {
  return within === 'session' ? 'in the same session' : `within ${limitWords(within)}`
}

/** `Reason form error`. */
function withWords({ property, value }: FunnelMark & { kind: 'with' }, words: Words): string {
  return `${propertyWords({ of: 'event', name: property! }, words)} ${keyWords({ value: value ?? null })}`
}

/** By what time a funnel's attempts are gathered; its name says which, so that it is read back. */
function attemptBucket({ show }: FunnelQuestion, key: string, words: Words): string {
  return exactBucket(key, show?.form === 'over time' ? (show.every ?? 'week') : 'week', words)
}

/** `did Dock chosen and did not go on to Card added within 7 days (Annual)`. */
export function stepMarkWords(study: FunnelQuestion, mark: FunnelMark, words: Words): string {
  const group = 'group' in mark ? ofGroup(mark.group) : ''
  const range = rangeWords(study.range, words)
  const within = `within ${limitWords(study.window)}`
  const event = (name: string) => eventWords({ names: [name] }, words)
  const name = (step: number) => (study.steps[step] ? eventWords(study.steps[step].event, words) : 'the next step')
  const next = (step: number) => study.steps.findIndex((each, i) => i > step && !each.optional)
  const lost = (step: number) => `did ${name(step)} and did not go on to ${name(next(step))}`
  switch (mark.kind) {
    case 'step': {
      const time = mark.before ? ', in the time it is compared with' : ''
      const begun = mark.bucket === undefined ? '' : `, having begun in ${attemptBucket(study, mark.bucket, words)}`
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
  }
}

/** The same, so that it can be read back: `lost at step 2, begun in the week of 14 Sep (Annual)`. */
export function exactStep(study: FunnelQuestion, mark: FunnelMark, words: Words): string {
  const event = (name: string) => eventWords({ names: [name] }, words)
  switch (mark.kind) {
    case 'step': {
      const what = { reached: 'who reached', lost: 'lost at', open: 'still open at', gone: 'lost for good at' }[
        mark.what
      ]
      const before = mark.before ? ' of the time it is compared with' : ''
      const begun = mark.bucket === undefined ? '' : `, begun in ${attemptBucket(study, mark.bucket, words)}`
      return `${what} step ${mark.step + 1}${before}${begun}${exactDetails(mark.group && exactGroup(mark.group))}`
    }
    case 'took': {
      const under = mark.under === undefined ? '' : ` and under ${exactNumber(mark.under)} ms`
      const steps = ` from step ${mark.from + 1} to step ${mark.to + 1}`
      return `who took at least ${exactNumber(mark.least)} ms${under}${steps}${exactDetails(mark.group && exactGroup(mark.group))}`
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
  }
}
