import { isDeepStrictEqual } from 'node:util'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { printedOf } from '../core/analyses/inWords.js'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { GrowthResult } from '../core/analyses/growth/finish.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { analysisOf, parseQuestion, type Question } from '../core/analyses/registry.js'
import type { Range } from '../core/time/range.js'
import { readingOf } from '../app/study/reading.server.js'
import { readPrinted } from '../core/ask/printed.js'
import type { Vocabulary } from '../core/ask/vocabulary.js'
import type { Words } from '../core/words/words.js'
import { amongThem, questionParam } from '../app/address/address.js'
import { vocabularyOf } from '../app/ask/vocabulary.js'
import { readQuestion } from '../app/address/readAddress.server.js'
import { kindOf } from '../core/analyses/kinds.js'
import { tableOf } from '../app/study/lead.server.js'
import type { Dowser } from '../server/index.js'
import { walkDemo, type Walked } from './walkDemo.js'

/** From Home and the saved studies, wherever their pages lead: every study on the way is whole. */
let dowser: Dowser
let words: Words
let vocabulary: Vocabulary
let walked: Walked[]
let end: () => Promise<void>
beforeAll(async () => {
  const walk = await walkDemo(2)
  ;({ dowser, words, walked, end } = walk)
  vocabulary = vocabularyOf(walk.catalog, words, walk.today, dowser.segments.list())
})
afterAll(() => end())

/** What does not hold, told with the way there; nothing where all is well. */
const failing = (holds: (each: Walked) => boolean) => walked.filter((each) => !holds(each)).map(({ way }) => way)

test('many studies of all kinds are met', () => {
  expect(walked.length).toBeGreaterThan(80)
  expect([...new Set(walked.map(({ question }) => question.kind))].sort()).toEqual([
    'attribution',
    'crosstab',
    'effect',
    'funnel',
    'gaps',
    'growth',
    'habit',
    'likelihood',
    'overlap',
    'paths',
    'retention',
    'sessions',
    'tipping',
    'trend',
  ])
})

test('each is a whole definition, and comes out of its address as it went in', () => {
  expect(
    failing(({ question }) => {
      const { question: read, faults } = parseQuestion(question)
      return faults.length === 0 && isDeepStrictEqual(read, question)
    }),
  ).toEqual([])
  for (const { question } of walked)
    expect(readQuestion(new URLSearchParams(questionParam(question)))).toEqual({ question, faults: [] })
})

test('each leads somewhere else, under names of their own', () => {
  expect(failing(({ next }) => next.length > 0 && next.length <= 4)).toEqual([])
  expect(failing(({ next }) => new Set(next.map(({ label }) => label)).size === next.length)).toEqual([])
  expect(
    failing(({ question, next }) =>
      next.every((look) => look.label.endsWith('?') && JSON.stringify(look.question) !== JSON.stringify(question)),
    ),
  ).toEqual([])
})

test('the sentence of each is understood when it is typed', () => {
  expect(
    failing(({ question }) => {
      const printed = printedOf(question, words)
      const read = readPrinted(printed, vocabulary)
      return read !== null && printedOf(read, words) === printed
    }),
  ).toEqual([])
})

test('what each says is said in whole words and figures', () => {
  const odd = /NaN|undefined|null|Infinity|\[object|−−| {2}|\d\.\d{5}|(?<![.\d])1 (times|people|days|weeks)\b/
  // A value begins a sentence as it is written; words of Dowser's own begin it as sentences do.
  const own = /^(anything|nothing|everything|nobody|no|the|in|of|people|those|who|what)\b/
  const told = walked.flatMap(({ way, question, result }) => {
    const { findings, cautions } = analysisOf(question.kind).findings(result, question, words)
    return [...findings, ...cautions].map((pieces) => ({ way, text: pieces.map(({ text }) => text).join('') }))
  })
  expect(told.length).toBeGreaterThan(walked.length)
  expect(told.filter(({ text }) => odd.test(text) || own.test(text) || !/[.?]$/.test(text))).toEqual([])
})

test('the table of each is of whole rows and of figures', async () => {
  const wrong: string[] = []
  for (const { way, question, result } of walked) {
    const [head, ...rows] = await tableOf(question, result, words)
    const whole =
      head.length > 1 &&
      head.every((cell) => typeof cell === 'string' && cell !== '') &&
      rows.every((row) => row.length === head.length) &&
      rows.flat().every((cell) => typeof cell !== 'number' || Number.isFinite(cell))
    if (!whole) wrong.push(way)
  }
  expect(wrong).toEqual([])
})

test('people are read from any place of a study, and a study is asked among them', async () => {
  const kinds = new Set<string>()
  for (const { way, question } of walked) {
    if (kinds.has(question.kind)) continue
    kinds.add(question.kind)
    for (const { value, label } of kindOf(question.kind).marks.places(question, words)) {
      const ref = { study: question, marks: [value] }
      const people = await dowser.people(ref, { offset: 0, limit: 1 })
      expect([way, label, 'faults' in people ? people.faults : []]).toEqual([way, label, []])
      const asked = amongThem(ref)
      const { faults } = await dowser.run(asked)
      expect([way, label, faults]).toEqual([way, label, []])
    }
  }
})

/** Of each kind: what the first sentence of its findings tells of the last full bucket, beside the raw figures. */
const TOLD: Partial<Record<string, (result: never) => { figure: number; of: RegExp } | null>> = {
  trend({ lines, buckets }: TrendResult) {
    const last = buckets.findLastIndex(({ open, cut }) => !open && !cut)
    const [line] = lines.filter(({ hidden }) => !hidden)
    const value = last < 0 || !line ? null : line.all.values[last]
    return value === null || !['people', 'count'].includes(line.unit)
      ? null
      : { figure: value, of: /^([\d,]+) \w+ in the last full / }
  },
  growth({ steps }: GrowthResult) {
    const last = steps.findLast(({ open }) => !open)
    return last ? { figure: last.active, of: /^In the last full .*? ([\d,]+) (?:person was|people were) active/ } : null
  },
  funnel({ all }: FunnelResult) {
    return { figure: all.steps[0].people, of: /^(?:Of )?([\d,]+) (?:people|attempts)/ }
  },
}

test('over any time what each says is what its figures say, and nothing stands beside its contrary', async () => {
  const ranges: Range[] = [
    { last: 3, unit: 'day' },
    { last: 30, unit: 'day' },
    { last: 4, unit: 'week' },
    { last: 26, unit: 'week' },
    { last: 2, unit: 'month' },
    { last: 3, unit: 'quarter' },
    { last: 1, unit: 'year' },
    { from: '2026-09-15', to: '2026-10-31' },
    { from: '2026-11-01' },
    { from: '2025-01-01', to: '2025-12-31' },
  ]
  let held = 0
  for (const { name, question } of dowser.studies.list())
    for (const range of ranges) {
      const asked = { ...question, range } as Question
      const reply = await dowser.run(asked)
      if (!reply.result) continue
      const { findings } = readingOf(asked, reply.result, reply, words)
      const said = findings.map((pieces) => pieces.map(({ text }) => text).join(''))
      const text = said.join(' ')
      const at = `${name}, ${JSON.stringify(range)}: ${text}`
      expect(said.length, at).toBeGreaterThan(0)
      expect(text, at).not.toMatch(/NaN|undefined|Infinity|\b1 people\b|0 people, 100|[^.\d]1 (?:times|weeks|days)\b/)
      // That nothing changed, and what changed, are not said of one curve.
      if (/^No clear change/m.test(said.find((each) => each.startsWith('No clear change')) ?? ''))
        expect(text, at).not.toMatch(/ moved most: | (?:rises|falls) steadily| was up from | was down from /)
      const told = TOLD[question.kind]?.(reply.result as never)
      const found = told && said.map((each) => told.of.exec(each)?.[1]).find((each) => each !== undefined)
      if (!found) continue
      held++
      expect(Number(found.replaceAll(',', '')), at).toBe(told.figure)
    }
  expect(held).toBeGreaterThan(60)
}, 120_000)
