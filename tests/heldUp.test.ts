import { afterEach, expect, test } from 'vitest'
import { openDowser, type Dowser } from '../server/index.js'
import { readSettings } from '../server/settings.js'
import { usualTrend } from '../core/analyses/trend/question.js'
import { fill, newFolder, until } from './workspace.js'

/** A thread is ended when it says nothing for too long; not when it is the one who listens that was held up. */
const folder = newFolder()
let dowser: Dowser
afterEach(async () => {
  await dowser.close()
  folder.remove()
})

test('a server that was held up itself ends no thread for what it has not heard', async () => {
  fill(folder.dir, [{ id: 'a', person: 'p', event: 'Opened', time: '2026-10-05T10:00:00Z' }])
  dowser = openDowser({ ...readSettings({ DOWSER_THREADS: '1' }), dataDir: folder.dir, hungMs: 400 })
  await until(async () => (await dowser.status()).ready, 'reading the events', 60_000)
  for (let round = 0; round < 3; round++) {
    // Asked before the hold-up, so that an answer is due all the while.
    const answer = dowser.run({ ...usualTrend('Opened'), range: { last: round + 1, unit: 'week' } })
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1200)
    expect((await answer).faults).toEqual([])
  }
  const { threads } = await dowser.readiness()
  expect(threads.map(({ restarts }) => restarts)).toEqual(threads.map(() => 0))
})
