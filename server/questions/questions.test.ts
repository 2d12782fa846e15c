import { expect, test } from 'vitest'
import type { EngineRequest } from '../engine/engine.worker.js'
import { CallError } from '../pool/calls.js'
import type { Supervised } from '../pool/supervised.js'
import { questionDesk } from './questions.js'

const run = (name: string): EngineRequest => ({ kind: 'run', question: { kind: 'growth', name } as never })

/** An engine of the test's own: what it answers to each request, and what it was told to withdraw. */
function deskWith(answer: (request: EngineRequest) => Promise<unknown>, limitMs = 60_000) {
  const withdrawn: string[] = []
  const killed: string[] = []
  const engine = {
    begin: (request: EngineRequest) =>
      Promise.resolve({ answer: answer(request), withdraw: () => withdrawn.push(request.kind) }),
    kill: (reason: string) => killed.push(reason),
  } as unknown as Supervised<EngineRequest>
  const desk = questionDesk({ engine, threads: 2, limitMs, events: () => 1_000_000, answered: () => {} })
  return { desk, withdrawn, killed }
}

test('a question that brought its thread down twice is refused with a sentence; others, and it once it worked, are not', async () => {
  const died = new CallError('dead', { status: 503, retryAfterS: 2, died: true })
  const asked: string[] = []
  let deaths = 2
  const { desk } = deskWith((request) => {
    const { name } = (request as unknown as { question: { name: string } }).question
    asked.push(name)
    if (name === 'bad' || (name === 'unlucky' && deaths-- > 1)) return Promise.reject(died)
    return Promise.resolve({ spentMs: 1 })
  })
  await expect(desk.ask(run('bad'))).rejects.toMatchObject({ status: 503, retryAfterS: 2 })
  await expect(desk.ask(run('bad'))).rejects.toMatchObject({ status: 503 })
  await expect(desk.ask(run('bad'))).rejects.toMatchObject({ status: 422, message: /stopped the thread .* twice/ })
  expect(asked).toEqual(['bad', 'bad'])
  await expect(desk.ask(run('unlucky'))).rejects.toMatchObject({ status: 503 })
  await expect(desk.ask(run('unlucky'))).resolves.toEqual({ spentMs: 1 })
  await expect(desk.ask(run('good'))).resolves.toEqual({ spentMs: 1 })
})

test('one that takes longer than it may is stopped, and told so', async () => {
  let stop = () => {}
  const { desk, withdrawn, killed } = deskWith(
    () => new Promise((_resolve, reject) => (stop = () => reject(new CallError('withdrawn', 499)))),
    30,
  )
  const answer = desk.ask(run('long'))
  answer.catch(() => {})
  await new Promise<void>((resolve) => {
    const look = setInterval(() => {
      if (withdrawn.length === 0) return
      clearInterval(look)
      stop()
      resolve()
    }, 5)
  })
  await expect(answer).rejects.toMatchObject({ status: 422, message: /longer than a question may/ })
  expect(killed).toEqual([])
})

test('the cost is learnt from what was answered, and grows with what is asked', async () => {
  const { desk } = deskWith(() => Promise.resolve({ spentMs: 900 }))
  const funnel = (steps: number) => ({ kind: 'funnel', steps: Array.from({ length: steps }) }) as never
  await desk.ask({ kind: 'run', question: funnel(3) })
  expect(desk.estimateMs(funnel(3))).toBeCloseTo(900)
  expect(desk.estimateMs(funnel(6))).toBeCloseTo(1800)
})
