import { ask, client, figuresOf, memoryOf, pause, sendEvents } from './client.js'
import type { Target } from './requests.js'
import { QUESTIONS } from './seeds.js'

export interface SoakReport {
  seconds: number
  eventsPerSecond: number
  batches: ReturnType<typeof figuresOf>
  questions: ReturnType<typeof figuresOf>
  /** by kind of study, ms: what most of them took */
  p90OfKind: Record<string, number>
  refused: number
  unanswered: number
  heldBack: number
  /** age of the oldest accepted event that no question saw yet, s, as the server says and looked at each second */
  behindSeconds: ReturnType<typeof figuresOf>
  memoryMb: number[]
}

const SIZE = 500

/** Batches without end, eight on their way, beside a loop of questions. */
export async function soak(
  { base, pid, keys }: Target,
  { seconds, people, askers = 1 }: { seconds: number; people: number; askers?: number },
): Promise<SoakReport> {
  const sending = client(base, 8)
  const asking = client(base, askers)
  const looking = client(base, 1)
  const end = performance.now() + seconds * 1000
  const batches: number[] = []
  const questions: { kind: string; ms: number }[] = []
  const behind: number[] = []
  const memoryMb: number[] = []
  const told = { accepted: 0, refused: 0, unanswered: 0, heldBack: 0 }
  let next = 0

  const sender = async () => {
    while (performance.now() < end) {
      const from = next
      next += SIZE
      // Written in one go: the sender shares the machine with what it measures.
      const body = Array.from(
        { length: SIZE },
        (_, i) =>
          `{"id":"soak-${from + i}","person":"s${((from + i) * 7919) % people}","event":"${i % 3 ? 'Map viewed' : 'Ride completed'}","time":${Date.now()},"source":"attack","properties":{"minutes":${i % 60},"district":"Quayside","docks_shown":${i % 9}}}`,
      ).join('\n')
      const reply = await sendEvents(sending, keys.write, body)
      if (reply.status === 200) {
        batches.push(reply.ms)
        told.accepted += SIZE
      } else if (reply.status === 429) {
        told.heldBack++
        await pause((reply.retryAfterS ?? 1) * 1000)
      } else told.refused++
    }
  }
  const asker = async (first: number) => {
    for (let i = first; performance.now() < end; i++) {
      const question = QUESTIONS[i % QUESTIONS.length]
      const { text, ms, status } = await ask(asking, keys.read, question)
      questions.push({ kind: question.kind, ms })
      if (status !== 200) told.unanswered++
      if (status !== 200 && told.unanswered < 5) process.stderr.write(`question ${status}: ${text.slice(0, 300)}\n`)
      await pause(100)
    }
  }
  const watcher = async () => {
    for (let n = 0; performance.now() < end; n++) {
      const { text } = await looking.send('/readyz')
      const { behindSeconds } = JSON.parse(text) as { behindSeconds: number }
      behind.push(behindSeconds * 1000)
      if (n % 10 === 0) memoryMb.push(Math.round((await memoryOf(pid)) / 1_048_576))
      await pause(1000)
    }
  }
  const started = performance.now()
  await Promise.all([
    ...Array.from({ length: 8 }, sender),
    ...Array.from({ length: askers }, (_, i) => asker(i)),
    watcher(),
  ])
  const took = (performance.now() - started) / 1000
  for (const each of [sending, asking, looking]) each.close()
  return {
    ...{ seconds: Math.round(took), eventsPerSecond: Math.round(told.accepted / took), batches: figuresOf(batches) },
    questions: figuresOf(questions.map(({ ms }) => ms)),
    p90OfKind: Object.fromEntries(
      QUESTIONS.map(({ kind }) => [kind, p90Of(questions.filter((each) => each.kind === kind))]),
    ),
    ...{ refused: told.refused, unanswered: told.unanswered, heldBack: told.heldBack },
    ...{ behindSeconds: figuresOf(behind), memoryMb },
  }
}

function p90Of(questions: readonly { ms: number }[]): number {
  const sorted = questions.map(({ ms }) => ms).sort((a, b) => a - b)
  return Math.round(sorted[Math.floor(sorted.length * 0.9)] ?? 0)
}
