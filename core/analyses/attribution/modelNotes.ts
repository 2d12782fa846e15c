import type { Model, PlainModel } from './question.js'

/** How a model shares a conversion, in a line. */
export const MODEL_NOTES: Record<PlainModel, string> = {
  first: 'All of it to the first touch.',
  last: 'All of it to the last touch.',
  'last other': 'All of it to the last touch that is not direct.',
  linear: 'The same to every touch.',
  decay: 'The nearer to the conversion, the more.',
  '40-20-40': '40 % to the first and to the last, 20 % to those between.',
  '20-20-60': '60 % to the last, 20 % to the first, 20 % to those between.',
  '60-20-20': '60 % to the first, 20 % to the last, 20 % to those between.',
  participation: 'The whole to each value that took part: adds up to more than 100 %.',
  removal: 'By what would be lost without it, from the ways of all people.',
  shapley: 'By what it adds to others, from the ways of all people.',
}

export const modelNote = (model: Model): string =>
  typeof model === 'string'
    ? MODEL_NOTES[model]
    : `${model.own[0]} % to the first, ${model.own[2]} % to the last, ${model.own[1]} % to those between.`
