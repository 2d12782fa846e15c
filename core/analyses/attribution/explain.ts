import { modelNote } from './modelNotes.js'
import { eventWords, type Words } from '../../words/words.js'
import { USUAL_HALF_LIFE, type AttributionQuestion } from './question.js'
import { halfLifeWords, lookBackWords, modelWords, touchByWords } from './words.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainAttribution(question: AttributionQuestion, zone: string, words: Words): string[] {
  const { goals, by, every, lookBack, models, worth, first, touches, leftOut, direct, breakdowns, costs } = question
  const name = touchByWords(by, words)
  const text = [
    `Conversions are ${goals.map(({ event }) => eventWords(event, words)).join(', or ')} in the time asked about, days as they are cut in ${zone}.${first ? ' Of each person only the very first ever counts.' : ' One person may convert several times, and a touch may serve each time.'}`,
    `A touch is ${touches ? `one of ${eventWords(touches.event, words)}` : 'an event of any kind'} with ${by.of === 'event name' ? 'its own name' : `a value of ${name}`}. Of channel rules only what some row caught is one: the fallback is not.`,
    lookBack.unit === 'day'
      ? `Touches count up to ${lookBackWords(lookBack)} of 24 hours before a conversion, also before the time asked about; one at its very moment counts, a later one does not.`
      : `Touches count from the start of the ${lookBack.count === 1 ? 'session of the conversion' : `${lookBack.count} sessions up to the conversion's own`}; one at its very moment counts, a later one does not.`,
    worth === undefined
      ? 'Every conversion is worth 1, and its touches share it: each column adds up to the conversions, those without a touch in a row of their own.'
      : worth === 'people'
        ? 'Each person is worth 1, shared by the touches of their first conversion in this time: each column adds up to the people who converted.'
        : 'Every conversion is worth the number it carries, nothing where it carries none, and its touches share it: each column adds up to the whole.',
    ...models.map((model) => `${modelWords(model)}: ${modelNote(model)}`),
  ]
  if (models.includes('decay'))
    text.push(
      `In time decay a touch weighs half as much for every ${halfLifeWords(question.halfLife ?? USUAL_HALF_LIFE)} that it lies before the conversion.`,
    )
  if (models.includes('last other'))
    text.push(
      direct
        ? 'Where every touch is direct, the last one has the credit.'
        : 'Nothing is said to be direct, so it is the same as last touch.',
    )
  if (models.includes('removal'))
    text.push(
      'Removal effect: ways of touches, runs of one value being one, make a chain in which the next touch depends only on the one before. There is one way for each conversion, and one for each person who did not convert, from the time asked about. What part of conversions would be lost if every way over a value led nowhere shares out the conversions that have a touch. The interval is of 200 draws of people, put by chance into 1,024 groups that are drawn whole.',
    )
  if (models.includes('shapley'))
    text.push(
      'Shapley value: of people with a touch, the part who convert among those who touched nothing but a set of values is what the set is worth; each value has what it adds to such sets on average, less than 0 being 0, scaled to the conversions that have a touch. Up to 12 values all sets are gone through, of more 1,000 orders are drawn, always the same.',
    )
  if (leftOut) text.push('What is left out is no touch: those before and after it share the conversion.')
  if (costs)
    text.push(
      'What was paid is added up by local day, of a week that reaches over the edge of the time each day a seventh. A conversion cost what was paid for its value in this time, divided by the conversions credited to it; of conversions that are worth a number, what came back is the credited sum divided by what was paid. What was paid before the time may have brought conversions in it, and what was paid in it may bring more later.',
    )
  text.push(
    by.of === 'event name'
      ? 'For each event of a trend counts how often it was done; here an event has what it did for the conversions after it.'
      : `For each ${name} as a breakdown, elsewhere, counts an event under its own value, or none where it has none; here what came before it shares the credit.`,
  )
  if (every) text.push(`A conversion belongs to the ${every} that it happened in.`)
  if (breakdowns?.length)
    text.push('Groups are read at each conversion. Removal effect and Shapley value are told of all together only.')
  text.push('Credit shares out what happened. That a touch caused a conversion it does not say; an experiment does.')
  return text
}
