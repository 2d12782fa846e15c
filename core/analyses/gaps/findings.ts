import type { Reading } from '../../words/sentence.js'
import { countOf, formatNumber } from '../../words/format.js'
import { eventWords, plain, strong, type Finding, type Words } from '../../words/words.js'
import type { GapsResult } from './finish.js'
import type { GapsQuestion } from './question.js'
import { daysWords } from './words.js'

/** What the gaps say: how often people come, and which interval that suggests. */
export function gapsFindings(result: GapsResult, question: GapsQuestion, words: Words): Reading {
  const { gaps, people, once, eighty, median, medianOfMedians, suggested } = result
  const event = eventWords(question.start.event, words)
  if (people + once === 0)
    return { findings: [[plain('Nobody did '), strong(event), plain(' in this time, as asked.')]], cautions: [] }
  if (gaps === 0 || eighty === null || !suggested)
    return {
      findings: [[plain('Nobody did it on '), strong('two different days'), plain(': there are no gaps to tell of.')]],
      cautions: [],
    }
  const findings: Finding[] = [
    [
      strong('80\u202f%'),
      plain(' of returns happen within '),
      strong(daysWords(eighty)),
      plain(`; half of them within ${daysWords(median!)}.`),
    ],
    [
      plain('A typical person comes back after '),
      strong(daysWords(medianOfMedians!)),
      plain(': the median of each person’s own median gap.'),
    ],
    ...(once > 0
      ? [
          [
            strong(countOf(once, 'person', 'people')),
            plain(
              ` of ${formatNumber(people + once)} did it on one day only, and ${once === 1 ? 'has' : 'have'} no gap.`,
            ),
          ],
        ]
      : []),
    [
      plain('For retention and habit that suggests '),
      strong(suggested.unit === 'day' ? 'days' : `${suggested.unit}s`),
      plain('; for growth accounting intervals of '),
      strong(countOf(suggested.days, 'day', 'days')),
      plain('.'),
    ],
  ]
  return {
    findings,
    cautions: [
      [plain('Who has not come back yet has no last gap: gaps that are still running are not counted.')],
      ...(result.groups.length > 0
        ? [[plain('These sentences are of everybody together. Groups are not tested against each other here.')]]
        : []),
    ],
  }
}
