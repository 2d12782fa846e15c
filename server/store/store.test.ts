import Database from 'better-sqlite3'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { usualTrend } from '../../core/analyses/trend/question.js'
import { readSettings } from '../settings.js'
import { keyStore, linkStore } from './access.js'
import { annotationStore } from './annotations.js'
import { costStore } from './costs.js'
import { dashboardStore, freeSpot } from './dashboards.js'
import { openDatabase, type Db } from './database.js'
import { settingsStore } from './settings.js'
import { studyStore } from './studies.js'

let folder: ReturnType<typeof newFolder>
let db: Db
beforeEach(() => {
  folder = newFolder()
  db = openDatabase(`${folder.dir}/w.db`)
})
afterEach(() => {
  db.close()
  folder.remove()
})
const study = { name: 'Riders', description: 'd', question: usualTrend('Ride') }

describe('costs', () => {
  const by = { of: 'event', name: 'Channel' } as const
  const row = (day: string, days: 1 | 7, value: string, amount: number) => ({ day, days, value, amount })

  test('a table takes the place of what there is for its days; a week that it cuts keeps its other days', () => {
    const costs = costStore(db)
    costs.replace(by, [row('2026-10-05', 7, 'Search', 70), row('2026-10-05', 7, 'Mail', 7)])
    const next = [row('2026-10-08', 1, 'Search', 1), row('2026-10-11', 1, 'Poster', 2)]
    expect(costs.replacedBy(by, next)).toHaveLength(2)
    const before = costs.replace(by, next)
    expect(before).toHaveLength(2)
    // 5, 6 and 7 October are kept of both, a seventh each.
    expect(costs.rows(by)).toEqual([
      ...['2026-10-05', '2026-10-06', '2026-10-07'].flatMap((day) => [
        row(day, 1, 'Mail', 1),
        row(day, 1, 'Search', 10),
      ]),
      ...next,
    ])
    expect(costs.list()).toMatchObject([{ by, rows: 8, from: '2026-10-05', to: '2026-10-11', total: 36 }])
    expect(costs.latest(by, 'mail', 1)).toEqual({ rows: [row('2026-10-07', 1, 'Mail', 1)], found: 3 })
    costs.set(by, before!)
    expect(costs.rows(by)).toEqual([row('2026-10-05', 7, 'Mail', 7), row('2026-10-05', 7, 'Search', 70)])
  })

  test('what was brought in for a name that is merged counts under what it was merged into', () => {
    const costs = costStore(db)
    const [search, mail] = [row('2026-10-05', 7, 'Search', 70), row('2026-10-05', 1, 'Mail', 7)]
    costs.set(by, [search])
    costs.set({ of: 'event', name: 'chanel' }, [mail])
    costs.set({ of: 'person', name: 'chanel' }, [row('2026-10-05', 1, 'Mail', 1000)])
    expect(costs.rowsUnder(by, [])).toEqual([search])
    const merged = [{ of: 'event' as const, from: 'chanel', into: 'Channel' }]
    expect(costs.rowsUnder(by, merged)).toEqual([search, mail])
    expect(costs.rowsUnder({ of: 'event', name: 'chanel' }, merged)).toEqual([search, mail])
  })

  test('one is corrected or removed; each property has its own', () => {
    const costs = costStore(db)
    costs.set(by, [row('2026-10-05', 7, 'Search', 70)])
    costs.set({ of: 'event name' }, [row('2026-10-05', 1, 'Mail opened', 1)])
    expect(costs.correct(by, row('2026-10-05', 7, 'Search', 70), 7)).toBe(true)
    expect(costs.correct(by, row('2026-10-06', 1, 'Search', 1), 7)).toBe(false)
    expect(costs.list().map((each) => [each.by, each.total])).toEqual([
      [{ of: 'event name' }, 1],
      [by, 7],
    ])
    costs.correct(by, row('2026-10-05', 7, 'Search', 7), null)
    expect(costs.rows(by)).toEqual([])
    expect(costs.correct(by, row('2026-10-05', 7, 'Search', 7), 7)).toBe(true)
    expect(costs.rows(by)).toEqual([row('2026-10-05', 7, 'Search', 7)])
  })
})

describe('studies', () => {
  test('are kept with every saved state', () => {
    const studies = studyStore(db)
    const id = studies.create(study, 10)
    studies.save(id, { ...study, name: 'Riders by day', question: { ...study.question, every: 'day' } }, 20)
    expect(studies.get(id)).toMatchObject({ name: 'Riders by day', savedMs: 20, question: { every: 'day' } })
    expect(
      studies.history(id).map(({ savedMs, question }) => [savedMs, question.kind === 'trend' && question.every]),
    ).toEqual([
      [20, 'day'],
      [10, 'week'],
    ])
  })

  test('take their cards and links with them when they go', () => {
    const [studies, dashboards, links] = [studyStore(db), dashboardStore(db), linkStore(db)]
    const id = studies.create(study, 1)
    const board = dashboards.create({ name: 'B', description: '' }, 1)
    dashboards.addCard(board, { study: id }, 1)
    const token = links.create('study', id, null, 1)
    expect(studies.dashboardsWith(id)).toEqual([{ id: board, name: 'B' }])
    studies.remove(id)
    expect(dashboards.get(board).cards).toEqual([])
    expect(() => links.open(token, 2)).toThrow('This link shows nothing any more')
    expect(() => studies.get(id)).toThrow(`There is no study “${id}”`)
  })
})

describe('dashboards', () => {
  test('put a new card where it fits first, highest and then leftmost', () => {
    expect(freeSpot([], 6, 4)).toEqual({ x: 0, y: 0 })
    expect(freeSpot([{ x: 0, y: 0, w: 6, h: 4 }], 6, 4)).toEqual({ x: 6, y: 0 })
    expect(freeSpot([{ x: 0, y: 0, w: 8, h: 4 }], 6, 4)).toEqual({ x: 0, y: 4 })
    expect(
      freeSpot(
        [
          { x: 0, y: 0, w: 12, h: 2 },
          { x: 0, y: 2, w: 4, h: 9 },
        ],
        6,
        3,
      ),
    ).toEqual({ x: 4, y: 2 })
  })

  test('keep places, notes, and what all cards take', () => {
    const dashboards = dashboardStore(db)
    const id = dashboards.create({ name: 'B', description: '' }, 1)
    const note = dashboards.addCard(id, { note: { type: 'doc' } }, 1)
    dashboards.moveCards(id, [{ id: note, x: 3, y: 2, w: 4, h: 5 }], 2)
    dashboards.setNote(id, note, { type: 'doc', content: [] }, 3)
    const annual = {
      kind: 'profile' as const,
      where: { property: { of: 'person' as const, name: 'plan' }, op: 'has a value' as const },
    }
    dashboards.setForAll(id, { last: 4, unit: 'week' }, { rule: annual }, 4)
    expect(dashboards.get(id)).toMatchObject({
      range: { last: 4, unit: 'week' },
      among: { rule: annual },
      savedMs: 4,
      cards: [{ id: note, x: 3, y: 2, w: 4, h: 5, note: { content: [] } }],
    })
    expect(dashboards.list()).toMatchObject([{ name: 'B', studies: 0 }])
  })

  test('of another dashboard a card is not touched', () => {
    const dashboards = dashboardStore(db)
    const [one, two] = ['1', '2'].map((name) => dashboards.create({ name, description: '' }, 1))
    const note = dashboards.addCard(one, { note: {} }, 1)
    dashboards.removeCard(two, note, 1)
    expect(() => dashboards.setNote(two, note, {}, 1)).toThrow('There is no card')
    expect(dashboards.get(one).cards).toHaveLength(1)
  })
})

describe('dated notes', () => {
  test('are kept by day, changed under their id, taken away and put back', () => {
    const notes = annotationStore(db)
    const price = { day: '2026-10-08', text: 'Price up', tags: ['price'], study: null }
    const id = notes.save(price, 1)
    notes.save({ ...price, day: '2026-06-01', text: 'Festival', tags: [] }, 2)
    expect(notes.list().map(({ text }) => text)).toEqual(['Festival', 'Price up'])
    notes.save({ ...price, text: 'Day pass price up' }, 3, id)
    expect(notes.list()[1]).toEqual({ ...price, id, text: 'Day pass price up' })
    notes.remove(id)
    expect(notes.list()).toHaveLength(1)
    notes.save(price, 4, id)
    expect(notes.list()[1]).toEqual({ ...price, id })
  })

  test('of one study go with it, those of all stay', () => {
    const [notes, studies] = [annotationStore(db), studyStore(db)]
    const id = studies.create(study, 1)
    for (const of of [id, null]) notes.save({ day: '2026-10-08', text: String(of), tags: [], study: of }, 1)
    studies.remove(id)
    expect(notes.list().map(({ study: of }) => of)).toEqual([null])
  })
})

describe('links and keys', () => {
  test('a link works until its end, and not after it was revoked', () => {
    const links = linkStore(db)
    const token = links.create('dashboard', 'd', 100, 1)
    expect(token).toMatch(/^[\w-]{22}$/)
    expect(links.open(token, 99)).toMatchObject({ kind: 'dashboard', target: 'd' })
    expect(() => links.open(token, 100)).toThrow()
    const other = links.create('dashboard', 'd', null, 1)
    links.revoke(other, 5)
    expect(() => links.open(other, 6)).toThrow()
    expect(links.list('dashboard', 'd').map((link) => link.token)).toEqual([token])
  })

  test('of a key only its hash is in the file', () => {
    const keys = keyStore(db)
    const key = keys.create('a program', 'write', 1)
    expect([keys.check(key)?.scope, keys.check(`${key}x`)]).toEqual(['write', null])
    keys.noteUse(keys.check(key)!.id, 2)
    expect(keys.list()).toMatchObject([{ name: 'a program', usedMs: 2 }])
    expect(JSON.stringify(db.prepare('SELECT * FROM api_keys').all())).not.toContain(key)
  })
})

describe('the file', () => {
  test('is brought up to date once, and opens again as it was', () => {
    settingsStore(db).set({ name: 'Mine', zone: 'Asia/Tokyo' })
    const again = openDatabase(`${folder.dir}/w.db`)
    expect(settingsStore(again).get()).toMatchObject({
      name: 'Mine',
      zone: 'Asia/Tokyo',
      firstDayOfWeek: 1,
      now: 'clock',
    })
    again.close()
  })

  test('of a newer Dowser is refused in words', () => {
    const file = `${folder.dir}/new.db`
    const newer = new Database(file)
    newer.pragma('user_version = 99')
    newer.close()
    expect(() => openDatabase(file)).toThrow('written by a newer Dowser')
  })
})

test('settings of the server that cannot be used are named', () => {
  expect(() => readSettings({ DOWSER_PORT: 'many', DOWSER_LOG: 'loud' })).toThrow(/DOWSER_PORT.*DOWSER_LOG/s)
  expect(readSettings({ DOWSER_BODY_MB: '2', DOWSER_ALLOWED_HOSTS: 'a.example, B.example' })).toMatchObject({
    host: '127.0.0.1',
    port: 4810,
    bodyBytes: 2_097_152,
    allowedHosts: ['a.example', 'b.example'],
  })
})
