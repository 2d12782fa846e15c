import { count, number } from '../../ask/atoms.js'
import { keys, type MarkParts, type Parts, type ReadMark } from '../../ask/printedParts.js'
import {
  after,
  chain,
  either,
  list,
  literal,
  many,
  map,
  maybe,
  optional,
  pattern,
  type Reader,
} from '../../ask/reader.js'
import type { EventPick } from '../../questions/parts.js'
import type { Range } from '../../time/range.js'
import type { PeopleRef } from '../people.js'
import type { AttributionMark, TouchKey } from './marks.js'
import {
  attributionUnits,
  plainModels,
  type AttributionQuestion,
  type AttributionUnit,
  type LookBack,
  type Model,
  type TouchBy,
} from './question.js'
import { MODEL_NAMES } from './words.js'

const model: Reader<Model> = either<Model>(
  ...plainModels.map((each) => map(literal(MODEL_NAMES[each]), (): Model => each)),
  pattern(/own (\d{1,3})-(\d{1,3})-(\d{1,3})/uy, ([, ...parts]): Model => {
    const [first, middle, last] = parts.map(Number)
    return { own: [first, middle, last] }
  }),
)

const yes = (name: string, text: string) =>
  optional(
    name,
    map(literal(text), () => true as const),
  )

/** "What brought people to Pass bought over the last 90 days, by Channel, looking back 30 days, told by last touch?" */
export function attributions({ picked, property, breakdowns, period, among }: Parts): Reader<AttributionQuestion> {
  const lookBack = map(
    chain<[number, LookBack['unit'], unknown]>(
      number,
      either<LookBack['unit']>(
        map(literal(' day'), () => 'day' as const),
        map(literal(' session'), () => 'session' as const),
      ),
      maybe(literal('s')),
    ),
    ([n, unit]): LookBack => ({ count: n, unit }),
  )
  const by = either<TouchBy>(
    property,
    map(literal('Event'), () => ({ of: 'event name' as const })),
  )
  const worth = either<AttributionQuestion['worth']>(
    map(literal('counting people'), () => 'people' as const),
    map(after('adding up ', property), (sum) => ({ sum })),
  )
  const every = either<AttributionUnit>(...attributionUnits.map((unit) => map(literal(`, each ${unit}`), () => unit)))
  return map(
    chain<
      [
        EventPick[],
        Range,
        TouchBy,
        object,
        object,
        LookBack,
        object,
        Model[],
        object,
        object,
        object,
        object,
        object,
        object,
        { among?: PeopleRef },
        unknown,
      ]
    >(
      map(
        chain<[EventPick, EventPick[]]>(after('What brought people to ', picked), many(after(' and to ', picked))),
        ([first, others]) => [first, ...others],
      ),
      after(' ', period),
      after(', by ', by),
      optional('touches', after(', touches are ', picked)),
      optional('leftOut', after(', leaving out ', list(keys, 'and'))),
      after(', looking back ', lookBack),
      optional('direct', after(', direct is ', list(keys, 'and'))),
      after(', told by ', list(model, 'and')),
      optional(
        'halfLife',
        map(
          chain<[number, unknown]>(after(', half-life ', number), either(literal(' days'), literal(' day'))),
          ([days]) => days,
        ),
      ),
      optional('worth', after(', ', worth)),
      yes('first', ', only the first of each person'),
      optional('every', every),
      yes('costs', ', beside what it cost'),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([goals, range, told, touches, leftOut, back, direct, models, ...more]) =>
      ({
        ...{ kind: 'attribution', goals, range, by: told, lookBack: back, models },
        ...touches,
        ...leftOut,
        ...direct,
        ...(Object.assign({}, ...more.slice(0, -1)) as object),
        show: { form: 'table' },
      }) as AttributionQuestion,
  )
}

/** "who converted to conversion 2 after Search by last touch in the week of 14 Sep (Annual)". */
export function attributionMarks({ bucket, key, details }: MarkParts): Reader<ReadMark<AttributionMark>> {
  const goal = map(maybe(after(' to conversion ', count)), (place) =>
    place === null || place === 1 ? {} : { goal: place - 1 },
  )
  const touch = key as Reader<TouchKey>
  const along = map(
    chain<[unknown, object, TouchKey, TouchKey[]]>(
      literal('who converted'),
      goal,
      after(' along ', touch),
      many(after(' › ', touch)),
    ),
    ([, of, first, rest]) => ({ mark: { kind: 'touches', ...of, values: [first, ...rest] } as AttributionMark }),
  )
  const credited = map(
    chain<[unknown, object, object, object, object, object, object, object, object]>(
      literal('who converted'),
      goal,
      yes('none', ' without a touch'),
      optional(
        'many',
        map(chain<[number, unknown]>(after(' with ', count), literal(' touches')), ([n]) => n),
      ),
      optional('age', after(' at age ', count)),
      optional('value', after(' after ', touch)),
      optional('model', after(' by ', model)),
      optional('bucket', after(' in ', bucket)),
      details,
    ),
    ([, ...parts]) => ({ mark: { kind: 'credit', ...(Object.assign({}, ...parts) as object) } as AttributionMark }),
  )
  return either<ReadMark<AttributionMark>>(along, credited)
}
