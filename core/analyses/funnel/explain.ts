import { propertyWords, type Words } from '../../words/words.js'
import { limitWords } from '../../words/limitWords.js'
import type { FunnelQuestion } from './question.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainFunnel(question: FunnelQuestion, zone: string, words: Words): string[] {
  const within = limitWords(question.window)
  const { order, count, first, same, forbidden = [], steps, show } = question
  const text: string[] = []
  if (order === 'any order')
    text.push(
      `Every event in the time asked about that fits any step starts an attempt; all other steps must be done within ${within} of it, whatever the order. Step 2 then means two steps done. An event that fits several steps takes the first listed that is not done.`,
    )
  else
    text.push(
      `Every event of step 1 in the time asked about starts an attempt. ${
        order === 'back to back'
          ? 'The very next event of that person must be the next step; events that nobody does on purpose, as the tracking plan says, are passed over unless they are a step themselves.'
          : 'For each next step the attempt takes the earliest later event that matches. Anything else may happen in between.'
      } All within ${within} of the start; exactly on the limit counts. Later steps may fall after the end of the time asked about.`,
    )
  text.push(
    count === 'attempts'
      ? 'Every start counts as an attempt of its own. Attempts share no event: each event is taken by the oldest open attempt that can use it, and is then used up.'
      : 'Each person counts once, by their deepest attempt; of equally deep ones, by the earliest. One event fills one step only.',
  )
  if (first)
    text.push(
      'Only each person’s first start ever begins an attempt; where that lies before the time asked about, the person is not counted.',
    )
  if (same)
    text.push(
      `Every step must carry the ${propertyWords(same, words)} that the start carries; a start without one does not count. Lists are the same when they are equal.`,
    )
  if (forbidden.length > 0)
    text.push(
      'An attempt ends when something that must not happen comes before its next step. An event that fills the next step is not forbidden.',
    )
  if (steps.some((step) => step.optional))
    text.push(
      'An optional step is filled by the first event that fits between the required steps around it, and nobody is lost for lack of it.',
    )
  text.push(
    'Rates stand with their 95 % Wilson intervals. Lost here: filled this step and not the next. Median times are from the required step before, over those who got there.',
    'Those whose time is not over yet count as not converted, and are told of separately as still open.',
    `Days of the time asked about are cut in ${zone}.`,
  )
  if (question.breakdowns?.length)
    text.push(
      `Groups are read at step ${(question.readAt ?? 0) + 1} of the counted attempt, a profile property as it was then. Groups are ranked by how many start. Differences are against all the others together, of segments against the first, with Newcombe’s interval and a two-proportion test adjusted over the groups.`,
    )
  if (show?.form === 'after')
    text.push(
      'After a loss: the events of those lost at the step for good, in the time after their last step filled. Those who may still go on are left out.',
    )
  if (show?.form === 'apart')
    text.push(
      'What sets them apart: events after the start and before getting through, or up to the end of the time limit; by people, at least 10 of whom did it. Ranked by the absolute phi coefficient; p from the pooled two-proportion test, adjusted over all that are told. It is association: it does not say what causes what. Events of the steps, and what goes along with a step for nearly everybody, are left out. Properties with more than 200 different values are not looked at.',
    )
  return text
}
