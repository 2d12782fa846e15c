import { beginningOf } from '../analyses/tipping/question.js'
import { build, otherMeasure } from './build.js'
import { usualOverlap } from '../analyses/overlap/question.js'
import type { Question } from '../analyses/registry.js'
import type { Condition } from '../questions/parts.js'
import type { Side } from '../questions/split.js'
import type { RuleGroup } from '../segments/rule.js'
import { peopleRule, readPeopleAsked, valuesApart } from './askPeople.js'
import { eventChoices, type EventChoices } from './choices.js'
import { conditionsFor, readOwnedValues } from './conditions.js'
import { readNamed, splitsFor } from './named.js'
import { readPhrases } from './phrases.js'
import { wordsOf } from './tokens.js'
import { GOT_THERE } from './sorts.js'
import { readMarkers, Text } from './text.js'
import { overlapReading, readSegments, withSegments, type NamedSegment } from './segmentsNamed.js'
import type { AskReading } from './understood.js'
import type { PropertyRef } from '../questions/parts.js'
import type { Vocabulary } from './vocabulary.js'

/** Where people came from, where the workspace knows it by name. */
function touchBy({ properties }: Vocabulary): PropertyRef {
  const found = properties.find(({ property, words, shy }) => !shy && property.of === 'event' && /channel/i.test(words))
  return found?.property ?? { of: 'source' }
}

/** Where people begin: of the events that are asked about, the most frequent first. */
function beginsWith({ events }: Vocabulary): string {
  const known = events.filter(({ shy }) => !shy).sort((a, b) => b.recent - a.recent)
  return beginningOf(known.map(({ name }) => name)) ?? '…'
}

/** Where names stand that hold words which otherwise join: "added to cart". */
function namesWithMarkers(text: Text, { events }: Vocabulary): { from: number; to: number }[] {
  return events.flatMap(({ name, words }) =>
    [words, name].flatMap((each) => {
      const own = wordsOf(each)
      if (own.length < 3) return []
      const regex = new RegExp(`(?<![\\p{L}])${own.join('[ _-]')}(?![\\p{L}])`, 'gu')
      return [...text.lower.matchAll(regex)].map(({ index, 0: found }) => ({ from: index, to: index + found.length }))
    }),
  )
}

/** "to the first ride": of a funnel's steps the first one thereafter counts anyway. */
function firstOfFunnel(text: Text): void {
  text.tokens.forEach(({ word, from, to }, index) => {
    if (word === 'first' && text.isFree(index)) text.take(from, to, 'window', 'the first one thereafter')
  })
}

const inOrder = (text: Text) => [...text.understood].sort((a, b) => a.from - b.from)

/** The steps that a funnel has where none was named: where people begin, and what they are meant to get to. */
function usualSteps(vocabulary: Vocabulary): Pick<EventChoices, 'events' | 'spans'> {
  const known = vocabulary.events.filter(({ shy }) => !shy).sort((a, b) => b.recent - a.recent)
  const begin = known.find(({ name }) => name === beginsWith(vocabulary))
  const end = known.find((each) => each !== begin && GOT_THERE.test(each.words)) ?? known.find((each) => each !== begin)
  const events = [begin, end].filter((each) => each !== undefined)
  return { events, spans: events.map(({ words }) => ({ from: 0, to: 0, means: words, joint: null })) }
}

/** "who bought a pass both at a kiosk and in the app": how the two overlap. */
function kindsOfBoth(
  text: Text,
  { events }: EventChoices,
  where: readonly { condition: Condition }[],
): { question: Question } | null {
  if (!/^\s*who (?:.*)\bboth\b/u.test(text.lower) || events.length !== 1) return null
  const apart = valuesApart(where.map(({ condition }) => condition))
  if (apart?.length !== 2) return null
  const [event] = events
  const sides = apart.map((conditions): Side => ({
    name: conditions.map((each) => ('values' in each ? each.values.join(', ') : '')).join(' '),
    rule: {
      hold: 'all',
      of: [
        {
          ...{ kind: 'did', event: { names: [event.name] } },
          where: conditions.length > 1 ? { all: conditions } : conditions[0]!,
        },
      ],
    },
  }))
  const at = text.lower.indexOf('both')
  text.take(at, at + 4, 'kind', 'an overlap')
  return { question: { ...usualOverlap(''), sides } }
}

function withMembers(rule: RuleGroup, segments: readonly NamedSegment[]): RuleGroup {
  const members = segments.map(({ id, not }) => ({
    kind: 'segment' as const,
    segment: id,
    ...(not ? { not: true as const } : {}),
  }))
  return { ...rule, of: [...rule.of, ...members] }
}

/** Every reading that is worth offering, the best first; the same question may come twice. */
export function readingsOf(text: string, vocabulary: Vocabulary, firstDayOfWeek: number): AskReading[] {
  const base = new Text(text)
  const segments = readSegments(base, vocabulary)
  const overlap = overlapReading(base, segments)
  if (overlap) return [overlap]
  const owned = readOwnedValues(base, vocabulary)
  const people = readPeopleAsked(base, vocabulary)
  const said = readPhrases(base, vocabulary, firstDayOfWeek)
  said.listed = people !== null && said.kind === null
  said.compares ||= /(?<![\p{L}])(?:vs\.?|versus)(?![\p{L}])/u.test(base.lower)
  readMarkers(base, namesWithMarkers(base, vocabulary))
  const { properties, conditions: typed } = readNamed(base, vocabulary, said)
  const conditions = [...owned, ...typed]
  const readings: { reading: AskReading; score: number }[] = []
  for (const choice of eventChoices(base, vocabulary, said, properties.of, conditions, properties.splits)) {
    const work = base.copy()
    for (const { from, to, means } of choice.spans) work.take(from, to, 'event', means)
    const where = conditionsFor(work, conditions, choice.events, vocabulary)
    const settled = { ...properties, splits: splitsFor(work, properties.splits, choice.events) }
    if (people && said.listed && properties.splits.length === 0 && said.every === null) {
      const both = kindsOfBoth(work, choice, where)
      const rule = both ? null : peopleRule(work, said, people, choice, where)
      const found = both ?? (rule && { rule: withMembers(rule, segments) })
      if (found) {
        const unused = work.unused()
        readings.push({
          reading: { ...found, understood: inOrder(work), unused, notes: said.notes },
          score: choice.score - 0.4 * unused.length,
        })
      }
      continue
    }
    const built = build(
      said,
      choice,
      { ...settled, properties: vocabulary.properties },
      where,
      touchBy(vocabulary),
      () => beginsWith(vocabulary),
      () => usualSteps(vocabulary),
    )
    if (!built) continue
    const question = withSegments(built, segments)
    if (question.kind === 'funnel') firstOfFunnel(work)
    const unused = work.unused()
    readings.push({
      reading: { question, understood: inOrder(work), unused, notes: said.notes },
      score: choice.score - 0.4 * unused.length,
    })
  }
  const best = readings
    .sort((a, b) => b.score - a.score)
    .slice(0, 3)
    .map(({ reading }) => reading)
  const other = best[0] && otherMeasure(best[0])
  return other ? [best[0]!, other, ...best.slice(1)] : best
}
