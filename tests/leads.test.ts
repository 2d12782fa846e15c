import { isDeepStrictEqual } from 'node:util'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { printedOf } from '../core/analyses/inWords.js'
import { analysisOf, parseQuestion } from '../core/analyses/registry.js'
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
    'crosstab',
    'funnel',
    'gaps',
    'growth',
    'habit',
    'overlap',
    'retention',
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
