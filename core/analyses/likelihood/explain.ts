import { eventWords, type Words } from '../../words/words.js'
import { backOf, type LikelihoodQuestion } from './question.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainLikelihood(question: LikelihoodQuestion, zone: string, words: Words): string[] {
  const { days, again, lately } = question
  const back = backOf(question)
  const goal = eventWords(question.goal.event, words)
  return [
    `The cut-off lies ${days} × 24 hours before the moment of training. ${again ? 'Everybody seen at or before it counts' : `Whoever was seen at or before it and had not done ${goal} by then counts`}${lately ? `, if they did anything in the ${back} × 24 hours before` : ''}. The outcome: ${goal} later than the cut-off and at most ${days} × 24 hours later.`,
    `What is looked at is what was done in the ${back} × 24 hours up to the cut-off, and nothing after it. Of each event that at least 1 % of the people trained on did: the logarithm of 1 + how often; days since the last one (none: ${back}); the logarithm of 1 + the days on which it was done, as they are cut in ${zone}. And the logarithm of 1 + the days since first seen.`,
    'Of the profile as it was at the cut-off: texts, yes or no, and elements of lists that at least 1 % have, each as a yes or no; having no value is one as well; numbers as numbers, with the mean where there is none; dates not. A value that was first written without a time of its own after the cut-off is not looked at: it may know what came after.',
    'Seven in ten people, by chance that is always the same for a person, are trained on; all that is said of how good it is is told of the other three.',
    'The model is a logistic regression whose weights are held near 0 (L2), numbers in standard deviations from their mean. How strongly is chosen by what it foretells of people held out, in five folds.',
    'A feature that alone tells who does it (area under the curve over 0.98) is likely to know what came after: it is named and left out, unless it is kept on purpose.',
    'The area under the curve is how often, of somebody who did it and somebody who did not, the first has the higher likelihood; ties count half; its interval is DeLong’s. Lift is the rate of a tenth divided by that of all. Intervals of rates are Wilson’s.',
    `Then everyone whom the same rule lets in now is told the likelihood that they will do ${goal} within ${days} × 24 hours from now, by that model, from what they did up to now.`,
  ]
}
