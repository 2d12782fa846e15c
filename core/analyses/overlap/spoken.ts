import { sideRule } from '../../segments/side.js'
import type { Rule } from '../../segments/rule.js'
import { joinWords } from '../../words/format.js'
import { sideWords, type Words } from '../../words/words.js'
import { soundOf, type SpokenKind } from '../kind.js'
import { ruleOfPeople } from '../peopleRule.js'
import type { OverlapMark } from './marks.js'
import { partsRef, type OverlapQuestion } from './question.js'
import { overlapSentence } from './sentence.js'

export const spokenOverlap: SpokenKind<OverlapQuestion, OverlapMark> = {
  kind: 'overlap',
  name: 'Overlap',
  sentence: overlapSentence,
  readAsOf: () => 'when each event happened',
  marks: {
    kinds: ['part'],
    words: partWords,
    exact: (_study, mark) => `in part ${partPlaces(mark.in)}${mark.more ? ' or more' : ''}`,
    places: ({ sides }, words) =>
      sides.map((side, index) => ({
        key: `side ${index}`,
        label: `Is in ${sideWords(side, words)} and in no other of them`,
        value: { kind: 'part', in: [index] },
      })),
    rule: partRule,
    timed: () => false,
    plain: (study) => study,
  },
  splits: ({ sides }) => [{ by: partsRef(sides), path: [] }],
  rest: {
    parts: ['sides', 'figure'],
    without(question, wrong) {
      const { figure, ...plain } = question
      const sides = soundOf(wrong, 'sides', question.sides)
      return sides.length === 0 ? null : { ...plain, sides, ...(figure && !wrong.has('figure') ? { figure } : {}) }
    },
  },
}

/** `are in App buyers and Kiosk buyers, and not in Website buyers`. */
function partWords({ sides }: OverlapQuestion, mark: OverlapMark, words: Words): string {
  const name = (side: number) => (sides[side] ? sideWords(sides[side], words) : '…')
  const inside = mark.in.map(name)
  const outside = mark.more ? [] : sides.map((_, side) => side).filter((side) => !mark.in.includes(side))
  const not = outside.length > 0 ? `, and not in ${joinWords(outside.map(name), 'or')}` : ''
  return `are in ${joinWords(inside, 'and')}${not}`
}

function partPlaces(inside: readonly number[]): string {
  return joinWords(
    inside.map((side) => String(side + 1)),
    'and',
  )
}

/** In these segments, and in none of the others. */
function partRule({ sides, among }: OverlapQuestion, mark: OverlapMark): Rule | null {
  const of: Rule[] = mark.in.flatMap((side) => (sides[side] ? [sideRule(sides[side])] : []))
  const others = mark.more ? [] : sides.filter((_side, place) => !mark.in.includes(place)).map(sideRule)
  if (others.length > 0) of.push({ hold: 'none', of: others })
  if (among) {
    const inner = ruleOfPeople(among)
    if (!inner) return null
    of.push(inner)
  }
  return { hold: 'all', of }
}
