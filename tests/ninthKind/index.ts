import { z } from 'zod'
import type { Analysis } from '../../core/analyses/analysis.js'
import type { Explain, SpokenKind } from '../../core/analyses/kind.js'
import type { Among } from '../../core/analyses/people.js'
import { amongParts } from '../../core/analyses/peopleWords.js'
import { amongSchema } from '../../core/analyses/peopleSchema.js'
import { after, chain, literal, map, maybe } from '../../core/ask/reader.js'
import { bindPick, planPick, type PickPlan } from '../../core/filters/picks.js'
import type { EventLog, PersonRange } from '../../core/log/log.js'
import { parseLeniently } from '../../core/questions/lenient.js'
import { pickSchema, type EventPick } from '../../core/questions/parts.js'
import { spanOf, type Range } from '../../core/time/range.js'
import { rangeSchema } from '../../core/time/rangeSchema.js'
import { plain, strong, eventWords, filterWords, rangeWords } from '../../core/words/words.js'
import { formatNumber } from '../../core/words/format.js'

/** A tiny kind of study: how many times something was done, and by how many people. */
export interface TallyQuestion {
  kind: 'tally'
  of: EventPick
  range: Range
  among?: Among | undefined
}

const tallyMark = z.strictObject({ kind: z.literal('doer') })
type TallyMark = z.infer<typeof tallyMark>

const tallySchema: z.ZodType<TallyQuestion> = z.strictObject({
  kind: z.literal('tally'),
  of: pickSchema,
  range: rangeSchema,
  among: amongSchema.optional(),
})

const usual = (event: string): TallyQuestion => ({
  ...{ kind: 'tally', of: { event: { names: [event] } } },
  range: { last: 4, unit: 'week' },
})

export const spokenTally: SpokenKind<TallyQuestion, TallyMark> = {
  kind: 'tally',
  name: 'Tally',
  sentence(question, words) {
    const { of } = question
    const range = rangeWords(question.range, words)
    return [
      { text: 'Tally of ' },
      { text: eventWords(of.event, words), token: 'event', tone: 'water', path: 'of.event' },
      ...(of.where
        ? [{ text: ' where ' }, { text: filterWords(of.where, words), token: 'where', path: 'of.where' }]
        : []),
      { text: ` ${range.lead}` },
      { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
      ...amongParts(question, words),
    ]
  },
  readAsOf: () => 'when each event happened',
  marks: {
    kinds: ['doer'],
    words: ({ of }, _mark, words) => `did ${eventWords(of.event, words)}`,
    exact: () => 'who did it at all',
    places: () => [{ key: 'doer', label: 'Did it', value: { kind: 'doer' } }],
    timed: () => false,
    plain: (study) => study,
  },
  splits: () => [],
}

interface TallyPlan {
  pick: PickPlan
  from: number
  until: number
  among: Uint8Array | null
}
interface TallyPart {
  times: number
  people: number
}
export interface TallyResult extends TallyPart {
  kind: 'tally'
}

function eachDoer(log: EventLog, people: PersonRange, plan: TallyPlan, visit: (person: number, times: number) => void) {
  const picker = bindPick(plan.pick, log)
  for (let index = people.from; index < people.to; index++) {
    const person = log.person[index]
    if (log.hidden?.[index] === 1 || (plan.among && plan.among[person] !== 1)) continue
    const end = log.offsets[index + 1]
    let times = 0
    for (let row = picker.next(log.offsets[index], end, person); row >= 0; row = picker.next(row + 1, end, person))
      if (log.time[row] >= plan.from && log.time[row] < plan.until) times++
    if (times > 0) visit(person, times)
  }
}

export const explainTally: Explain<TallyQuestion> = (_question, zone) => [
  `Every such event counts, and everybody who did one; days are those of ${zone}.`,
]

export const tally: Analysis<TallyQuestion, TallyMark, TallyPlan, TallyPart, TallyResult> = {
  ...spokenTally,
  explain: explainTally,
  schema: tallySchema,
  markSchemas: [tallyMark],
  usual,
  parse: (input) => parseLeniently(tallySchema, input, usual('…')),
  plan(question, context, faults) {
    const { from, until } = spanOf(question.range, context.now, context.calendar)
    return { pick: planPick(question.of, { ...context, faults }, ['of']), from, until, among: context.among }
  },
  scan(log, people, plan) {
    const part = { times: 0, people: 0 }
    eachDoer(log, people, plan, (_person, times) => {
      part.times += times
      part.people++
    })
    return part
  },
  merge: (a, b) => ({ times: a.times + b.times, people: a.people + b.people }),
  next: () => null,
  finish: (part) => ({ kind: 'tally', ...part }),
  reads: () => true,
  select(log, people, plan) {
    const found: number[] = []
    eachDoer(log, people, plan, (person) => found.push(person))
    return Uint32Array.from(found).sort()
  },
  printed: ({ picked, period, among }) =>
    map(
      chain<[EventPick, Range, { among?: Among }, unknown]>(
        after('Tally of ', picked),
        after(' ', period),
        among,
        maybe(literal('?')),
      ),
      ([of, range, people]): TallyQuestion => ({ kind: 'tally', of, range, ...people }),
    ),
  printedMarks: () => map(literal('who did it at all'), () => ({ mark: { kind: 'doer' as const } })),
  findings: ({ times, people }) => ({
    findings: [[strong(formatNumber(times)), plain(' times by '), strong(formatNumber(people)), plain(' people.')]],
    cautions: [],
  }),
}
