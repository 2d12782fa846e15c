import { limitWords } from '../../words/limitWords.js'
import { eventWords, type Words } from '../../words/words.js'
import type { EffectQuestion } from './question.js'

export function explainEffect(question: EffectQuestion, zone: string, words: Words): string[] {
  const event = eventWords(question.goal.event, words)
  return [
    `Who comes into a message goes to a variant, or is left alone, by chance that depends on who they are and on nothing else. Of each person only the first entry counts, in the days asked about (${zone}); later ones are told apart.`,
    `Somebody did what it is for if they did ${event} later than they came in and at most ${limitWords(question.within)} after it. Rates and effects are of those whose ${limitWords(question.within)} are over, as assigned and not as received: who was never reached counts with the others of their variant.`,
    'Sent is of those who came in, delivered of those it was sent to, opened of those it reached, pressed of those who opened it (who pressed has opened it), declined of those it reached. These are of everybody who came in.',
    'The effect is the rate of the variants less that of those left alone, in points, with its 95 % interval (Newcombe) and a test of two proportions. Of several variants each has its p adjusted by Holm; intervals are not adjusted. Where an interval and p disagree at the edge, p decides.',
    ...(question.nobodyAlone
      ? ['Nobody was left alone, so there is nothing to compare with, and no effect is told.']
      : []),
    ...(question.moving
      ? [
          'The shares of the variants moved while it ran, so variants differ in when their people came in: only all of them together are compared with those left alone.',
        ]
      : []),
    ...(question.breakdowns?.length
      ? [
          'A profile property is read as of when people came in. The effect in each group has its p adjusted for all the groups (Benjamini–Hochberg).',
        ]
      : []),
    'While people still come in, somebody who looks every day sees a difference sooner or later where there is none. Until everybody’s time is over a difference is told only at p under 0.0075, as for twenty looks.',
  ]
}
