import { Counter, Gauge, Histogram, Registry, type OpenMetricsContentType } from 'prom-client'
import type { ThreadState } from '../pool/supervised.js'

const BUCKETS_S = [0.01, 0.03, 0.1, 0.3, 1, 3, 10, 30]

/** What is counted of a running server, in the form that watching programs read (OpenMetrics). */
export function makeCounters() {
  const registry = new Registry<OpenMetricsContentType>()
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE)
  const registers = [registry] as unknown as Registry[]
  const requests = new Counter({
    ...{ name: 'dowser_http_requests', help: 'Requests answered', labelNames: ['door', 'status'], registers },
  })
  const seconds = new Histogram({
    ...{ name: 'dowser_http_seconds', help: 'Time to answer a request', labelNames: ['door'], registers },
    buckets: BUCKETS_S,
  })
  const questions = new Counter({
    ...{ name: 'dowser_questions', help: 'Questions by how they ended', labelNames: ['kind', 'how'], registers },
  })
  const questionSeconds = new Histogram({
    ...{ name: 'dowser_question_seconds', help: 'Time to answer a question, waiting included', registers },
    buckets: BUCKETS_S,
  })
  const taken = new Counter({
    ...{ name: 'dowser_events', help: 'Events sent by what became of them', labelNames: ['how'], registers },
  })
  const batchSeconds = new Histogram({
    ...{ name: 'dowser_batch_seconds', help: 'Time to write a batch of events', registers },
    buckets: BUCKETS_S,
  })
  const gauge = (name: string, help: string, labelNames: string[] = []) =>
    new Gauge({ name: `dowser_${name}`, help, labelNames, registers })
  const gauges = {
    up: gauge('thread_up', 'Whether a thread runs and answers', ['thread']),
    restarts: gauge('thread_restarts', 'How often a thread was started again', ['thread']),
    behind: gauge('behind_seconds', 'Age of the oldest accepted event that questions do not see yet'),
    waiting: gauge('questions_waiting', 'Questions that wait for their turn'),
    running: gauge('questions_running', 'Questions being worked on'),
    held: gauge(
      'engine_held_seconds',
      'Longest time the engine’s thread computed without letting others have their turn',
    ),
    memory: gauge('memory_bytes', 'Memory', ['of']),
    disk: gauge('disk_free_bytes', 'Room left on the disk of the data'),
    events: gauge('stored_events', 'Events in the column store'),
  }
  return {
    registry,
    gauges,
    answered(path: string, status: number, ms: number): void {
      const door = doorOf(path)
      requests.inc({ door, status: String(status) })
      seconds.observe({ door }, ms / 1000)
    },
    question(kind: string, ms: number, how: string): void {
      questions.inc({ kind, how })
      questionSeconds.observe(ms / 1000)
    },
    batch(reply: { accepted: number; duplicates: number; setAside: number; rejected: unknown[] }, ms: number): void {
      taken.inc({ how: 'accepted' }, reply.accepted)
      taken.inc({ how: 'known already' }, reply.duplicates)
      taken.inc({ how: 'set aside' }, reply.setAside)
      taken.inc({ how: 'rejected' }, reply.rejected.length)
      batchSeconds.observe(ms / 1000)
    },
    threads(states: readonly ThreadState[]): void {
      for (const { thread, up, restarts } of states) {
        gauges.up.set({ thread }, up ? 1 : 0)
        gauges.restarts.set({ thread }, restarts)
      }
    },
  }
}
export type Counters = ReturnType<typeof makeCounters>

/** Which door a request came to: addresses themselves would make a series each. */
function doorOf(path: string): string {
  if (path.startsWith('/api/v1/')) return `api ${path.split('/')[3] ?? ''}`.replace(/[^a-z ]/g, '').slice(0, 20)
  if (path.startsWith('/ask/')) return 'ask'
  return path.startsWith('/import') ? 'import' : 'pages'
}
