import type { Recipe } from '../../core/made/definitions.js'
import { sentenceText } from '../../core/words/sentence.js'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { sentenceOf } from '../analyses/words.js'
import type { Derived } from '../../core/made/definitions.js'
import { propertyWords, type Words } from '../../core/words/words.js'

/** What one starts from here; a chance is kept from the page of its study. */
export type RecipeStart = Exclude<Recipe['kind'], 'chance'>

/** The ways in which a property can be worked out, as they are offered. */
export const RECIPES: { kind: RecipeStart; label: string; example: string }[] = [
  { kind: 'arithmetic', label: 'Arithmetic on numbers', example: 'fare ÷ minutes' },
  { kind: 'rules', label: 'First rule that holds', example: 'short, medium or long' },
  { kind: 'date part', label: 'A part of a date', example: 'weekday, hour, month' },
  { kind: 'link part', label: 'A part of a link', example: 'host, path, a value of the query' },
  { kind: 'joined', label: 'Texts joined', example: 'district and dock' },
  { kind: 'touch', label: 'First or latest of a person', example: 'the first campaign of each person' },
  { kind: 'look-up', label: 'A look-up list', example: 'codes and their names' },
]

/** How a property is worked out, in a line. */
export function recipeWords({ recipe }: Derived, words: Words): string {
  switch (recipe.kind) {
    case 'arithmetic':
      return recipe.formula
    case 'joined':
      return recipe.parts
        .map((part) => ('text' in part ? `“${part.text}”` : propertyWords(part.property, words)))
        .join(' + ')
    case 'date part':
      return `${recipe.part} of ${recipe.input.of === 'time' ? 'the event’s time' : propertyWords(recipe.input, words)}`
    case 'link part':
      return `${recipe.part}${recipe.key ? ` ${recipe.key}` : ''} of ${propertyWords(recipe.input, words)}`
    case 'rules':
      return `the first of ${recipe.rows.length} rules that holds`
    case 'chance':
      return `${recipe.part === 'score' ? 'in percent' : 'as the tenth one stands in, 1 being the likeliest'}: ${sentenceText(sentenceOf(asQuestion(recipe.study), words))}`
    case 'touch':
      return `the ${recipe.which} ${propertyWords(recipe.property, words)} of the person’s events`
    case 'look-up':
      return `${propertyWords(recipe.input, words)} looked up in a list of ${recipe.table.length}`
  }
}
