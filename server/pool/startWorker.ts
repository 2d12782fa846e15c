import { existsSync } from 'node:fs'
import path from 'node:path'
import { Worker, type MessagePort } from 'node:worker_threads'
import { projectRoot } from '../root.js'

/** The threads of the server, with their source; the build makes each an entry of its own. */
export const threadEntries = {
  ingest: 'server/ingest/ingest.worker.ts',
  engine: 'server/engine/engine.worker.ts',
  scan: 'server/engine/scan.worker.ts',
  export: 'server/export/export.worker.ts',
  files: 'server/files/files.worker.ts',
  outreach: 'server/outreach/outreach.worker.ts',
  standIn: 'server/outreach/standIns/standIn.worker.ts',
} as const

/**
 * What threads make for a batch or a refresh is let go of at once: with room for all of it, hardly anything is copied
 * when memory is cleared. MB.
 */
const YOUNG_MB = 192

/**
 * Starts a thread: from the build in production, from the source in development and tests.
 */
export function startWorker(
  name: keyof typeof threadEntries,
  workerData: object,
  transferList: MessagePort[] = [],
): Worker {
  const fromSource = import.meta.url.endsWith('.ts')
  const built = path.join(projectRoot, 'build/server', `${name}.js`)
  const resourceLimits = name === 'ingest' || name === 'engine' ? { maxYoungGenerationSizeMb: YOUNG_MB } : {}
  if (!fromSource && existsSync(built)) return new Worker(built, { workerData, resourceLimits, transferList })
  const shim = path.join(projectRoot, 'server/pool/worker-dev.mjs')
  return new Worker(shim, {
    resourceLimits,
    transferList,
    workerData: { ...workerData, name, entry: path.join(projectRoot, threadEntries[name]) },
  })
}
