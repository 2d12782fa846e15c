import { countOf, formatNumber } from '../../words/format.js'
import { eventWords, groupWords, rangeWords, type Words } from '../../words/words.js'
import type { GapsQuestion } from './question.js'
import type { GapsMark } from './marks.js'

/** How gaps and selections of them are said. */

/** `7 days`, `1 day`, `2.5 days`: medians may be of half days. */
export function daysWords(days: number): string {
  return Number.isInteger(days) ? countOf(days, 'day', 'days') : `${days} days`
}

/** `7 days`, `1 day`, `22 to 30 days`, `61 days or more`. */
export function gapWords(least: number, most: number | null | undefined): string {
  if (most === null || most === undefined) return `${formatNumber(least)} days or more`
  if (most === least) return countOf(least, 'day', 'days')
  return `${formatNumber(least)} to ${formatNumber(most)} days`
}

/** Who a mark's people are, after "who". */
export function gapMarkWords(question: GapsQuestion, mark: GapsMark, words: Words): string {
  const said = gapsSaid(question, mark, words)
  return mark.group ? `${said} (${groupWords(mark.group)})` : said
}

function gapsSaid(question: GapsQuestion, { least, most, of }: GapsMark, words: Words): string {
  const range = rangeWords(question.range, words)
  const when = `${range.lead}${range.text}`
  const event = eventWords(question.start.event, words)
  if (of === 'once') return `did ${event} on one day only ${when}`
  if (of === 'median')
    return `mostly do ${event} again after ${gapWords(least, most === undefined ? null : Math.floor(most))}, ${when}`
  return `did ${event} again after ${gapWords(least, most)} ${when}`
}

/** The same, so that it can be read back: `whose gap was at least 7 and at most 14 days`. */
export function exactGap({ least, most, of }: GapsMark): string {
  const lead = of === 'once' ? 'who came once, gap' : of === 'median' ? 'whose median gap was' : 'whose gap was'
  return `${lead} at least ${least}${most === undefined ? '' : ` and at most ${most}`} days`
}
