import { describe, expect, test } from 'vitest'
import { CallError } from '../pool/calls.js'
import { FairQueue } from './fairQueue.js'

/** Work that is begun and ended by the test, by name. */
class Works {
  readonly begun: string[] = []
  private readonly ends = new Map<string, () => void>()

  work(name: string): () => Promise<string> {
    return () => {
      this.begun.push(name)
      return new Promise((resolve) => this.ends.set(name, () => resolve(name)))
    }
  }
  async end(name: string): Promise<void> {
    this.ends.get(name)!()
    // What follows on it begins in the turns after.
    for (let i = 0; i < 5; i++) await Promise.resolve()
  }
}

describe('questions that wait', () => {
  test('one asker’s many do not hold up another’s single one', async () => {
    const queue = new FairQueue(3)
    const works = new Works()
    for (let i = 1; i <= 6; i++) void queue.run('ada', works.work(`a${i}`), false)
    void queue.run('bea', works.work('b1'), false)
    // A place is always left for somebody new.
    expect(works.begun).toEqual(['a1', 'a2', 'b1'])
    await works.end('b1')
    expect(works.begun).toHaveLength(3)
    await works.end('a1')
    expect(works.begun.at(-1)).toBe('a3')
  })

  test('turns go round among those who wait', async () => {
    const queue = new FairQueue(2)
    const works = new Works()
    for (const name of ['a1', 'a2', 'a3']) void queue.run('ada', works.work(name), false)
    for (const name of ['b1', 'b2']) void queue.run('bea', works.work(name), false)
    for (const name of ['c1', 'c2']) void queue.run('cai', works.work(name), false)
    await works.end('a1')
    await works.end('b1')
    await works.end('c1')
    expect(works.begun.slice(0, 5)).toEqual(['a1', 'b1', 'c1', 'a2', 'b2'])
  })

  test('what may bring a thread down runs alone, and holds up nobody for ever', async () => {
    const queue = new FairQueue(3)
    const works = new Works()
    void queue.run('ada', works.work('a'), false)
    void queue.run('bea', works.work('suspect'), true)
    void queue.run('cai', works.work('c'), false)
    expect(works.begun).toEqual(['a'])
    await works.end('a')
    expect(works.begun).toEqual(['a', 'suspect'])
    await works.end('suspect')
    expect(works.begun).toEqual(['a', 'suspect', 'c'])
  })

  test('one that is withdrawn before its turn is never begun', async () => {
    const queue = new FairQueue(2)
    const works = new Works()
    const leaving = new AbortController()
    void queue.run('ada', works.work('a1'), false)
    const waiting = queue.run('ada', works.work('a2'), false, leaving.signal)
    leaving.abort()
    await expect(waiting).rejects.toMatchObject({ status: 499 })
    await works.end('a1')
    expect(works.begun).toEqual(['a1'])
    expect(queue.waiting).toBe(0)
  })

  test('a place is free again after a failure, and too many of one asker are told so', async () => {
    const queue = new FairQueue(2)
    await expect(queue.run('ada', () => Promise.reject(new Error('no')), false)).rejects.toThrow('no')
    const works = new Works()
    for (let i = 0; i <= 200; i++) void queue.run('ada', works.work(`a${i}`), false)
    await expect(queue.run('ada', works.work('more'), false)).rejects.toBeInstanceOf(CallError)
    await expect(queue.run('ada', works.work('more'), false)).rejects.toMatchObject({ status: 429, retryAfterS: 5 })
  })
})
