import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { printedOf } from '../core/analyses/inWords.js'
import { boardWide } from '../core/analyses/boardWide.js'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { Question } from '../core/analyses/registry.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { readPrinted } from '../core/ask/printed.js'
import { EVERYBODY, type Rule } from '../core/segments/rule.js'
import type { Dowser } from '../server/index.js'
import { fill, newFolder, openReady } from './workspace.js'

const event = (person: string, name: string, day: number) => ({
  ...{ id: `${person} ${name} ${day}`, person, event: name },
  time: Date.UTC(2026, 9, day),
})
const trend: Question = {
  ...{ kind: 'trend', series: [{ event: { names: ['open'] }, measure: 'people' }], every: 'day' },
  ...{ range: { from: '2026-10-01', to: '2026-10-05' }, show: { form: 'lines', as: 'number' } },
}
const funnel: Question = {
  ...{ kind: 'funnel', steps: [{ event: { names: ['open'] } }, { event: { names: ['buy'] } }] },
  ...{ window: { count: 7, unit: 'day' }, range: { from: '2026-10-01', to: '2026-10-05' } },
}
const everybody = { rule: EVERYBODY, everybody: true as const }
const staff: Rule = {
  hold: 'all',
  of: [{ kind: 'profile', where: { property: { of: 'person', name: 'staff' }, op: 'is true' } }],
}

describe('people whom no study counts', () => {
  const folder = newFolder()
  let dowser: Dowser
  let staffId: string
  beforeAll(async () => {
    fill(
      folder.dir,
      [
        ...['ada', 'bea', 'sam'].flatMap((person) => [event(person, 'open', 1), event(person, 'buy', 2)]),
        event('cai', 'open', 3),
      ],
      [{ person: 'sam', properties: { staff: true } }],
    )
    dowser = await openReady(folder.dir)
    staffId = dowser.segments.create({ name: 'Staff', description: '', tags: [], rule: staff }, Date.now())
    dowser.settings.set({ leftOut: staffId })
  })
  afterAll(async () => {
    await dowser.close()
    folder.remove()
  })
  const total = async (question: Question) =>
    ((await dowser.run(question)).result as TrendResult).lines[0].all.totalPeople

  test('are in no figure, and in none of the people behind it', async () => {
    expect(await total(trend)).toBe(3)
    const { result } = await dowser.run(funnel)
    expect((result as FunnelResult).all.steps.map(({ people }) => people)).toEqual([3, 2])
    const behind = await dowser.people({ study: trend, marks: [{ kind: 'point' }] }, { offset: 0, limit: 9 })
    expect('people' in behind && behind.people.map(({ id }) => id).sort()).toEqual(['ada', 'bea', 'cai'])
  })

  test('are counted where a study says so, and so are those behind it', async () => {
    const all = { ...trend, among: everybody }
    expect(await total(all)).toBe(4)
    const behind = await dowser.people({ study: all, marks: [{ kind: 'point' }] }, { offset: 0, limit: 9 })
    expect('people' in behind && behind.count).toBe(4)
    const buyers: Rule = { hold: 'all', of: [{ kind: 'did', event: { names: ['buy'] } }] }
    expect(await total({ ...trend, among: { rule: buyers } })).toBe(2)
    expect(await total({ ...trend, among: { rule: buyers, everybody: true } })).toBe(3)
  })

  test('are counted again once nobody is left out', async () => {
    dowser.settings.set({ leftOut: '' })
    expect(await total(trend)).toBe(4)
    dowser.settings.set({ leftOut: staffId })
    expect(await total(trend)).toBe(3)
  })
})

test('that nobody is left out stands in the sentence, and is read back', () => {
  const words = { thisYear: 2026 }
  const event = {
    ...{ name: 'open', words: 'open', description: '', synonyms: [], recent: 1, shy: false, properties: [] },
  }
  const vocabulary = { events: [event], properties: [], segments: [], thisYear: 2026, today: '2026-10-08' }
  const asked = { ...trend, among: everybody }
  expect(printedOf(asked, words)).toBe('How many people did open each day from 1 Oct to 5 Oct, with nobody left out?')
  expect(readPrinted(printedOf(asked, words), vocabulary)).toEqual(asked)
})

test('a dashboard’s people keep it', () => {
  expect(boardWide({ ...trend, among: everybody }, null, { rule: staff })).toMatchObject({
    among: { rule: { hold: 'all' }, everybody: true },
  })
})
