import { countOf, formatPercent, joinWords } from '../../words/format.js'
import { limitWords } from '../../words/limitWords.js'
import type { Reading } from '../../words/sentence.js'
import { eventWords, groupWords, plain, strong, type Finding, type Words } from '../../words/words.js'
import type { Effect, EffectResult } from './finish.js'
import type { EffectQuestion } from './question.js'
import { thresholdOf } from './threshold.js'

/** What a message brings: all its variants, each of them, and what it cost in people who want no more. */
export function effectFindings(result: EffectResult, question: EffectQuestion, words: Words): Reading {
  const { rows, effect, effects, groups } = result
  const sum = (of: 'entered' | 'counted' | 'open' | 'delivered' | 'optedOut' | 'later') =>
    rows.reduce((total, row) => total + row[of], 0)
  if (sum('entered') === 0)
    return { findings: [[strong('Nobody'), plain(' came into it in this time.')]], cautions: [] }
  const goal = eventWords(question.goal.event, words)
  const within = limitWords(question.within)
  const sure = thresholdOf(result)
  const findings: Finding[] = []
  if (sum('counted') === 0) findings.push([plain(`Nobody’s ${within} are over yet: there is nothing to tell of.`)])
  else if (question.nobodyAlone)
    findings.push([
      plain('Nobody was left alone, so what it brings '),
      strong('cannot be told'),
      plain('. Leave some alone next time: a tenth is mostly enough.'),
    ])
  else if (effect === null)
    findings.push([plain('Nobody was left alone whose time is over: there is nothing to compare with yet.')])
  else {
    const many = rows.length > 2
    findings.push(said(many ? 'All variants together' : `“${rows[0].name ?? ''}”`, effect, goal, within, sure))
    if (many)
      effects.forEach((each, place) => {
        if (each) findings.push(said(`“${rows[place].name ?? ''}”`, each, goal, within, sure, true))
      })
    const clear = groups.flatMap(({ key, effect: own }) =>
      own && !own.few && own.p !== null && own.p < sure && own.difference > 0 && !('rest' in key)
        ? [groupWords(key)]
        : [],
    )
    if (clear.length > 0)
      findings.push([
        plain('Taken by itself it is clear in '),
        strong(joinWords(clear, 'and')),
        plain(
          ` (adjusted for ${countOf(groups.length, 'group', 'groups')}). That it is larger there than elsewhere is not said.`,
        ),
      ])
  }
  const [declined, reached] = [sum('optedOut'), sum('delivered')]
  if (reached > 0)
    findings.push([
      plain('Declined further messages after it: '),
      strong(countOf(declined, 'person', 'people')),
      plain(`, ${formatPercent(declined / reached)} of those it reached.`),
    ])
  const cautions: Finding[] = []
  if (sum('open') > 0)
    cautions.push([
      plain(
        `${countOf(sum('open'), 'person is', 'people are')} in their ${within} still and not in the rates. Until they are over a difference is told only where it would stand twenty looks.`,
      ),
    ])
  if (sum('later') > 0)
    cautions.push([
      plain(
        `${countOf(sum('later'), 'later entry is', 'later entries are')} not in these figures: of each person the first one counts.`,
      ),
    ])
  if (question.moving)
    cautions.push([
      plain(
        'The shares of the variants moved, so they are not compared with each other: only all of them together are tested.',
      ),
    ])
  if (result.unknown > 0)
    cautions.push([
      plain(
        `${countOf(result.unknown, 'person', 'people')} came into a variant that is not named here, and ${result.unknown === 1 ? 'is' : 'are'} left out.`,
      ),
    ])
  return { findings, cautions }
}

function said(who: string, effect: Effect, goal: string, within: string, sure: number, isOne = false): Finding {
  const { difference, interval, own, other, p, few, smallest } = effect
  if (few || p === null)
    return [
      plain(`${who}: `),
      strong('too few yet'),
      plain(` to say anything (${countOf(own.whole, 'person', 'people')} against ${other.whole} left alone).`),
    ]
  const rates = `${formatPercent(own.part / own.whole)} against ${formatPercent(other.part / other.whole)}`
  if (p < sure) {
    const more = difference > 0
    return [
      plain(`${who} ${isOne || !who.startsWith('All') ? 'brings' : 'bring'} `),
      strong(`${pointsOf(Math.abs(difference))} ${more ? 'more' : 'fewer'}`, more ? 'gain' : 'loss'),
      plain(` ${goal} within ${within} than leaving people alone: ${rates}`),
      plain(interval ? ` (${figureOf(interval.low)} to ${figureOf(interval.high)}).` : '.'),
    ]
  }
  const unseen =
    smallest === null
      ? 'none could be seen with so few'
      : `an effect under ${pointsOf(smallest)} cannot be seen with so many`
  return [plain(`${who}: `), strong('no clear effect'), plain(` on ${goal} within ${within} (${rates}); ${unseen}.`)]
}

/** `5.1`, `−0.4`: points. */
const figureOf = (share: number) => `${share < 0 ? '−' : ''}${Math.abs(share * 100).toFixed(1)}`

/** `5.1 points`. */
function pointsOf(share: number): string {
  const points = (share * 100).toFixed(1)
  return `${points.endsWith('.0') ? points.slice(0, -2) : points} point${points === '1.0' ? '' : 's'}`
}
