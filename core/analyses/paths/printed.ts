import { count } from '../../ask/atoms.js'
import { keys, limit, type MarkParts, type Parts, type ReadMark } from '../../ask/printedParts.js'
import { after, chain, either, list, literal, many, map, maybe, optional, type Reader } from '../../ask/reader.js'
import type { TimeLimit } from '../../questions/limits.js'
import type { EventPick, NestedKey } from '../../questions/parts.js'
import type { Range } from '../../time/range.js'
import type { PeopleRef } from '../people.js'
import type { PathPlace, PathsMark } from './marks.js'
import { MOST_KEEP, USUAL_KEEP, type Opened, type PathNode, type PathsQuestion } from './question.js'

const yes = (name: string, text: string) =>
  optional(
    name,
    map(literal(text), () => true as const),
  )

/** An event, or one of its values. */
function nodes(eventName: Reader<string>, key: Reader<NestedKey>): Reader<PathNode> {
  return map(chain<[string, NestedKey | null]>(eventName, maybe(after(' with value ', key))), ([event, value]) => {
    if (value === null) return { event }
    return 'value' in value ? { event, value: value.value } : null
  })
}

/** The three questions, with all that can be set. */
export function paths({ picked, event, property, breakdowns, period, among }: Parts): Reader<PathsQuestion> {
  const far = map(chain<[number, unknown]>(count, either(literal(' steps'), literal(' step'))), ([n]) => n)
  const name = map(event, (choice) => ('names' in choice && choice.names.length === 1 ? choice.names[0] : null))
  const occurrences = (text: string) => map(literal(text), (): object => ({ count: 'occurrences' }))
  const people = (text: string) => map(literal(text), (): object => ({}))
  const between = map(
    chain<[EventPick, EventPick, object, number]>(
      after('Between ', picked),
      after(' and ', picked),
      either(occurrences(', what happens every time, '), people(', what do people do, ')),
      far,
    ),
    ([start, end, counted, steps]): object => ({ start, end, steps, ...counted }),
  )
  const back = map(
    chain<[object, EventPick, number, string]>(
      either(occurrences('What leads every time to '), people('What brings people to ')),
      picked,
      after(', ', far),
      literal(' back'),
    ),
    ([counted, start, steps]): object => ({ start, backward: true, steps, ...counted }),
  )
  const forward = map(
    chain<[EventPick, object, number]>(
      after('After ', picked),
      either(occurrences(', what comes every time next, '), people(', what do people do next, ')),
      far,
    ),
    ([start, counted, steps]): object => ({ start, steps, ...counted }),
  )
  const opened = map(chain<[string, Opened['by']]>(name, after(' by ', property)), ([own, by]): Opened => ({
    ...{ event: { names: [own] }, by },
  }))
  const through = map(chain<[PathNode, number]>(nodes(name, keys), after(' at step ', count)), ([node, step]) => ({
    step,
    node,
  }))
  return map(
    chain<
      [
        object,
        TimeLimit,
        Range,
        object,
        object,
        object,
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
      either<object>(between, back, forward),
      after(', within ', limit),
      after(', ', period),
      yes('session', ', within one session'),
      yes('unfolded', ', every repeat by itself'),
      map(
        maybe(
          chain<[number, unknown, number[] | null]>(
            after(', at most ', count),
            either(literal(' ways a step'), literal(' way a step')),
            maybe(after(`, up to ${MOST_KEEP} at step `, list(count, 'and'))),
          ),
        ),
        (found) => (found ? { keep: found[0], ...(found[2] ? { wide: found[2] } : {}) } : {}),
      ),
      optional(
        'leaveOut',
        map(after(', leaving out ', list(name, 'and')), (names) => ({ event: { names } })),
      ),
      optional('contains', after(', only ways with ', list(picked, 'and'))),
      optional('lacks', after(', no ways with ', list(picked, 'and'))),
      optional('open', after(', opening ', list(opened, 'and'))),
      optional('through', after(', only ways through ', list(through, 'and'))),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([head, window, range, ...more]) =>
      ({
        ...{ kind: 'paths', ...head, window, range, keep: USUAL_KEEP },
        ...(Object.assign({}, ...more.slice(0, -1)) as object),
        show: { form: 'stream' },
      }) as PathsQuestion,
  )
}

/** "at step 2 Card added, from Help asked", "who went Card added › Ride unlocked". */
export function pathMarks({ eventName, key, details }: MarkParts): Reader<ReadMark<PathsMark>> {
  const node = nodes(eventName, key)
  const place = either<PathPlace>(
    map(literal('everything else'), () => ({ rest: true as const })),
    map(literal('ends here'), () => ({ ends: true as const })),
    node,
  )
  const anchor = either<object>(
    map(literal('who did not get there for good'), () => ({ kind: 'anchor', got: false, forGood: true })),
    map(literal('who began a way'), () => ({ kind: 'anchor' })),
    map(literal('who got there'), () => ({ kind: 'anchor', got: true })),
    map(literal('who did not get there'), () => ({ kind: 'anchor', got: false })),
    map(literal('who came by the start again'), () => ({ kind: 'loop' })),
  )
  const at = map(
    chain<[number, PathPlace, string | null, PathPlace | null]>(
      after('at step ', count),
      after(' ', place),
      maybe(literal(' for good')),
      maybe(after(', from ', place)),
    ),
    ([step, where, over, from]): object => ({
      ...{ kind: 'node', step, place: where },
      ...(from ? { from } : {}),
      ...(over ? { forGood: true } : {}),
    }),
  )
  const way = map(
    chain<[PathNode[], string | null]>(
      either<PathNode[]>(
        map(literal('who went no way'), () => []),
        map(chain<[PathNode, PathNode[]]>(after('who went ', node), many(after(' › ', node))), ([first, rest]) => [
          first,
          ...rest,
        ]),
      ),
      maybe(literal(' and more')),
    ),
    ([found, more]): object => ({ kind: 'way', nodes: found, ...(more ? { more: true } : {}) }),
  )
  return map(chain<[object, object]>(either<object>(at, way, anchor), details), ([mark, more]) => ({
    mark: { ...mark, ...more } as PathsMark,
  }))
}
