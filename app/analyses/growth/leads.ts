import { lastFull } from '../../../core/analyses/growth/lastFull.js'
import { usualGaps } from '../../../core/analyses/gaps/question.js'
import type { GrowthResult } from '../../../core/analyses/growth/finish.js'
import { usualGrowth, type GrowthQuestion } from '../../../core/analyses/growth/question.js'
import { usualRetention } from '../../../core/analyses/retention/question.js'
import { usualPaths } from '../../../core/analyses/paths/question.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { EventEntry } from '../../../server/engine/catalog.js'
import { eventWords, type Words } from '../../../core/words/words.js'
import { withAmong } from '../../study/common.js'
import type { Leads, Look } from '../leads.js'
import { growthTable } from './growthTable.js'

export const leads: Leads<GrowthQuestion, GrowthResult> = {
  start: ([first]) => usualGrowth(first?.name ?? '…'),
  home: (events) => growths(events),
  table: (question, result, words) => growthTable(question, result, words),
  next: (question, result, { words }) => afterGrowth(question, result, words),
}

/** Who lapsed and what they did, how long gaps are, and whether new people stay. */
function afterGrowth(question: GrowthQuestion, result: GrowthResult, words: Words): Look[] {
  const looks: Look[] = []
  const last = lastFull(result)
  if (question.show.form !== 'flows' && result.steps.length > 1)
    looks.push({ label: 'From which state into which do they go?', question: { ...question, show: { form: 'flows' } } })
  if (last && last.people.lapsed > 0)
    looks.push({
      label: `What did the ${last.people.lapsed.toLocaleString('en-GB')} who lapsed last do before?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' }],
        range: question.range,
        among: { study: question, marks: [{ kind: 'state', states: ['lapsed'], interval: last.key }] },
      },
    })
  if (last && last.people.lapsed > 0)
    looks.push({
      label: 'Which way did they go to their last one?',
      question: {
        ...usualPaths('…'),
        start: question.start,
        backward: true,
        range: question.range,
        among: { study: question, marks: [{ kind: 'state', states: ['lapsed'], interval: last.key }] },
      },
    })
  looks.push({
    label: 'How long are the gaps between uses?',
    question: { ...usualGaps('…'), start: question.start, ...withAmong(question) },
  })
  looks.push({
    label: `Do new people do ${eventWords(question.start.event, words)} again?`,
    question: {
      ...usualRetention('…'),
      start: question.start,
      first: true,
      range: question.range,
      ...withAmong(question),
    },
  })
  return looks.slice(0, 4)
}

function growths([first]: EventEntry[]): Look[] {
  if (!first) return []
  const usual = usualGrowth(first.name)
  return [
    { label: 'New, retained, revived, lapsed', question: usual },
    { label: 'Who lapsed last week?', question: { ...usual, show: { form: 'one', state: 'lapsed' } } },
    { label: 'How long between uses?', question: usualGaps(first.name) },
  ]
}
