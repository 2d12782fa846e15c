import type { EngineStatus } from '../../server/engine/engine.worker.js'
import type { Near } from '../analyses/leads.js'
import { dowser } from '../door/dowser.server.js'

/** What there is to make studies of, by now; nothing while the events are being read. */
export async function near({ ready, now }: Pick<EngineStatus, 'ready' | 'now'>): Promise<Near> {
  const catalog = ready ? await dowser().catalog() : { version: -1, events: [], properties: [] }
  const words = dowser().wordsAt(now)
  return { catalog, words, now, zone: dowser().settings.get().zone, segments: dowser().segments.list() }
}
