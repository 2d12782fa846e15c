import { describe, expect, test } from 'vitest'
import { shownKinds } from '../app/analyses/registry.js'
import type { Near } from '../app/analyses/leads.js'
import { vocabularyOf } from '../app/ask/vocabulary.js'
import { allKinds, analyses, parseQuestion, type AnalysisKind } from '../core/analyses/registry.js'
import { openApiDocument } from '../server/api/openapi.js'
import type { EventEntry, PropertyEntry } from '../server/engine/catalog.js'
import { answer, eventLog, peopleIn } from './eventLog.js'
import { missingOf, type Ground } from './kindContract.js'
import { tally, type TallyQuestion, type TallyResult } from './ninthKind/index.js'
import { shownTally } from './ninthKind/view.js'

// All that a new kind of study needs outside its folder: a line in each registry.
Object.assign(analyses, { tally })
Object.assign(shownKinds, { tally: shownTally })

const log = eventLog({
  ada: 'ride@0d ride@3d open@0d open@8d buy@9d',
  bea: 'open@0d open@8d ride@9d',
  cai: 'ride@9d open@9d open@16d ride@16d',
  dot: 'open@20d',
})
const entry = (name: string, recent: number): EventEntry => ({
  ...{ name, label: name, recent, events: recent, firstMs: 0, lastMs: 1, properties: [], synonyms: [] },
  ...{ combined: false, description: '', passive: false, deprecated: false },
})
const source: PropertyEntry = {
  ...{ property: { of: 'source' }, name: 'source', label: '', description: '', synonyms: [], kind: 'text' },
  ...{ made: false, changes: false, deprecated: false, samples: [] },
}
const catalog = { version: 1, events: [entry('open', 9), entry('ride', 5), entry('buy', 2)], properties: [source] }
const words = { thisYear: 2026, segments: { s1: 'Regulars', s2: 'Others' } }
const near: Near = { catalog, words, zone: 'UTC', now: Date.UTC(2026, 10, 22), segments: [] }
const vocabulary = vocabularyOf(catalog, words, '2026-03-06', [
  { id: 's1', name: 'Regulars' },
  { id: 's2', name: 'Others' },
])
const ground: Ground = { log, near, words, vocabulary }

describe('every kind of study is whole', () => {
  test.each(Object.keys(analyses))('%s', async (kind) => {
    expect(await missingOf(kind, ground)).toEqual([])
  })

  test('each has one line in either registry', () => {
    expect(Object.keys(shownKinds).sort()).toEqual(Object.keys(analyses).sort())
  })

  test('what is forgotten is told by a sentence', async () => {
    const left = { marks: { ...tally.marks, kinds: [] } }
    Object.assign(analyses, { tally: { ...tally, ...left, printed: analyses.gaps.printed } })
    Object.assign(shownKinds, { tally: { ...shownTally, ...left, explain: () => Promise.resolve(() => []) } })
    try {
      const told = await missingOf('tally', { ...ground, vocabulary: { ...vocabulary } })
      expect(told).toContain('it does not say how its numbers are counted')
      expect(told).toContain('it has no marks')
      expect(told.some((sentence) => sentence.startsWith('its own sentence is not read back'))).toBe(true)
    } finally {
      Object.assign(analyses, { tally })
      Object.assign(shownKinds, { tally: shownTally })
    }
  })
})

describe('a tiny ninth kind, from one folder and a line in each registry', () => {
  const asked = parseQuestion({
    ...{ kind: 'tally', of: { event: { names: ['ride'] } } },
    range: { from: '2026-01-05', to: '2026-01-25' },
  })
  const question = asked.question as unknown as TallyQuestion

  test('is read, counted by hand, and its people are those that are counted', () => {
    expect(asked.faults).toEqual([])
    expect(answer(log, question as never)).toEqual({
      kind: 'tally',
      times: 5,
      people: 3,
    } satisfies TallyResult as never)
    expect(peopleIn(log, question as never, [{ kind: 'doer' }])).toEqual(['ada', 'bea', 'cai'])
  })

  test('another study is asked among its people, and it among those of another', () => {
    const among = { study: question, marks: [{ kind: 'doer' }] }
    const read = parseQuestion({ ...tally.usual('open'), among })
    expect(read).toEqual({ question: { ...tally.usual('open'), among }, faults: [] })
  })

  test('the API’s description and every list of kinds have it', () => {
    expect(allKinds().map(({ kind }) => kind)).toContain('tally' as AnalysisKind)
    expect(JSON.stringify(openApiDocument())).toContain('"tally"')
  })
})
