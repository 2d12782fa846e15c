import { EventEmitter } from 'node:events'
import type { Worker } from 'node:worker_threads'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { CallError } from './calls.js'
import { Supervised } from './supervised.js'

/** A thread of the test's own: it answers when told, and dies when told. */
class FakeThread extends EventEmitter {
  readonly got: { call: number; request: unknown }[] = []
  terminated = false
  postMessage(message: { call: number; request: unknown }): void {
    this.got.push(message)
  }
  answer(value: unknown): void {
    this.emit('message', { kind: 'answer', call: this.got.at(-1)!.call, value })
  }
  terminate(): Promise<number> {
    this.terminated = true
    return Promise.resolve(1)
  }
}

let threads: FakeThread[]
let lines: { what: string; delayMs?: number }[]
let thread: Supervised<string>
beforeEach(() => {
  vi.useFakeTimers()
  threads = []
  lines = []
  thread = new Supervised<string>({
    name: 'worker',
    log: (line) => lines.push(line),
    start: () => {
      threads.push(new FakeThread())
      return threads.at(-1) as unknown as Worker
    },
  })
})
afterEach(async () => {
  await thread.close()
  vi.useRealTimers()
})
const newest = () => threads.at(-1)!

test('what was being worked on is told when to try again, the reason is logged, and the thread is back', async () => {
  const asked = thread.ask('x')
  await Promise.resolve()
  newest().emit('error', new Error('out of memory'))
  await expect(asked).rejects.toMatchObject({ status: 503, retryAfterS: 2, died: true })
  expect(lines[0]).toMatchObject({ what: 'stopped', reason: expect.stringContaining('out of memory') as string })
  expect(thread.state).toMatchObject({ up: false, reason: 'out of memory' })
  await vi.advanceTimersByTimeAsync(60)
  expect(thread.state).toMatchObject({ up: true, restarts: 1 })
  const again = thread.ask('y')
  await Promise.resolve()
  newest().answer(7)
  await expect(again).resolves.toBe(7)
})

test('what is thrown without words is told by its code, as a library of native code throws it', () => {
  newest().emit('error', { code: 'SQLITE_CORRUPT' })
  expect(lines[0]).toMatchObject({ reason: expect.stringContaining('it failed with SQLITE_CORRUPT') as string })
  expect(thread.state.reason).toBe('it failed with SQLITE_CORRUPT')
})

test('what is asked meanwhile waits for it; for one that does not come back it is told', async () => {
  newest().emit('exit', 1)
  const waiting = thread.ask('x')
  await vi.advanceTimersByTimeAsync(60)
  newest().answer('done')
  await expect(waiting).resolves.toBe('done')
  for (let i = 0; i < 9; i++) {
    newest().emit('exit', 1)
    await vi.advanceTimersByTimeAsync(20_000)
  }
  newest().emit('exit', 1)
  const told = thread.ask('y')
  told.catch(() => {})
  await vi.advanceTimersByTimeAsync(5001)
  await expect(told).rejects.toBeInstanceOf(CallError)
})

test('it is started later and later while it gets nowhere, and at once again when it had been well', async () => {
  const delays = () => lines.flatMap(({ delayMs }) => delayMs ?? [])
  for (let i = 0; i < 4; i++) {
    newest().emit('exit', 1)
    await vi.advanceTimersByTimeAsync(1000)
  }
  expect(delays()).toEqual([50, 100, 200, 400])
  const asked = thread.ask('x')
  await Promise.resolve()
  newest().answer(1)
  await asked
  await vi.advanceTimersByTimeAsync(2000)
  newest().emit('exit', 1)
  expect(delays().at(-1)).toBe(50)
})

test('a request that cannot be sent fails by itself', async () => {
  newest().postMessage = () => {
    throw new Error('could not be cloned')
  }
  await expect(thread.ask('x')).rejects.toThrow('could not be cloned')
  expect(thread.state.up).toBe(true)
})

test('one that is asked to close and ends by itself has not died: nothing is logged, and it is not started again', async () => {
  const closed = thread.close('close')
  expect(newest().got.at(-1)!.request).toBe('close')
  newest().emit('exit', 0)
  await closed
  await vi.advanceTimersByTimeAsync(60_000)
  expect(lines).toEqual([])
  expect(threads).toHaveLength(1)
  await expect(thread.ask('x')).rejects.toMatchObject({ status: 503 })
})
