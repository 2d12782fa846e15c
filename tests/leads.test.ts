import { isDeepStrictEqual } from 'node:util'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { printedOf } from '../core/analyses/inWords.js'
import { analysisOf, parseQuestion, type Question, type Result } from '../core/analyses/registry.js'
import { readPrinted } from '../core/ask/printed.js'
import type { Vocabulary } from '../core/ask/vocabulary.js'
import type { Words } from '../core/words/words.js'
import { amongThem, questionParam } from '../app/address.js'
import { vocabularyOf } from '../app/ask/vocabulary.js'
import { dayIn } from '../app/catalog/days.js'
import { readQuestion } from '../app/readAddress.server.js'
import { placesIn } from '../app/segments/places.js'
import { homeCards } from '../app/study/homeStarts.js'
import { whereNext, type NextLook } from '../app/study/next.js'
import { tableOf } from '../app/study/table.js'
import type { Catalog } from '../server/engine/catalog.js'
import type { Dowser } from '../server/index.js'
import { newFolder, openReady } from './workspace.js'
import { DEFAULTS } from '../demo/generate.js'
import { makeDemo } from '../demo/make.js'

/** From Home and the saved studies, wherever their pages lead: every study on the way is whole. */
const folder = newFolder()
let dowser: Dowser
let catalog: Catalog
let words: Words
let vocabulary: Vocabulary
const zone = 'Europe/Lisbon'
let walked: Walked[]

interface Walked {
  /** how one gets there */
  way: string
  question: Question
  result: Result
  next: NextLook[]
}

beforeAll(async () => {
  makeDemo(folder.dir, { ...DEFAULTS, people: 2500 })
  dowser = await openReady(folder.dir)
  const { now } = await dowser.status()
  catalog = await dowser.catalog()
  words = dowser.wordsAt(now)
  vocabulary = vocabularyOf(catalog, words, dayIn(now, zone), dowser.segments.list())
  walked = await walk([
    ...dowser.studies.list().map(({ name, question }) => ({ label: name, question })),
    ...homeCards(catalog, words).flatMap(({ title, looks }) =>
      looks.map(({ label, question }) => ({ label: `${title} ${label}`, question })),
    ),
  ])
}, 120_000)
afterAll(async () => {
  await dowser.close()
  folder.remove()
})

/** Follows what each page proposes, two pages deep; a question that was met already is not asked again. */
async function walk(starts: readonly NextLook[]): Promise<Walked[]> {
  const met = new Set<string>()
  const found: Walked[] = []
  let level = starts.map(({ label, question }) => ({ way: label, question }))
  for (let depth = 0; depth < 3; depth++) {
    const deeper: typeof level = []
    for (const { way, question } of level) {
      const text = JSON.stringify(question)
      if (met.has(text)) continue
      met.add(text)
      const { result, faults } = await dowser.run(question)
      if (!result || faults.length > 0) throw new Error(`${way}: ${JSON.stringify(faults)}`)
      const next = whereNext(question, result, catalog, words, zone)
      found.push({ way, question, result, next })
      deeper.push(...next.map((look) => ({ way: `${way} › ${look.label}`, question: look.question })))
    }
    level = deeper
  }
  return found
}

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

test('the table of each is of whole rows and of figures', () => {
  expect(
    failing(({ question, result }) => {
      const [head, ...rows] = tableOf(question, result, words)
      return (
        head.length > 1 &&
        head.every((cell) => typeof cell === 'string' && cell !== '') &&
        rows.every((row) => row.length === head.length) &&
        rows.flat().every((cell) => typeof cell !== 'number' || Number.isFinite(cell))
      )
    }),
  ).toEqual([])
})

test('people are read from any place of a study, and a study is asked among them', async () => {
  const kinds = new Set<string>()
  for (const { way, question } of walked) {
    if (kinds.has(question.kind)) continue
    kinds.add(question.kind)
    for (const { value, label } of placesIn(question, words)) {
      const ref = { study: question, marks: [value] }
      const people = await dowser.people(ref, { offset: 0, limit: 1 })
      expect([way, label, 'faults' in people ? people.faults : []]).toEqual([way, label, []])
      const asked = amongThem(ref)
      const { faults } = await dowser.run(asked)
      expect([way, label, faults]).toEqual([way, label, []])
    }
  }
})
