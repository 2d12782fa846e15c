import { eventWords, propertyWords, type Words } from '../../words/words.js'
import { backOf, type RetentionMeasure, type RetentionQuestion } from './question.js'
import { periodMeaning } from './sentence.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainRetention(question: RetentionQuestion, zone: string, words: Words): string[] {
  const { first, start, every, count, measure, cumulated, of, breakdowns, by, brackets } = question
  const [event, back] = [eventWords(start.event, words), eventWords(backOf(question).event, words)]
  const text = [
    first
      ? `Each person starts with their first ${event} ever, and is counted if that lies in the time asked about.`
      : `Each person starts with their first ${event} in the time asked about; they may have done it before that time.`,
    `People who started in the same ${every} are a cohort. Only events later than the start are returns: ${back}, looked for up to now, wherever the time asked about ends.`,
    periodMeaning(question, 'Sunday'),
    count === 'from'
      ? 'A person counts in a period if they came back in it or at any time later, up to now. These numbers may still grow.'
      : brackets
        ? 'A person counts in a span of days if they came back at least once in it; both its days are included.'
        : 'A person counts in a period if they came back at least once in it.',
    'A cell is complete when the cohort’s own time has ended and the period has ended for everybody in it. Cells that are not are hatched and left out of the line of all cohorts, which adds up people, not shares.',
  ]
  const property = of ? propertyWords(of, words) : 'the property'
  const figures: Record<RetentionMeasure, string> = {
    share: 'The figure is people who came back ÷ people who started; shares stand with their 95 % Wilson intervals.',
    people:
      'The figure is how many people came back. The line of all cohorts falls also because fewer cohorts are old enough.',
    events: `The figure is how often they did ${back}.`,
    'events per person': `The figure is how often they did ${back} ÷ people who came back.`,
    sum: `The figure is the sum of ${property} over their returns.`,
    'per person': `The figure is the sum of ${property} over their returns ÷ everybody in the cohort, also those who did not come back.`,
  }
  text.push(figures[measure ?? 'share'])
  if (cumulated) text.push('Each period is added up with all periods before it.')
  if (breakdowns?.length)
    text.push(
      'Groups are read at the start, a profile property as it was then. Groups are ranked by how many start. A group differs where its share and that of all the others together do so by a two-proportion test, adjusted over the groups.',
    )
  text.push(
    by === 'clock' ? `Cohorts are cut in ${zone}; periods by the clock.` : `Cohorts and periods are cut in ${zone}.`,
  )
  return text
}
