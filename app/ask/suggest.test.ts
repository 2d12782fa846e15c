import { expect, test } from 'vitest'
import type { Vocabulary } from '../../core/ask/vocabulary.js'
import { suggest } from './suggest.js'

const event = (name: string, recent: number, shy = false) => ({
  ...{ name, words: name, description: '', synonyms: [], recent, shy, properties: [] },
})
const vocabulary: Vocabulary = {
  ...{ thisYear: 2026, segments: [{ id: 'r1', words: 'Regulars' }], today: '2026-11-22' },
  events: [event('App opened', 900), event('Ride completed', 500), event('ride_done_old', 800, true)],
  properties: [],
}
const saved = {
  studies: [{ id: 's1', name: 'Weekly riders by plan' }],
  dashboards: [{ id: 'd1', name: 'Onboarding' }],
  destinations: [{ id: 'm1', name: 'Mail' }],
}
const offered = (text: string) => suggest(text, vocabulary, saved, { thisYear: 2026 }, 1)

test('saved studies and dashboards whose names answer to every word come first', () => {
  expect(offered('weekly riders')[0]).toEqual({ kind: 'Study', label: 'Weekly riders by plan', to: '/studies/s1' })
  expect(offered('onboarding')[0]).toMatchObject({ kind: 'Dashboard', to: '/dashboards/d1' })
  expect(offered('weekly app opened').every(({ kind }) => kind !== 'Study')).toBe(true)
})

test('a sentence of what is kept in step leads to a new one like it', () => {
  const sentence = 'Keep Regulars in step with Mail, daily at 02:30, with ids alone.'
  const [offer, ...others] = offered(sentence)
  expect(others).toEqual([])
  expect(offer).toMatchObject({ kind: 'Outreach', label: sentence })
  const address = new URL((offer as { to: string }).to, 'http://localhost')
  expect(address.pathname).toBe('/outreach/kept/new')
  expect(JSON.parse(address.searchParams.get('kept')!)).toEqual({
    ...{ segment: 'r1', destination: 'm1', schedule: { kind: 'daily', at: '02:30' }, properties: [] },
  })
})

test('a reading is offered as the sentence it becomes, the next best after it', () => {
  expect(
    offered('ride completed each day')
      .slice(0, 2)
      .map(({ label }) => label),
  ).toEqual([
    'How many people did Ride completed each day over the last 30 days?',
    'How many times did people do Ride completed each day over the last 30 days?',
  ])
})

test('what is being typed goes on as a name that is known, and not as one that nobody should use', () => {
  const more = offered('how many ri').filter(({ kind }) => kind === 'Goes on as')
  expect(more).toEqual([{ kind: 'Goes on as', label: 'how many Ride completed' }])
})

test('that names nothing known gives nothing', () => {
  expect(offered('zebra')).toEqual([])
  expect(offered('  ')).toEqual([])
})
