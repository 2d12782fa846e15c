import { literal, after, chain, either, list, map, maybe, type Reader } from '../../ask/reader.js'
import { quotedText } from '../../ask/atoms.js'
import { limit, type MarkParts, type Parts, type ReadMark } from '../../ask/printedParts.js'
import type { TimeLimit } from '../../questions/limits.js'
import type { EventPick } from '../../questions/parts.js'
import type { Range } from '../../time/range.js'
import type { PeopleRef } from '../people.js'
import { effectSteps, type EffectMark, type EffectStep } from './marks.js'
import type { EffectQuestion } from './question.js'
import { AGAINST, MOVING } from './sentence.js'
import { ALONE, ANY_VARIANT, STEP_WORDS } from './words.js'

/** "Does the message “Third ride” (“A” and “B”) bring Ride completed within 3 days, …, of those who came in …?" */
export function effects({ picked, breakdowns, period, among }: Parts): Reader<EffectQuestion> {
  return map(
    chain<
      [
        string,
        string[],
        EventPick,
        TimeLimit,
        string | null,
        string | null,
        Range,
        object,
        { among?: PeopleRef },
        unknown,
      ]
    >(
      after('Does the message ', quotedText),
      after(' (', list(quotedText, 'and')),
      after(') bring ', picked),
      after(' within ', limit),
      maybe(literal(AGAINST)),
      maybe(literal(MOVING)),
      after(', of those who came in ', period),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([message, variants, goal, within, alone, moving, range, groups, people]): EffectQuestion => ({
      ...{ kind: 'effect', message, variants, goal, within, range },
      ...(alone ? {} : { nobodyAlone: true as const }),
      ...(moving ? { moving: true as const } : {}),
      ...groups,
      ...people,
      show: { form: 'effect' },
    }),
  )
}

/** "who opened it, of “One ride to go” (Annual)". */
export const effectMarks = ({ details }: MarkParts): Reader<ReadMark<EffectMark>> =>
  map(
    chain<[EffectStep, object, object]>(
      // The longer ones first: one begins like another.
      either<EffectStep>(
        ...[...effectSteps]
          .sort((a, b) => STEP_WORDS[b].length - STEP_WORDS[a].length)
          .map((step) => map(literal(STEP_WORDS[step]), () => step)),
      ),
      after(
        ', ',
        either<object>(
          map(literal(ALONE), () => ({ alone: true })),
          map(literal(ANY_VARIANT), () => ({})),
          map(after('of ', quotedText), (variant) => ({ variant })),
        ),
      ),
      details,
    ),
    ([step, of, more]) => ({ mark: { kind: 'came', step, ...of, ...more } as EffectMark }),
  )
