import type { Words } from '../../core/words/words.js'
import type { Near } from '../analyses/leads.js'
import { dowser } from '../door/dowser.server.js'

/** What there is to make studies of, by now; nothing while the events are being read. */
export async function near(words: Words): Promise<Near> {
  const { ready } = await dowser().status()
  const catalog = ready ? await dowser().catalog() : { version: -1, events: [], properties: [] }
  return { catalog, words, zone: dowser().settings.get().zone, segments: dowser().segments.list() }
}
