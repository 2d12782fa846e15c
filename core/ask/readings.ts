import { beginningOf } from '../analyses/tipping/question.js'
import { build, otherMeasure } from './build.js'
import { eventChoices } from './choices.js'
import { conditionsFor } from './conditions.js'
import { readNamed } from './named.js'
import { readPhrases } from './phrases.js'
import { readMarkers, Text } from './text.js'
import { overlapReading, readSegments, withSegments } from './segmentsNamed.js'
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

/** Every reading that is worth offering, the best first; the same question may come twice. */
export function readingsOf(text: string, vocabulary: Vocabulary, firstDayOfWeek: number): AskReading[] {
  const base = new Text(text)
  const segments = readSegments(base, vocabulary)
  const overlap = overlapReading(base, segments)
  if (overlap) return [overlap]
  const said = readPhrases(base, vocabulary, firstDayOfWeek)
  readMarkers(base)
  const { properties, conditions } = readNamed(base, vocabulary, said)
  const readings: { reading: AskReading; score: number }[] = []
  for (const choice of eventChoices(base, vocabulary, said, properties.of, conditions)) {
    const work = base.copy()
    for (const { from, to, means } of choice.spans) work.take(from, to, 'event', means)
    const where = conditionsFor(work, conditions, choice.events, vocabulary)
    const built = build(said, choice, properties, where, touchBy(vocabulary), () => beginsWith(vocabulary))
    if (!built) continue
    const question = withSegments(built, segments)
    const unused = work.unused()
    const understood = [...work.understood].sort((a, b) => a.from - b.from)
    readings.push({ reading: { question, understood, unused }, score: choice.score - 0.4 * unused.length })
  }
  const best = readings
    .sort((a, b) => b.score - a.score)
    .slice(0, 3)
    .map(({ reading }) => reading)
  const other = best[0] && otherMeasure(best[0])
  return other ? [best[0]!, other, ...best.slice(1)] : best
}
