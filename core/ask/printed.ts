import { NOW } from '../words/words.js'
import type { PeopleRef, StudyPeople } from '../analyses/people.js'
import { allKinds, type Question } from '../analyses/registry.js'
import { EVERYBODY, type Rule } from '../segments/rule.js'
import type { EventChoice, EventPick, Filter, PropertyRef } from '../questions/parts.js'
import { quotedText, range } from './atoms.js'
import { chain, either, list, literal, map, maybe, names, readWhole, after, type Reader } from './reader.js'
import { rules, sides } from './rules.js'
import type { Vocabulary } from './vocabulary.js'
import { filters, conditions, splits, breakdownsOf, type Parts } from './printedParts.js'
import { seriesOf } from './printedSeries.js'
import { people } from './printedMarks.js'

/**
 * Reads sentences as Dowser prints them, in full: the very question comes back, save for how its result is drawn.
 * @returns null for any other text
 */
export function readPrinted(text: string, vocabulary: Vocabulary): Question | null {
  // On a page a word joiner keeps the question mark with its word: it comes along when a sentence is copied.
  return readWhole(sentences(vocabulary), text.replaceAll('\u2060', '').trim())
}

const ready = new WeakMap<Vocabulary, Reader<Question>>()

/** The readers of a vocabulary, made once: a sentence may hold others, and every key typed asks again. */
function sentences(vocabulary: Vocabulary): Reader<Question> {
  let reader = ready.get(vocabulary)
  if (!reader) {
    const parts = partsOf(vocabulary)
    reader = either<Question>(...allKinds().map((kind) => kind.printed(parts)))
    ready.set(vocabulary, reader)
  }
  return reader
}

const made = new WeakMap<Vocabulary, Parts>()

/** What sentences are made of, over the names of a workspace; made once for each vocabulary. */
export function partsOf(vocabulary: Vocabulary): Parts {
  const parts = made.get(vocabulary) ?? makeParts(vocabulary)
  made.set(vocabulary, parts)
  return parts
}

function makeParts(vocabulary: Vocabulary): Parts {
  const { thisYear } = vocabulary
  const eventName = names(vocabulary.events.map(({ name, words }) => ({ words, value: name })))
  const event: Reader<EventChoice> = either<EventChoice>(
    map(list(eventName, 'or'), (found) => ({ names: found })),
    map(literal('anything'), () => ({ activity: true as const })),
  )
  const property: Reader<PropertyRef> = names(
    vocabulary.properties.flatMap(({ words, property: of }) => [
      { words, value: of },
      ...(of.of === 'person' ? [{ words: words + NOW, value: { ...of, now: true as const } }] : []),
    ]),
  )
  const filter = filters(property, thisYear)
  const picked = map(
    chain<[EventChoice, Filter | null]>(event, maybe(after(' where ', filter))),
    ([choice, where]): EventPick => ({ event: choice, ...(where ? { where } : {}) }),
  )
  const series = seriesOf(picked, property)
  const period = range(thisYear, { since: 'since ', from: 'from ' })
  const studyPeople = people(thisYear, eventName, property, (text, at) => sentences(vocabulary)(text, at))
  const ruled = rules({
    ...{ thisYear, property, picked, condition: conditions(property, thisYear) },
    ...{ segments: vocabulary.segments, people: studyPeople },
  })
  const side = sides(ruled)
  const split = splits(property, side)
  const among: Reader<{ among?: PeopleRef }> = map(
    chain<[PeopleRef | null, unknown]>(maybe(amongOf(ruled, studyPeople)), maybe(literal(', with nobody left out'))),
    ([found, everybody]): { among?: PeopleRef } => {
      if (everybody !== null) return { among: { ...(found ?? { rule: EVERYBODY }), everybody: true } }
      return found ? { among: found } : {}
    },
  )
  return {
    thisYear,
    event,
    property,
    filter,
    picked,
    series,
    side,
    split,
    breakdowns: breakdownsOf(split),
    period,
    among,
  }
}

/** ", among “Regulars”", ", not among “Regulars”", ", among people (…)", ", among those …". */
function amongOf({ rule, segment }: ReturnType<typeof rules>, studyPeople: Reader<StudyPeople>): Reader<PeopleRef> {
  const moment = map(quotedText, (text) => {
    const ms = Date.parse(text)
    return Number.isNaN(ms) ? null : ms
  })
  const came = map(
    chain<['in' | 'out', Rule, number, { at?: number }]>(
      either<'in' | 'out'>(
        map(literal(', among people who came into '), () => 'in' as const),
        map(literal(', among people who went out of '), () => 'out' as const),
      ),
      rule,
      after(' between ', moment),
      either<{ at?: number }>(
        map(literal(' and now'), () => ({})),
        map(after(' and ', moment), (at) => ({ at })),
      ),
    ),
    ([which, own, since, until]): PeopleRef => ({ rule: own, came: which, since, ...until }),
  )
  return either<PeopleRef>(
    map(after(', among ', segment), (id) => ({ rule: { kind: 'segment', segment: id } })),
    map(after(', not among ', segment), (id) => ({ rule: { kind: 'segment', segment: id, not: true } })),
    came,
    map(
      chain<[Rule, number | null]>(after(', among people ', rule), maybe(after(' as of ', moment))),
      ([own, at]): PeopleRef => ({ rule: own, ...(at === null ? {} : { at }) }),
    ),
    after(', among those ', studyPeople),
  )
}
