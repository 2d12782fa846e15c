import { parentPort } from 'node:worker_threads'
import { scannerOf } from '../../core/scanners.js'
import { fold } from '../../core/log/fold.js'
import type { EventLog } from '../../core/log/log.js'
import { takeMade } from '../../core/made/columns.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { CONTROL, type ScanRequest } from './scanProtocol.js'

lowerPriority(10)
const versions = new Map<number, EventLog[]>()
const port = parentPort!

function answer(request: ScanRequest): unknown {
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
      return null
    case 'scan':
      return scan(request)
    case 'fold':
      return fold(request.request)
  }
}

/** Takes chunk after chunk, whichever thread is free first, and gives the parts with the numbers of their chunks. */
function scan({ version, analysis, plan, marks, chunks, control }: Extract<ScanRequest, { kind: 'scan' }>) {
  const logs = versions.get(version)
  if (!logs) throw new Error(`version ${version} of the log is not installed`)
  const kind = scannerOf(analysis)
  const parts: [number, unknown][] = []
  for (;;) {
    const index = Atomics.add(control, CONTROL.nextChunk, 1)
    if (index >= chunks.length || Atomics.load(control, CONTROL.cancelled) === 1) return parts
    const { log, range } = chunks[index]
    parts.push([index, marks ? kind.select(logs[log], range, plan, marks) : kind.scan(logs[log], range, plan)])
    Atomics.add(control, CONTROL.peopleDone, range.to - range.from)
  }
}

port.on('message', ({ call, request }: { call: number; request: ScanRequest }) => {
  try {
    port.postMessage({ kind: 'answer', call, value: answer(request) })
  } catch (error) {
    port.postMessage({ kind: 'failed', call, message: (error as Error).stack ?? String(error) })
  }
})
