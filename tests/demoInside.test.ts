import { afterEach, expect, test } from 'vitest'
import { DEFAULTS } from '../demo/generate.js'
import { makeDemo } from '../demo/make.js'
import type { Dowser } from '../server/index.js'
import { workspaceFile } from '../server/store/home.js'
import { openDatabase } from '../server/store/database.js'
import { newFolder, openReady, until } from './workspace.js'

/** The demo in a workspace of one's own: as it is in a folder of its own, and gone again whole. */
const PEOPLE = 150
let folder: ReturnType<typeof newFolder>
let dowser: Dowser

const open = async () =>
  (dowser = await openReady(folder.dir, { DOWSER_THREADS: '1', DOWSER_DEMO_PEOPLE: String(PEOPLE) }))
const at = () => dowser.demo.state().at

afterEach(async () => {
  await dowser.close()
  folder.remove()
})

/** How much of everything there is, and which. */
function contents(dir: string) {
  const db = openDatabase(workspaceFile(dir, Date.now()))
  const all = (sql: string) => db.prepare(sql).raw().all()
  const found = {
    events: all('SELECT event_id, time_ms, properties, received_ms FROM events ORDER BY event_id'),
    values: all('SELECT COUNT(*), SUM(written_ms) FROM profile_history'),
    aside: all('SELECT event, rule, COUNT(*) FROM set_aside GROUP BY 1, 2 ORDER BY 1, 2'),
    said: all(`SELECT name, description, synonyms, passive, planned FROM event_types
      WHERE events > 0 OR description <> '' OR planned = 1 ORDER BY name`),
    saidOf: all(`SELECT scope, name, description FROM properties WHERE description <> '' ORDER BY 1, 2`),
    plan: all('SELECT COUNT(*) FROM plan_properties'),
    made: all('SELECT name, definition FROM combined_events UNION ALL SELECT name, definition FROM derived_properties'),
    notes: all('SELECT day, text, tags FROM annotations ORDER BY day'),
    saved: all(`SELECT id, name FROM studies UNION ALL SELECT id, name FROM segments
      UNION ALL SELECT id, name FROM dashboards ORDER BY 1`),
    cards: all('SELECT dashboard, study, note, x, y, w, h FROM cards ORDER BY dashboard, y, x'),
    settings: all(`SELECT key, value FROM settings WHERE key NOT IN ('demo', 'definitions') ORDER BY key`),
  }
  db.close()
  return found
}

/** ms: a machine with other work to do takes its time over the demo. */
const LONG = 60_000

test('what is brought in is the demo, and what is taken out leaves what is one’s own', async () => {
  folder = newFolder()
  const apart = newFolder()
  makeDemo(apart.dir, { ...DEFAULTS, people: PEOPLE })
  await open()
  const before = contents(folder.dir)
  await dowser.demo.bring()
  expect(at()).toBe('coming')
  await until(() => at() === 'here', 'the demo', LONG)
  expect(contents(folder.dir)).toEqual(contents(apart.dir))
  apart.remove()

  // Meanwhile somebody works: an event of their own, a study, a description, a first day of the week.
  const own = [{ id: 'own', person: 'p', event: 'Door opened', time: '2026-11-01T10:00:00Z' }]
  const body = new TextEncoder().encode(JSON.stringify(own))
  await dowser.ingest('events', body, { lines: false, gzip: false, limit: 1e6 }, 'mine')
  const question = dowser.studies.list()[0]!.question
  dowser.studies.create({ id: 'mine', name: 'Mine', description: '', question }, Date.now())
  dowser.settings.set({ firstDayOfWeek: 7 })

  await dowser.demo.takeOut()
  await until(() => at() === 'nowhere', 'an empty workspace', LONG)
  const after = contents(folder.dir)
  expect(after.events.map((row) => (row as string[])[0])).toEqual(['own'])
  expect(after.saved).toEqual([['mine', 'Mine']])
  expect(after.said).toEqual([['Door opened', '', '', 0, 0]])
  const { events: _e, saved: _s, said: _d, settings, ...rest } = after
  const { events: _be, saved: _bs, said: _bd, settings: _was, ...empty } = before
  expect(rest).toEqual(empty)
  expect(Object.fromEntries(settings as [string, string][])).toMatchObject({
    ...{ name: '"My workspace"', zone: '"UTC"', now: '"clock"', firstDayOfWeek: '7' },
  })
  expect((await dowser.status()).events).toBe(1)
  expect((await dowser.catalog()).events.filter(({ events }) => events > 0).map(({ name }) => name)).toEqual([
    'Door opened',
  ])
})

test('a stop on the way in is gone on from at the next start; it comes anew after it was taken out', async () => {
  folder = newFolder()
  await open()
  await dowser.demo.bring()
  await until(() => {
    const state = dowser.demo.state()
    return state.at !== 'coming' || state.events > 0
  })
  await dowser.close()
  await open()
  await until(() => at() === 'here', 'the demo', LONG)
  const whole = contents(folder.dir)
  await dowser.demo.takeOut()
  await until(() => at() === 'nowhere', 'an empty workspace', LONG)
  expect(contents(folder.dir).events).toEqual([])
  await dowser.demo.bring()
  await until(() => at() === 'here', 'the demo', LONG)
  expect(contents(folder.dir)).toEqual(whole)
})
