import { gzipSync } from 'node:zlib'
import { writeFileSync } from 'node:fs'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { openDatabase, type Db } from '../store/database.js'
import { importStore } from '../store/imports.js'
import { runImport } from './importer.js'
import { planProblems, type CsvPlan, type ImportPlan } from './importPlan.js'
import { previewFile } from './preview.js'
import { doorway } from './doorway.js'
import { eventWriter } from './writer.js'

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

const NOW = Date.UTC(2026, 10, 1)
const line = (n: number) => `{"person":"p${n}","event":"did","time":"2026-10-08T07:12:03Z","properties":{"n":${n}}}`

function looked(content: Buffer | string): ImportPlan {
  const preview = previewFile(Buffer.from(content), 'Europe/Lisbon')
  if ('problem' in preview) throw new Error(preview.problem)
  return preview.plan
}

function begin(content: Buffer | string, plan: ImportPlan = looked(content)): string {
  const path = `${folder.dir}/file`
  writeFileSync(path, content)
  return importStore(db).create({ file: 'file', path, bytes: content.length, plan }, NOW)
}

async function importFile(content: Buffer | string, plan?: ImportPlan) {
  const id = begin(content, plan)
  const job = await runImport(db, doorway(db, eventWriter(db)), id, {
    now: () => NOW,
    owned: false,
    onProgress: () => true,
  })
  return { job, rejects: [...importStore(db).rejects(id)] }
}
const stored = () =>
  db
    .prepare<[], { event: string; time_ms: number; id: string; properties: string }>(
      `SELECT t.name AS event, time_ms, k.value AS id, properties FROM events e JOIN event_types t ON t.id = e.type
       LEFT JOIN person_ids k ON k.id = e.known ORDER BY seq`,
    )
    .all()

describe('JSON Lines', () => {
  test('good lines are kept, bad ones are listed with number, reason and content', async () => {
    const { job, rejects } = await importFile(
      [line(1), '{"person":', '', line(2), '{"person":"x","event":"did","time":"1970-01-01"}'].join('\n'),
    )
    expect(job).toMatchObject({ state: 'done', accepted: 2, rejected: 2 })
    expect(rejects.map(({ line: n, reason }) => [n, reason])).toEqual([
      [2, 'not JSON: it ends early'],
      [5, 'the time 1970-01-01T00:00:00.000Z lies before the year 2000'],
    ])
    expect(rejects[0].content).toBe('{"person":')
  })

  test('packed with gzip, with a byte-order mark, and Windows line ends', async () => {
    const { job } = await importFile(gzipSync(`\ufeff${line(1)}\r\n${line(2)}\r\n`))
    expect(job).toMatchObject({ state: 'done', accepted: 2, rejected: 0 })
  })

  test('a gzip file that ends early keeps the lines before its end and says so', async () => {
    const whole = gzipSync(Array.from({ length: 20_000 }, (_, i) => line(i)).join('\n'))
    const { job } = await importFile(whole.subarray(0, Math.floor(whole.length * 0.7)))
    expect(job.state).toBe('failed')
    expect(job.problem).toMatch(/ends early/)
    expect(job.accepted).toBeGreaterThan(5000)
    expect(stored()).toHaveLength(job.accepted)
  })

  test('a line of over a megabyte is refused and the next one is read', async () => {
    const { job, rejects } = await importFile(`${line(1)}\n{"person":"${'x'.repeat(1_600_000)}"}\n${line(2)}\n`, {
      format: 'jsonl',
      gzip: false,
      encoding: 'utf-8',
    })
    expect([job.accepted, rejects[0]?.reason]).toEqual([2, 'the line is over 1 MB long'])
  })
})

describe('CSV', () => {
  const csv =
    'user_id,event,timestamp,minutes,helmet,note\nada,Ride,2026-10-08 07:12:03,14.5,yes,"so, so"\ngrace,Ride,2026-10-08 08:00:00,3,no,\n'

  test('columns are guessed from names and values', () => {
    expect((looked(csv) as CsvPlan).columns).toEqual([
      { role: 'person' },
      { role: 'event' },
      { role: 'time', format: 'iso' },
      { role: 'property', name: 'minutes', type: 'number' },
      { role: 'property', name: 'helmet', type: 'boolean' },
      { role: 'property', name: 'note', type: 'text' },
    ])
  })

  test('local times are read in the zone, quotes are undone, empty cells are no value', async () => {
    await importFile(csv)
    expect(stored()).toEqual([
      // Lisbon is an hour ahead of UTC in October.
      {
        event: 'Ride',
        id: 'ada',
        time_ms: Date.UTC(2026, 9, 8, 6, 12, 3),
        properties: '{"minutes":14.5,"helmet":true,"note":"so, so"}',
      },
      { event: 'Ride', id: 'grace', time_ms: Date.UTC(2026, 9, 8, 7), properties: '{"minutes":3,"helmet":false}' },
    ])
  })

  test('ragged rows, wrong types and open quotes are refused one by one', async () => {
    const { job, rejects } = await importFile(
      `${csv}ines,Ride\njoan,Ride,2026-10-08,many,no,\nkaja,Ride,2026-10-09,1,no,fine\n`,
      looked(csv),
    )
    expect(job).toMatchObject({ accepted: 3, rejected: 2 })
    expect(rejects.map(({ line: n, reason }) => [n, reason])).toEqual([
      [4, '2 columns, where the first line has 6'],
      [5, 'column “minutes”: “many” is not a number'],
    ])
  })

  test.each([
    [';', 'decimal commas'],
    ['\t', 'tabs'],
    ['|', 'bars'],
  ])('delimiter %j (%s)', async (delimiter) => {
    const text = `person${delimiter}event${delimiter}time${delimiter}km\nada${delimiter}Ride${delimiter}8/10/2026 07:00${delimiter}1,5\n`
    await importFile(text)
    expect(stored()[0]).toMatchObject({ properties: '{"km":1.5}', time_ms: Date.UTC(2026, 9, 8, 6) })
  })

  test.each<[string, Buffer]>([
    ['utf-8 with a mark', Buffer.from('\ufeffperson,event,time\nJosé,Ride,2026-10-08\n')],
    ['utf-16', Buffer.from('\ufeffperson,event,time\nJosé,Ride,2026-10-08\n', 'utf16le')],
    ['windows-1252', Buffer.from('person,event,time\nJosé,Ride,2026-10-08\n', 'latin1')],
  ])('%s', async (_name, bytes) => {
    const { job } = await importFile(bytes)
    expect([job.state, stored()[0]?.id]).toEqual(['done', 'José'])
  })

  test('what is missing is said before anything is read', () => {
    const plan = looked('when,what\n2026-10-08,Ride\n')
    expect(planProblems(plan).join(' ')).toMatch(/who did it.*names the event/s)
  })
})

test.each([
  ['', /empty/],
  ['[{"person":"a"}]', /JSON Lines/],
  ['\0\x01\x02', /not text|neither/],
])('a file that is none of these is refused: %j', (content, reason) => {
  expect(previewFile(Buffer.from(content), 'UTC')).toMatchObject({ problem: expect.stringMatching(reason) as string })
})

test('an import that is stopped goes on where it was, and counts nothing twice', async () => {
  const content = Array.from({ length: 9000 }, (_, i) => (i % 1000 === 7 ? 'bad' : line(i))).join('\n')
  const id = begin(content)
  const imports = importStore(db)
  let batches = 0
  const stopped = await runImport(db, doorway(db, eventWriter(db)), id, {
    now: () => NOW,
    owned: false,
    onProgress: () => ++batches < 2,
  })
  expect(stopped).toMatchObject({ state: 'stopped', records: 4000 })
  db.prepare(`UPDATE imports SET state = 'running', path = ? WHERE id = ?`).run(`${folder.dir}/file`, id)
  const done = await runImport(db, doorway(db, eventWriter(db)), id, {
    now: () => NOW,
    owned: false,
    onProgress: () => true,
  })
  expect(done).toMatchObject({ state: 'done', records: 9000, accepted: 8991, rejected: 9, duplicates: 0 })
  expect([...imports.rejects(id)]).toHaveLength(9)
  expect(stored()).toHaveLength(8991)
})
