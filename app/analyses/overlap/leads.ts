import { sentenceText } from '../../../core/words/sentence.js'
import { partName } from '../../../core/analyses/overlap/findings.js'
import { usualOverlap, type OverlapQuestion } from '../../../core/analyses/overlap/question.js'
import type { OverlapResult } from '../../../core/analyses/overlap/finish.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import { figureParts } from '../../../core/analyses/trend/sentence.js'
import type { Catalog } from '../../../server/engine/catalog.js'
import type { Words } from '../../../core/words/words.js'
import { commonEvents } from '../../study/common.js'
import type { Cell, Leads, Look } from '../leads.js'

export const leads: Leads<OverlapQuestion, OverlapResult> = {
  start: (_events, { segments }) => startingOverlap(segments),
  table: overlapTable,
  next: (question, result, { catalog }) => afterOverlap(question, result, catalog),
}

/** Three segments that share a tag, so that they are of one kind; else the first ones there are. */
function startingOverlap(segments: readonly { id: string; tags: readonly string[] }[]): OverlapQuestion {
  const usual = usualOverlap('…')
  if (segments.length < 2) return usual
  const tags = [...new Set(segments.flatMap(({ tags: own }) => own))]
  const groups = tags.map((tag) => segments.filter((segment) => segment.tags.includes(tag)))
  const most = groups.reduce((best, group) => (group.length > best.length ? group : best), [] as typeof segments)
  const chosen = most.length >= 2 ? most : segments
  return { ...usual, sides: chosen.slice(0, 3).map(({ id }) => ({ segment: id })) }
}

function afterOverlap(question: OverlapQuestion, result: OverlapResult, catalog: Catalog): Look[] {
  const [event] = commonEvents(catalog)
  const looks: Look[] = []
  const usual = event && usualTrend(event.name)
  if (usual)
    looks.push({
      label: `How do they compare, week by week?`,
      question: { ...usual, breakdowns: [{ by: { of: 'segments', sides: question.sides }, keep: 10 }] },
    })
  const shared = [...result.regions]
    .sort((a, b) => b.people - a.people)
    .find(({ in: inside, people }) => inside.length > 1 && people > 0)
  if (usual && shared)
    looks.push({
      label: `What do those in ${partName(shared, result)} do?`,
      question: {
        ...usual,
        series: [{ event: { activity: true }, measure: 'events per person' }],
        among: { study: question, marks: [{ kind: 'part', in: shared.in }] },
      },
    })
  if (!question.figure && event)
    looks.push({
      label: `How much of ${event.label} is done in each part?`,
      question: { ...question, figure: { event: { names: [event.name] }, measure: 'events' } },
    })
  return looks
}

/** A row for each part: which segments it lies in, its people, and the figure. */
function overlapTable(question: OverlapQuestion, result: OverlapResult, words: Words): Cell[][] {
  const { figure } = question
  const head = [...result.segments.map(({ name }) => name), 'People', 'Of all in any']
  return [
    [...head, ...(figure ? [sentenceText(figureParts(figure, words))] : [])],
    ...result.regions.map((region): Cell[] => [
      ...result.segments.map((_segment, place) => (region.in.includes(place) ? 'in' : 'not in')),
      ...[region.people, result.any > 0 ? region.people / result.any : null],
      ...(figure ? [region.figure] : []),
    ]),
  ]
}
