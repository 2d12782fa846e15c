import type { StudyPeople } from '../analyses/people.js'
import { kindOf } from '../analyses/kinds.js'
import { allKinds, type Question } from '../analyses/registry.js'
import type { GroupKey, NestedKey, PropertyRef, ValueKey } from '../questions/parts.js'
import type { AnyMark } from '../questions/study.js'
import { count, day, month, quotedText, year } from './atoms.js'
import { chain, either, literal, many, map, maybe, after, type Reader } from './reader.js'
import { keys, type MarkParts, type ReadMark } from './printedParts.js'

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
    year,
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
  const own: MarkParts = { ...{ thisYear, eventName, property, date, bucket, details }, key }
  const mark = either<ReadMark<AnyMark>>(...allKinds().map((kind) => kind.printedMarks(own)))
  return map(
    chain<[ReadMark<AnyMark>, ReadMark<AnyMark>[], Question]>(
      mark,
      many(after(', or ', mark)),
      map(chain<[Question, string]>(after(' of “', study), literal('”')), ([found]) => found),
    ),
    ([first, more, found]) => {
      const all = [first, ...more]
      const shown = all.find(({ show }) => show)
      const isOwn = shown && kindOf(found.kind).marks.kinds.some((kind) => kind === shown.mark.kind)
      const study = isOwn ? { ...found, show: shown.show } : found
      return { study, marks: all.map((each) => each.mark) }
    },
  )
}
