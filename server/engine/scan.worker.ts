import { parentPort, workerData } from 'node:worker_threads'
import { scannerOf, type Scanner } from '../../core/scanners.js'
import { fold } from '../../core/log/fold.js'
import type { EventLog } from '../../core/log/log.js'
import { takeMade } from '../../core/made/columns.js'
import { collector } from '../pool/collect.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { repliesOn } from '../pool/serve.js'
import { CONTROL, type ScanRequest } from './scanProtocol.js'

lowerPriority((workerData as { nice: number }).nice)
const versions = new Map<number, EventLog[]>()
const port = parentPort!
const replies = repliesOn(port)

type ScanJob = Omit<Extract<ScanRequest, { kind: 'scan' }>, 'kind'> & {
  call: number
  logs: EventLog[]
  scanner: Scanner
  parts: [number, unknown][]
  /** ms that this thread has worked on it, counted from that of whoever had least when it came */
  spentMs: number
}
const jobs: ScanJob[] = []
const collect = collector()
let dropped = 0

/** States that are no longer used are mostly large, and shared: nobody has their memory again while this thread holds it. */
function letGo(): void {
  if (dropped < 3) return
  dropped = 0
  collect()
}

function answer(request: Exclude<ScanRequest, { kind: 'scan' }>): unknown {
  switch (request.kind) {
    case 'install':
      versions.set(request.version, request.logs)
      return null
    case 'extend':
      // A state that is not here yet comes with all that was made for it.
      if (versions.has(request.version)) takeMade(versions.get(request.version)!, request.columns)
      return null
    case 'drop':
      versions.delete(request.version)
      dropped++
      if (jobs.length === 0) letGo()
      return null
    case 'ping':
      return null
    case 'fold':
      return fold(request.request)
  }
}

function begin(call: number, request: Extract<ScanRequest, { kind: 'scan' }>): void {
  const logs = versions.get(request.version)
  if (!logs) throw new Error(`version ${request.version} of the log is not installed`)
  jobs.push({ ...request, call, logs, scanner: scannerOf(request.analysis), parts: [], spentMs: leastSpent() })
  if (jobs.length === 1) setImmediate(work)
}

const leastSpent = () => (jobs.length > 0 ? Math.min(...jobs.map(({ spentMs }) => spentMs)) : 0)

/**
 * Takes a chunk of the question that had least of this thread's time: a short question does not wait until a long one is
 * done, however large the long one's chunks are.
 */
function work(): void {
  const least = leastSpent()
  const [job] = jobs.splice(
    Math.max(
      0,
      jobs.findIndex(({ spentMs }) => spentMs === least),
    ),
    1,
  )
  if (!job) return
  const started = performance.now()
  try {
    // Pieces of work that a question goes over for long give way to those who ask in between.
    const counts = job.chunks[0]?.weight === undefined ? 1 : 2
    if (chunkOf(job)) jobs.push({ ...job, spentMs: job.spentMs + counts * (performance.now() - started) })
    else replies.answer(job.call, job.parts)
  } catch (error) {
    replies.fail(job.call, error)
  }
  if (jobs.length > 0) setImmediate(work)
  else letGo()
}

/** @returns whether there may be more to do; the parts found have the numbers of their chunks */
function chunkOf({ chunks, control, logs, scanner, plan, marks, parts }: ScanJob): boolean {
  const index = Atomics.add(control, CONTROL.nextChunk, 1)
  if (index >= chunks.length || Atomics.load(control, CONTROL.cancelled) === 1) return false
  const { log, range, weight = range.to - range.from } = chunks[index]!
  const part = marks ? scanner.select(logs[log]!, range, plan, marks) : scanner.scan(logs[log]!, range, plan)
  if (marks === null && scanner.anyOrder && parts.length > 0) parts[0][1] = scanner.merge(parts[0][1], part)
  else parts.push([index, part])
  Atomics.add(control, CONTROL.peopleDone, weight)
  return true
}

port.on('message', ({ call, request }: { call: number; request: ScanRequest }) => {
  try {
    if (request.kind === 'scan') begin(call, request)
    else replies.answer(call, answer(request))
  } catch (error) {
    replies.fail(call, error)
  }
})
