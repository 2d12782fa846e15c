import { count, number, quotedText } from '../../ask/atoms.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'
import { after, chain, either, list, literal, map, maybe, optional, type Reader } from '../../ask/reader.js'
import type { EventPick } from '../../questions/parts.js'
import type { PeopleRef } from '../people.js'
import type { LikelihoodMark } from './marks.js'
import { USUAL_BACK, type Kept, type LikelihoodQuestion } from './question.js'

/** "How likely is each person to do X in the next 14 days, also who did it before, from their last 60 days?" */
export function likelihoods({ picked, among }: Parts): Reader<LikelihoodQuestion> {
  const days = either<number>(
    map(literal('the next day'), () => 1),
    map(chain<[number, unknown]>(after('the next ', count), literal(' days')), ([n]) => n),
  )
  const back = map(
    chain<[number, unknown]>(after('their last ', count), either(literal(' days'), literal(' day'))),
    ([n]) => n,
  )
  const kept = either<Kept>(
    map(after('event ', quotedText), (event) => ({ event })),
    map(after('property ', quotedText), (property) => ({ property })),
  )
  return map(
    chain<[EventPick, number, object, object, object, object, object, { among?: PeopleRef }, unknown]>(
      after('How likely is each person to do ', picked),
      after(' in ', days),
      map(maybe(literal(', also who did it before')), (found): object => (found ? { again: true } : {})),
      optional('back', after(', from ', back)),
      map(
        maybe(
          either(
            literal(', only people seen in those days'),
            literal(`, only people seen in the ${USUAL_BACK} days before`),
          ),
        ),
        (found): object => (found ? { lately: true } : {}),
      ),
      optional('keep', after(', knowing ', list(kept, 'and'))),
      map(maybe(literal(', trained anew by hand')), (found): object => (found ? { retrain: 'by hand' } : {})),
      among,
      maybe(literal('?')),
    ),
    ([goal, next, again, before, lately, keep, retrain, people]): LikelihoodQuestion => ({
      ...{ kind: 'likelihood', goal, days: next, ...again },
      ...{ ...before, ...lately, ...keep, ...retrain, ...people },
      show: { form: 'quality' },
    }),
  )
}

/** "who are from 0 % to 20 % of people from the likeliest on" */
export function likelihoodMarks(_parts: MarkParts): Reader<ReadMark<LikelihoodMark>> {
  return map(
    chain<[number, number, unknown]>(
      after('who are from ', number),
      after(' % to ', number),
      literal(' % of people from the likeliest on'),
    ),
    ([from, to]) => ({ mark: { kind: 'likely', from, to } }),
  )
}
