import { Dictionary, type Values } from '../log/dictionary.js'
import { hasBit } from '../log/bits.js'
import { sharedCodes, type Column } from '../log/log.js'
import { joinWords } from '../words/format.js'

/** Which of the segments side by side each person is in: what a breakdown by them reads. */
export interface SidesColumn {
  /** by person; a code of the dictionary, whose texts are the places of the sides; 0 = in none */
  codes: NonNullable<Column['codes']>
  dictionary: Values
  names: string[]
}

/**
 * @param members by side the people in it, as bits
 * @param people one more than the largest person number
 * @param parts  the groups are the parts that the segments make, named by their sides as bits
 */
export function sidesColumn(
  members: readonly Uint32Array[],
  names: string[],
  people: number,
  parts = false,
): SidesColumn {
  const dictionary = new Dictionary()
  if (!parts) for (let side = 0; side < members.length; side++) dictionary.code(String(side))
  // By which sides a person is in, as a number: there are few.
  const codeOf: number[] = []
  for (let mask = 0; mask < 1 << members.length; mask++) {
    const sides = members.flatMap((_set, side) => (mask & (1 << side) ? [String(side)] : []))
    if (parts) codeOf.push(mask === 0 ? 0 : dictionary.code(String(mask)))
    else codeOf.push(sides.length === 1 ? dictionary.code(sides[0]) : dictionary.code(sides))
  }
  const codes = sharedCodes(people, dictionary.size)
  for (let person = 0; person < people; person++) {
    let mask = 0
    for (let side = 0; side < members.length; side++) if (hasBit(members[side], person)) mask |= 1 << side
    codes[person] = codeOf[mask]
  }
  return { codes, dictionary, names: parts ? partNames(names) : names }
}

/** What the parts are called, by their sides as bits. */
function partNames(names: readonly string[]): string[] {
  return Array.from({ length: 1 << names.length }, (_, mask) =>
    joinWords(
      names.filter((_name, side) => (mask & (1 << side)) !== 0),
      'and',
    ),
  )
}
