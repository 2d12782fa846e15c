import { afterEach, beforeEach, expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { openLoader } from '../loader.js'

let folder: ReturnType<typeof newFolder>
beforeEach(() => void (folder = newFolder()))
afterEach(() => folder.remove())

test('a workspace takes events from its own oldest day on, begun in its zone', () => {
  const loader = openLoader(folder.dir, Date.now())
  const reasons = (times: string[]) =>
    loader
      .sendEvents(
        times.map((time) => ({ person: 'ada', event: 'open', time })),
        Date.UTC(2026, 0, 1),
      )
      .rejected.map(({ reason }) => reason)
  expect(reasons(['1970-01-01T00:00:00Z', '1994-05-01T12:00:00Z'])).toEqual([])
  loader.settings.set({ oldest: '2010-01-01', zone: 'America/New_York' })
  expect(reasons(['2010-01-01T05:00:00Z', '2010-01-01T04:59:59Z'])).toEqual([
    'the time 2010-01-01T04:59:59.000Z lies before 2010-01-01, the oldest that this workspace takes',
  ])
  loader.close()
})
