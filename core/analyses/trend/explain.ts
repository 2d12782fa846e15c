import { eventWords, propertyWords, type Words } from '../../words/words.js'
import { DEFAULT_DAYS, handleOf, type TrendQuestion, type TrendSeries } from './question.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainTrend(question: TrendQuestion, zone: string, words: Words): string[] {
  const text = question.series.map((series, index) => {
    const name = question.series.length > 1 ? `${handleOf(question, index)}: ` : ''
    return name + explainSeries(series, question.every, words)
  })
  if (question.formulas?.length)
    text.push(
      'A formula is worked out in each column and for the whole time from the figures there. Division by zero, and a gap in any of its parts, give a gap.',
    )
  text.push(
    `Each ${question.every} is a calendar ${question.every} in ${zone}. One that is not over yet is still open: it is drawn dashed and left out of comparisons.`,
  )
  text.push('The figure for the whole time is worked out on the whole time: it is not the sum of the columns.')
  if (question.compare)
    text.push(
      'What it is compared with is counted by the same rules, and stands beside it column by column. Where the time runs up to now, the earlier time ends at the same moment, so that what is still open stands beside an equally long part.',
    )
  if (question.breakdowns?.length) {
    text.push(
      'A property of the event is read from the event counted; a profile property is read from the person, as it was then. What carries no value is a group of its own.',
      'The largest groups over the whole time are kept, by the first series; Everything else counts the others together, each person once.',
    )
    text.push('A share is the group’s number divided by that of all groups together.')
  }
  if (question.every === 'day' || question.every === 'week')
    text.push(
      `A point is marked as unusual when it lies outside the 99\u202f% prediction interval of the same ${question.every === 'day' ? 'weekdays' : 'figure'} in the eight weeks before it, as far as they are in the time asked about.`,
    )
  if (question.smooth)
    text.push(
      `Smoothed: each point is the mean of its ${question.every} and the ${question.smooth - 1} before it. Gaps are passed over. The figure for the whole time is not smoothed.`,
    )
  return text
}

export function explainSeries(series: TrendSeries, every: string, words: Words): string {
  const event = eventWords(series.event, words)
  const of = series.of ? propertyWords(series.of, words) : 'the property'
  const overNumbers = `over the ${event} events whose ${of} is a number. Where there is none, there is a gap, not 0.`
  switch (series.measure) {
    case 'people':
      return `A person counts once in each ${every} in which they did ${event} at least once. Ids known to be the same person are one person.`
    case 'events':
      return `Every ${event} event counts. An event sent twice with the same id counts once.`
    case 'events per person':
      return `${event} events divided by the distinct people who did at least one, in each ${every}. Where nobody did, there is a gap, not 0.`
    case 'share of active people':
      return `The people who did ${event}, divided by the people with any activity in the same ${every}, whatever their group and whether or not the filter holds.`
    case 'sum':
      return `The sum of ${of} over the ${event} events that carry a number there.`
    case 'per person':
      return `${of} is added up for each person; then the average over the people who have a number there, in each ${every}.`
    case 'distinct values':
      return `How many different values of ${of} the ${event} events carry; of a list, its elements.`
    case 'people in the last days': {
      const days = series.days ?? DEFAULT_DAYS
      return `A person counts in a ${every} when they did ${event} in the ${days} days that end with its last day; for the whole time, with its last day or today.`
    }
    case 'people so far':
      return `Everyone who did ${event} at any time before the end of the ${every}, also before the time asked about.`
    case 'sessions':
      return `Sessions that hold at least one ${event}, counted in the ${every} in which the session starts.`
    case 'median':
    case '90th percentile':
    case '99th percentile':
      return `The ${series.measure} of ${of} ${overNumbers} Between two values it is interpolated.`
    default:
      return `The ${series.measure} of ${of} ${overNumbers}`
  }
}
