import type { FunnelShow } from '../analyses/funnel/question.js'
import type { StudyPeople } from '../analyses/people.js'
import type { Question } from '../analyses/registry.js'
import type { GroupKey, Mark, NestedKey, PropertyRef, TimeLimit, ValueKey } from '../questions/parts.js'
import type { Unit } from '../time/range.js'
import { count, day, month, number, quotedText } from './atoms.js'
import { chain, either, list, literal, many, map, maybe, optional, after, type Reader } from './reader.js'
import { daysMarks, gapMarks, stateMarks } from './printedHabits.js'
import { cohortMarks } from './printedRetention.js'
import { limit, keys } from './printedParts.js'

/** "in the week of 14 Sep (Annual) of “How many …?”", after "those". */
export function people(
  thisYear: number,
  eventName: Reader<string>,
  property: Reader<PropertyRef>,
  study: Reader<Question>,
): Reader<StudyPeople> {
  const date = day(thisYear)
  const bucket = either<string>(
    after('the week of ', date),
    after('the quarter from ', date),
    month(thisYear),
    date,
    quotedText,
  )
  const key = either<NestedKey>(
    map(literal('everything else'), () => ({ rest: true as const })),
    keys,
  )
  const unreached = map(literal('did not get there'), (): GroupKey => ({ unreached: true }))
  const group = map(chain<[NestedKey, ValueKey[]]>(key, many(after(' · ', keys))), ([first, more]): GroupKey | null => {
    if (more.length === 0) return first
    return 'rest' in first ? null : { each: [first, ...more] }
  })
  const place = (name: string) => map(after(`${name} `, count), (n) => n - 1)
  const detail = either<object>(
    map(place('series'), (series) => ({ series })),
    map(place('formula'), (formula) => ({ formula })),
    map(unreached, (each) => ({ group: each })),
    map(group, (each) => ({ group: each })),
  )
  const details = map(
    maybe(
      map(
        chain<[object, object[], string]>(after(' (', detail), many(after('; ', detail)), literal(')')),
        ([first, more]): object => Object.assign({}, first, ...more) as object,
      ),
    ),
    (found) => found ?? {},
  )
  const point = map(
    chain<[object, object, object, object]>(
      either<object>(
        map(literal('at any time'), () => ({})),
        map(after('in ', bucket), (found) => ({ bucket: found })),
      ),
      map(maybe(literal(' of the time it is compared with')), (found) => (found ? { before: true } : {})),
      optional('not', after(' and not in ', bucket)),
      details,
    ),
    (parts) => ({ kind: 'point', ...Object.assign({}, ...parts) }) as Mark,
  )
  const cell = map(
    chain<[NestedKey[], object, object, object]>(
      either<NestedKey[]>(
        map(literal('in all rows'), () => []),
        map(chain<[NestedKey, NestedKey[]]>(after('in the row ', key), many(after(' › ', key))), ([a, b]) => [a, ...b]),
      ),
      optional('column', after(' and the column ', key)),
      optional('bucket', after(' in ', bucket)),
      details,
    ),
    ([row, ...parts]) => ({ ...{ kind: 'cell', row }, ...Object.assign({}, ...parts) }) as Mark,
  )
  const part = map(
    chain<[number[], unknown]>(after('in part ', list(count, 'and')), maybe(literal(' or more'))),
    ([inside, more]): Mark => ({
      ...{ kind: 'part', in: inside.map((n) => n - 1) },
      ...(more ? { more: true as const } : {}),
    }),
  )
  const plainMark = map(
    either<Mark>(part, point, cell, cohortMarks(bucket, details), stateMarks(date), daysMarks(date, details), gapMarks),
    (found): FunnelMark => ({
      mark: found,
    }),
  )
  const mark = either<FunnelMark>(plainMark, funnelMarks({ thisYear, eventName, property, details }))
  return map(
    chain<[FunnelMark, FunnelMark[], Question]>(
      mark,
      many(after(', or ', mark)),
      map(chain<[Question, string]>(after(' of “', study), literal('”')), ([found]) => found),
    ),
    ([first, more, found]) => {
      const all = [first, ...more]
      const show = all.find((each) => each.show)?.show
      const asked = show && found.kind === 'funnel' ? { ...found, show } : found
      return { study: asked, marks: all.map((each) => each.mark) }
    },
  )
}

interface FunnelParts {
  thisYear: number
  eventName: Reader<string>
  property: Reader<PropertyRef>
  details: Reader<object>
}

/** "lost at step 2, begun in the week of 14 Sep", "who took at least 0 ms from step 1 to step 2", and so on. */
function funnelMarks({ thisYear, eventName, property, details }: FunnelParts): Reader<FunnelMark> {
  const stepNumber = map(after(' step ', count), (n) => n - 1)
  const step = map(
    chain<['reached' | 'lost' | 'open' | 'gone', number, object, Begun | null, object]>(
      either<'reached' | 'lost' | 'open' | 'gone'>(
        map(literal('who reached'), () => 'reached' as const),
        map(literal('lost for good at'), () => 'gone' as const),
        map(literal('lost at'), () => 'lost' as const),
        map(literal('still open at'), () => 'open' as const),
      ),
      stepNumber,
      map(maybe(literal(' of the time it is compared with')), (found) => (found ? { before: true } : {})),
      maybe(after(', begun in ', begun(thisYear))),
      details,
    ),
    ([what, at, before, start, more]): FunnelMark => ({
      mark: {
        ...{ kind: 'step', step: at, what },
        ...before,
        ...(start ? { bucket: start.key } : {}),
        ...more,
      } as Mark,
      ...(start ? { show: { form: 'over time', every: start.every } } : {}),
    }),
  )
  const ms = map(chain<[number, string]>(number, literal(' ms')), ([n]) => n)
  const took = map(
    chain<[number, number | null, number, number, object]>(
      after('who took at least ', ms),
      maybe(after(' and under ', ms)),
      after(' from', stepNumber),
      after(' to', stepNumber),
      details,
    ),
    ([least, under, from, to, more]): FunnelMark => ({
      mark: { ...{ kind: 'took', from, to, least }, ...(under === null ? {} : { under }), ...more } as Mark,
    }),
  )
  const repeats = map(
    chain<[number, string, number, string]>(
      after('who did', stepNumber),
      either(literal(' at least '), literal(' exactly ')),
      count,
      literal(' times before going on'),
    ),
    ([at, how, times]): FunnelMark => ({
      mark: { ...{ kind: 'repeats', step: at, times }, ...(how.includes('least') ? { more: true } : {}) } as Mark,
    }),
  )
  const within = either<TimeLimit | 'session'>(
    map(literal(' in the same session'), () => 'session' as const),
    after(' within ', limit),
  )
  const afterLoss = map(
    chain<[number, string | null, TimeLimit | 'session']>(
      after('lost for good at', stepNumber),
      either<string | null>(
        map(literal(' who did nothing more'), () => ''),
        after(' who then did ', eventName),
      ),
      within,
    ),
    ([at, event, limited]): FunnelMark => ({
      mark: { kind: 'after', step: at, event: event === '' ? null : event, within: limited },
      show: { form: 'after', step: at, within: limited },
    }),
  )
  const withValue = map(chain<[PropertyRef, ValueKey]>(after(' with ', property), after(' ', keys)), ([ref, found]) =>
    ref.of === 'event' && 'value' in found ? { property: ref.name, value: found.value } : null,
  )
  const withFeature = map(
    chain<[string, object | null, string]>(
      after('who did ', eventName),
      maybe(withValue),
      either(literal(' on the way and got through'), literal(' on the way and were lost')),
    ),
    ([event, value, how]): FunnelMark => ({
      mark: { ...{ kind: 'with', event }, ...value, through: how.endsWith('through') } as Mark,
      show: { form: 'apart' },
    }),
  )
  const way = map(
    either<Pick<Mark & { kind: 'way' }, 'events' | 'only'>>(
      map(literal('who got through straight away'), () => ({ events: [] })),
      map(chain<[string, string]>(after('who got through and did ', eventName), literal(' on the way')), ([event]) => ({
        events: [event],
        only: true as const,
      })),
      map(
        chain<[string, string[]]>(after('who got through by way of ', eventName), many(after(' › ', eventName))),
        ([first, more]) => ({ events: [first, ...more] }),
      ),
    ),
    (found): FunnelMark => ({ mark: { kind: 'way', ...found }, show: { form: 'between' } }),
  )
  return either<FunnelMark>(afterLoss, step, took, repeats, withFeature, way)
}

/** A mark, and the look at its funnel that it belongs to. */
interface FunnelMark {
  mark: Mark
  show?: FunnelShow
}

interface Begun {
  key: string
  every: Unit
}

/** "the week of 14 Sep": by what time a funnel's attempts are gathered, and in which. */
function begun(thisYear: number): Reader<Begun> {
  const date = day(thisYear)
  const by = (every: Unit) => (key: string) => ({ key, every })
  return either<Begun>(
    map(after('the week of ', date), by('week')),
    map(after('the quarter from ', date), by('quarter')),
    map(month(thisYear), by('month')),
    map(date, by('day')),
    map(quotedText, by('hour')),
  )
}
