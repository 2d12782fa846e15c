import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { openDowser, type Dowser } from '../server/index.js'
import { openLoader } from '../server/loader.js'
import { readSettings } from '../server/settings.js'

/** A folder for one test's data. */
export function newFolder(): { dir: string; remove: () => void } {
  const dir = mkdtempSync(path.join(tmpdir(), 'dowser-'))
  return { dir, remove: () => rmSync(dir, { recursive: true, force: true }) }
}

export const RECEIVED = Date.UTC(2026, 10, 1)

/** Opens a folder's workspace with its threads, and waits until it answers. */
export async function openReady(dir: string, env: Record<string, string> = {}): Promise<Dowser> {
  const dowser = openDowser({ ...readSettings({ DOWSER_THREADS: '2', ...env }), dataDir: dir })
  await until(async () => (await dowser.status()).ready, 'reading the events', 60_000)
  return dowser
}

/** Fills a folder's workspace before it is opened. */
export function fill(dir: string, events: object[], people: object[] = []): void {
  const loader = openLoader(dir, RECEIVED)
  loader.settings.set({ name: 'Test', zone: 'UTC', now: 'last event' })
  const { rejected } = loader.sendEvents(events, RECEIVED)
  if (rejected.length > 0) throw new Error(rejected[0].reason)
  if (people.length > 0) loader.sendPeople(people, RECEIVED)
  loader.close()
}

/** Asks again until it holds. @param limit ms until it fails */
export async function until(holds: () => boolean | Promise<boolean>, what = 'it', limit = 10_000): Promise<void> {
  const end = Date.now() + limit
  while (!(await holds())) {
    if (Date.now() > end) throw new Error(`${what} did not come true within ${limit / 1000} s`)
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}
