import { eventWords, type Words } from '../../words/words.js'
import { HARDLY_ANY, LEAST_BASE, LEAST_EACH, MOST_TOP, NEARLY_ALL } from './finish.js'
import { MOST_TIMES, type TippingQuestion } from './question.js'
import { daysWords, outcomeWords } from './words.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainTipping(
  { start, goal, days, outcome, open, count }: TippingQuestion,
  zone: string,
  words: Words,
): string[] {
  const [began, came] = [eventWords(start.event, words), eventWords(goal.event, words)]
  return [
    `People count whose first ${began} ever lies in the time asked about, days as they are cut in ${zone}, once it is known what came of it: those for whom the outcome’s period is not over are left out, and told.`,
    'days' in outcome
      ? `The outcome: ${came}${outcome.times ? `, ${outcome.times} times or more,` : ''} later than ${days} × 24 hours after that start, and at most ${outcome.days} × 24 hours later still.`
      : `The outcome: ${came} at least once ${outcomeWords(outcome)}. ${outcome.by ? `Periods are counted from the very moment of the start: a day is 24 hours, a week 7 and a month 30 of them.` : `The ${outcome.unit} of the start is ${outcome.unit} 0, the next one in the calendar ${outcome.unit} 1.`}`,
    `What was done in ${daysWords(days)} of 24 hours after the start, and before the outcome’s period, is looked at: each kind of event but ${began} and ${came}, at least once, twice, and so on to ${MOST_TIMES} times.`,
    ...(count ? ['A count is of local days on which it was done: ten times on one day count once.'] : []),
    ...(open
      ? [
          'Of events that are opened each value of the property is looked at as if it were an event, no value too; or how many different values there were, elements of lists by themselves.',
        ]
      : []),
    'Phi is the correlation of having done it so often with the outcome, from −1 to 1, over the people counted; its interval is by Fisher’s z. The best count is the one of the highest phi, of equal ones the smaller. P-values are of the pooled two-proportion z-test, adjusted by Benjamini–Hochberg over all events and counts.',
    `Lift is the rate of those who reached the count divided by that of the others. Precision is the rate of those who reached it; recall is what part of those the outcome came for had reached it.`,
    `What more than ${NEARLY_ALL * 100} % or less than ${HARDLY_ANY * 100} % of people did, or everybody the outcome came for, stands apart: it tells nobody from anybody. Fewer than ${LEAST_BASE} people, or ${LEAST_EACH} with or without the outcome, are not ranked.`,
    `The ${MOST_TOP} best are looked at two by two, and each among people alike: those of one value of a property as it was at the start, of properties with few values, and those who did the best one just as often. What is left of the difference is the Mantel–Haenszel difference of rates, its interval by Sato’s variance and wide enough for all that is looked at together. It holds where the whole interval is over half of the difference, and mostly not where it is under half.`,
    `With days left are those who started less than ${days} × 24 hours ago, in the time asked about; they are in no other number.`,
    'It is an association: whoever would have stayed anyway may do more of everything. Only an experiment tells whether bringing people to do it makes them stay.',
  ]
}
