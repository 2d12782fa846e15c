/**
 * Words that mean the same wherever products are analysed, and forms that no rule of English gives: a name answers to any
 * word of its row. Kept short: a workspace's own synonyms stand in its catalog.
 */
const SAME: readonly string[] = [
  'buy bought purchase order sell sold sale',
  'sign register join',
  'refuse reject decline deny',
  'view see look visit',
  'complete finish',
  'create make made',
  'cancel end quit',
  'return refund',
  'open launch start',
  'invite refer',
  'cart basket',
  'subscription subscribe subscriber upgrade',
  'district area neighbourhood',
  'country countries nation',
  'age ages',
  'ad ads advert advertising advertisement',
]

/** Forms of verbs by what they are forms of. */
const FORMS: ReadonlyMap<string, string> = new Map(
  `rode:ride ridden:ride bought:buy sold:sell sent:send paid:pay made:make got:get took:take taken:take wrote:write written:write froze:freeze frozen:freeze met:meet chose:choose chosen:choose began:begin begun:begin left:leave spent:spend saw:see seen:see done:do cities:city countries:country`
    .split(/\s+/)
    .map((pair) => pair.split(':') as [string, string]),
)

/** What a word is a form of, where no ending tells it. */
export const baseForm = (word: string): string => FORMS.get(word) ?? word

let rows: Map<string, number> | null = null

/** The row of words that mean the same as one; −1 where it is in none. @param stemOf what forms of a word share */
export function rowOf(stem: string, stemOf: (word: string) => string): number {
  rows ??= new Map(SAME.flatMap((row, index) => row.split(' ').map((word): [string, number] => [stemOf(word), index])))
  return rows.get(stem) ?? -1
}
