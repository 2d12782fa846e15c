import { eventWords, type Words } from '../../words/words.js'
import type { GrowthQuestion } from './question.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainGrowth(question: GrowthQuestion, zone: string, words: Words): string[] {
  const event = eventWords(question.start.event, words)
  const { interval } = question
  return [
    'days' in interval
      ? `Intervals of ${interval.days} local days are cut backwards from the end of the time asked about, in ${zone}; a shorter first piece is left out.`
      : `Intervals are whole calendar ${interval.unit}s in ${zone}, also where the time asked about cuts one.`,
    `Everybody who has ever done ${event} is in one state in each interval. New: their first ever falls in it; all data is looked at, not the time asked about only. Retained: they did it in this one and in the one before. Revived: they did it in this one, not in the one before, but earlier. Lapsed: they did it in the one before and not in this one. Idle: they did it earlier, and in neither of the two.`,
    'New + retained + revived are the active people of the interval; retained + lapsed those of the one before. The first interval looks at the one before the time asked about.',
    'Net growth = new + revived − lapsed. Quick ratio = (new + revived) ÷ lapsed: above 1 more come than go. Retention rate = retained ÷ active in the one before. Shares are of everyone seen so far.',
    ...(question.breakdowns?.length
      ? [
          'A profile property is read as of the end of each interval, and segments as of now. Groups are ranked by their active people, added up over the intervals. A group’s retention rate is compared with that of all the others together by a two-proportion test, adjusted over the groups.',
        ]
      : []),
    'An interval that is not over yet is dashed: who has not come may still come, so nobody has lapsed for sure.',
  ]
}
