import { gzipSync } from 'node:zlib'
import { writeFileSync } from 'node:fs'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { openDatabase, type Db } from '../store/database.js'
import { importStore } from '../store/imports.js'
import { runImport } from './importer.js'
import { lookThrough } from './importLook.js'
import { rejectedCsv } from './rejected.js'
import { parquetWriteBuffer } from 'hyparquet-writer'
import {
  planProblems,
  withColumn,
  type ColumnRole,
  type CsvPlan,
  type ImportPlan,
  type TablePlan,
} from './importPlan.js'
import { parquetStart } from './records.js'
import { previewFile, previewTable } from './preview.js'
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

async function looked(content: Buffer | string): Promise<ImportPlan> {
  const preview = await previewFile(Buffer.from(content), 'Europe/Lisbon')
  if ('problem' in preview) throw new Error(preview.problem)
  return preview.plan
}

async function begin(content: Buffer | string, given?: ImportPlan): Promise<string> {
  const plan = given ?? (await looked(content))
  const path = `${folder.dir}/file`
  writeFileSync(path, content)
  return importStore(db).create({ file: 'file', path, bytes: content.length, plan }, NOW)
}

async function importFile(content: Buffer | string, plan?: ImportPlan) {
  const id = await begin(content, plan)
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
      [line(1), '{"person":', '', line(2), '{"person":"x","event":"did","time":"1969-01-01"}'].join('\n'),
    )
    expect(job).toMatchObject({ state: 'done', accepted: 2, rejected: 2 })
    expect(rejects.map(({ line: n, reason }) => [n, reason])).toEqual([
      [2, 'not JSON: it ends early'],
      [5, 'the time 1969-01-01T00:00:00.000Z lies before 1970-01-01, the oldest that this workspace takes'],
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

  test('columns are guessed from names and values', async () => {
    expect(((await looked(csv)) as CsvPlan).columns).toEqual([
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
      await looked(csv),
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

  test('what is missing is said before anything is read', async () => {
    const plan = await looked('when,what\n2026-10-08,Ride\n')
    expect(planProblems(plan).join(' ')).toMatch(/who did it.*names the event/s)
  })
})

test.each([
  ['', /empty/],
  ['[]', /no objects/],
  ['\0\x01\x02', /not text|neither/],
])('a file that is none of these is refused: %j', async (content, reason) => {
  expect(await previewFile(Buffer.from(content), 'UTC')).toMatchObject({
    problem: expect.stringMatching(reason) as string,
  })
})

test('an import that is stopped goes on where it was, and counts nothing twice', async () => {
  const content = Array.from({ length: 9000 }, (_, i) => (i % 1000 === 7 ? 'bad' : line(i))).join('\n')
  const id = await begin(content)
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

describe('one JSON array', () => {
  test('of events is read element by element; a bad one is told with its number', async () => {
    const { job, rejects } = await importFile(`[${line(1)},\n{"event":"did"},${line(2)}]`)
    expect([job.state, job.accepted]).toEqual(['done', 2])
    expect(rejects).toMatchObject([{ line: 2, reason: expect.stringMatching(/"person" nor "anonymous"/) as string }])
  })

  test('that ends early keeps what came before', async () => {
    const { job } = await importFile(`[${line(1)},${line(2)},{"person":"x"`, await looked(`[${line(1)},${line(2)}]`))
    expect([job.state, job.accepted]).toEqual(['failed', 2])
    expect(job.problem).toMatch(/not JSON after element 2/)
  })
})

describe('objects of any kind', () => {
  test('have their fields as columns, nested ones under dotted names', async () => {
    const text =
      '{"user":"ada","when":"2026-10-08T07:00:00Z","action":"Ride","bike":{"type":"cargo","tags":["a","b"]}}\n'
    const plan = await looked(text)
    expect(plan).toMatchObject({ format: 'json', header: ['user', 'when', 'action', 'bike.type', 'bike.tags'] })
    await importFile(text, plan)
    expect(stored()).toMatchObject([
      { event: 'Ride', id: 'ada', properties: '{"bike.type":"cargo","bike.tags":["a","b"]}' },
    ])
  })
})

describe('things with dates', () => {
  const orders = (rows: string[]) => ['order_id,customer,created_at,paid_at,total', ...rows].join('\n')
  const plan = async (text: string): Promise<TablePlan> => ({
    ...((await looked(text)) as TablePlan),
    thing: 'order',
  })

  test('are recognised, each date with a name for its event', async () => {
    expect(await looked(orders(['7,ada,2026-10-01,2026-10-02,5']))).toMatchObject({
      rows: 'things',
      replace: true,
      columns: [
        { role: 'id' },
        { role: 'person' },
        { role: 'happened', event: 'Created' },
        { role: 'happened', event: 'Paid' },
        { role: 'property', name: 'total', type: 'number' },
      ],
    })
  })

  test('make an event for each date that is filled, with the thing’s own values', async () => {
    const text = orders(['7,ada,2026-10-01,2026-10-02,5', '8,bea,2026-10-03,,9'])
    const { job } = await importFile(text, await plan(text))
    expect(job).toMatchObject({ records: 2, accepted: 3, rejected: 0 })
    expect(stored().map(({ event, id, properties }) => [event, id, properties])).toEqual([
      ['Created', 'ada', '{"total":5,"order_id":"7"}'],
      ['Paid', 'ada', '{"total":5,"order_id":"7"}'],
      ['Created', 'bea', '{"total":9,"order_id":"8"}'],
    ])
  })

  test('a later table replaces the rows of the same id and adds the rest', async () => {
    const before = orders(['7,ada,2026-10-01,,5', '8,bea,2026-10-03,,9'])
    await importFile(before, await plan(before))
    const after = orders(['7,ada,2026-10-01,2026-10-05,6', '8,bea,2026-10-03,,9'])
    const { job } = await importFile(after, await plan(after))
    expect(job).toMatchObject({ accepted: 2, duplicates: 1 })
    expect(stored().map(({ event, id, properties }) => `${event} ${id} ${JSON.parse(properties).total}`)).toEqual([
      'Created ada 6',
      'Created bea 9',
      'Paid ada 6',
    ])
  })

  test('a row without an id or without any date is refused', async () => {
    const text = orders([',ada,2026-10-01,,5', '8,bea,,,9', '9,cai,2026-10-03,soon,1'])
    const { rejects } = await importFile(text, await plan(orders(['7,ada,2026-10-01,2026-10-02,5'])))
    expect(rejects.map(({ line: n, reason }) => [n, reason])).toEqual([
      [2, 'the id of the order is missing'],
      [3, 'none of its dates is filled'],
      [4, 'column “created_at” or “paid_at”: “soon” is no time written as 2026-10-08 07:12'],
    ])
  })

  test('what is missing is said', async () => {
    const read = (await looked(orders(['7,ada,2026-10-01,2026-10-02,5']))) as TablePlan
    expect(planProblems(read)).toEqual(['Say in a word what each row is: an order, a subscription.'])
    const noDates = { ...read, thing: 'order', columns: read.columns.filter(({ role }) => role !== 'happened') }
    expect(planProblems(noDates)[0]).toMatch(/at least one column with a date/)
  })
})

describe('people', () => {
  test('a table of them writes profiles, typed, the latest winning', async () => {
    const text = 'customer_id,plan,age,vip\nada,Annual,41,yes\nbea,None,,no\n,None,3,no\n'
    expect(await looked(text)).toMatchObject({ rows: 'people' })
    const { job, rejects } = await importFile(text)
    expect([job.accepted, rejects.map(({ line: n }) => n)]).toEqual([2, [4]])
    await importFile('customer_id,plan,age,vip\nada,Monthly,42,yes\n')
    const profiles = db
      .prepare(
        'SELECT i.value AS id, p.name, v.value FROM profile_values v JOIN properties p ON p.id = v.property JOIN person_ids i ON i.person = v.person ORDER BY 1, 2',
      )
      .raw()
      .all()
    expect(profiles).toEqual([
      ['ada', 'age', '42'],
      ['ada', 'plan', '"Monthly"'],
      ['ada', 'vip', 'true'],
      ['bea', 'plan', '"None"'],
      ['bea', 'vip', 'false'],
    ])
  })
})

describe('Parquet', () => {
  const write = (columnData: Parameters<typeof parquetWriteBuffer>[0]['columnData'], rowGroupSize = 2) =>
    Buffer.from(parquetWriteBuffer({ columnData, rowGroupSize }))
  const rides = write([
    { name: 'rider', data: ['ada', 'bea', 'cai'], type: 'STRING' },
    { name: 'event', data: ['Ride', 'Ride', 'Walk'], type: 'STRING' },
    { name: 'time', data: [new Date(NOW - 3), new Date(NOW - 2), new Date(NOW - 1)], type: 'TIMESTAMP' },
    { name: 'minutes', data: [14.5, null, 3], type: 'DOUBLE', nullable: true },
    { name: 'count', data: [1n, 2n, 3n], type: 'INT64' },
  ])
  const startOf = async (content: Buffer) => {
    writeFileSync(`${folder.dir}/file`, content)
    const preview = previewTable(await parquetStart(`${folder.dir}/file`), 'UTC')
    if ('problem' in preview) throw new Error(preview.problem)
    return preview.plan as TablePlan
  }

  test('is read with its own types, row group by row group', async () => {
    const plan = await startOf(rides)
    expect(plan.columns.map(({ role }) => role)).toEqual(['person', 'event', 'time', 'property', 'property'])
    const { job } = await importFile(rides, plan)
    expect(job).toMatchObject({ state: 'done', accepted: 3 })
    expect(stored().map(({ id, time_ms, properties }) => [id, time_ms, properties])).toEqual([
      ['ada', NOW - 3, '{"minutes":14.5,"count":1}'],
      ['bea', NOW - 2, '{"count":2}'],
      ['cai', NOW - 1, '{"minutes":3,"count":3}'],
    ])
  })

  test('that is cut off is refused in words, and nothing of it is taken', async () => {
    const plan = await startOf(rides)
    const { job } = await importFile(rides.subarray(0, rides.length - 20), plan)
    expect([job.state, job.accepted]).toEqual(['failed', 0])
    expect(job.problem).toMatch(/not a whole Parquet file/)
  })

  test('with two thousand columns keeps as many as an event can carry, and says so when more are chosen', async () => {
    const wide = write([
      { name: 'person', data: ['ada'], type: 'STRING' },
      { name: 'event', data: ['Wide'], type: 'STRING' },
      { name: 'time', data: ['2026-10-08'], type: 'STRING' },
      ...Array.from({ length: 2000 }, (_, i) => ({ name: `c${i}`, data: [i], type: 'DOUBLE' as const })),
    ])
    const plan = await startOf(wide)
    expect(planProblems(plan)).toEqual([])
    const { job } = await importFile(wide, plan)
    expect([job.accepted, Object.keys(JSON.parse(stored()[0].properties) as object).length]).toEqual([1, 190])
    const all = plan.columns.map((column, i): ColumnRole =>
      column.role === 'ignore' ? { role: 'property', name: `c${i}`, type: 'number' } : column,
    )
    expect(planProblems({ ...plan, columns: all })[0]).toMatch(/2000 columns would be properties; at most 200/)
  })
})

test('a CSV of two thousand columns is looked at and read', async () => {
  const header = ['person', 'event', 'time', ...Array.from({ length: 2000 }, (_, i) => `c${i}`)].join(',')
  const text = `${header}\nada,Wide,2026-10-08,${Array.from({ length: 2000 }, (_, i) => i).join(',')}\n`
  const { job } = await importFile(text)
  expect(job).toMatchObject({ accepted: 1, rejected: 0 })
})

test('two files that claim the same event ids: the first wins, the second is counted as known', async () => {
  const file = (note: string) =>
    `id,person,event,time,note\ne1,ada,Ride,2026-10-08,${note}\ne2,bea,Ride,2026-10-08,${note}\n`
  await importFile(file('first'))
  const { job } = await importFile(file('second'))
  expect(job).toMatchObject({ accepted: 0, duplicates: 2 })
  expect(stored().map(({ properties }) => properties)).toEqual(['{"note":"first"}', '{"note":"first"}'])
})

test('a file of a shape seen before is read as the last one was', async () => {
  const text = 'a,b,c\nada,Ride,2026-10-08\n'
  const imports = importStore(db)
  const first = imports.remembered(await previewFile(Buffer.from(text), 'UTC'))
  expect(first).toMatchObject({ remembered: false })
  const columns: ColumnRole[] = [{ role: 'person' }, { role: 'event' }, { role: 'time', format: 'iso' }]
  await importFile(text, { ...(first as { plan: TablePlan }).plan, rows: 'events', columns })
  const later = imports.remembered(await previewFile(Buffer.from('a,b,c\nbea,Walk,2026-10-09\n'), 'UTC'))
  expect(later).toMatchObject({ remembered: true, plan: { columns } })
  expect(imports.remembered(await previewFile(Buffer.from('a,b,d\nx,y,z\n'), 'UTC'))).toMatchObject({
    remembered: false,
  })
})

describe('a look through a file before anything is written', () => {
  const look = async (content: string, plan?: ImportPlan) => {
    const id = await begin(content, plan)
    const found = await lookThrough(db, doorway(db, eventWriter(db)), id, { now: () => NOW, onProgress: () => true })
    return { id, found: found! }
  }
  const trips = (...times: string[]) =>
    `rider,event,ordered_at,minutes\n${times.map((time, n) => `r${n},Ride,${time},${n}`).join('\n')}\n`
  const asIso = async (content: string) => {
    const plan = (await looked(content)) as TablePlan
    return { ...plan, columns: plan.columns.with(2, { role: 'time', format: 'iso' }) } as ImportPlan
  }

  test('tells how many lines are wrong, in the names of the file’s columns, and writes nothing', async () => {
    const content = trips('2026-10-01', 'soon', '2026-10-02', 'later')
    const { found, id } = await look(content, await asIso(content))
    expect(found).toMatchObject({ records: 4, known: 0, rejected: 2, problem: null })
    expect(found.reasons).toEqual([
      {
        reason: 'column “ordered_at”: a value is no time written as 2026-10-08 07:12',
        ...{ lines: 2, first: 3, example: 'r1,Ride,soon,1' },
      },
    ])
    expect(found.rows[0]).toEqual(['r0', 'Ride', '2026-10-01', '0'])
    expect(found.mends).toEqual([])
    expect(stored()).toEqual([])
    expect(importStore(db).get(id)).toMatchObject({ state: 'waiting', accepted: 0, rejected: 0, looked: found })
  })

  test('finds the reading that mends them: the day first, or a number as text', async () => {
    const content = trips('31/10/2026', '30/10/2026', '1/10/2026')
    const wrong = await asIso(content)
    const { found } = await look(content, wrong)
    const [best] = found.mends
    expect(best).toEqual({ column: 2, to: { role: 'time', format: 'day first' }, lines: 3, of: 3, broken: 0 })
    // 1/10 could be a January day as well, which mends one line only.
    expect(found.mends[1]).toMatchObject({ to: { format: 'month first' }, lines: 1 })
    expect((await look(content, withColumn(wrong as TablePlan, best!.column, best!.to))).found.rejected).toBe(0)

    const numbers = 'rider,event,time,minutes\na,Ride,2026-10-01,5\nb,Ride,2026-10-01,ten\n'
    const plan = (await looked(numbers)) as TablePlan
    const asNumber = { ...plan, columns: plan.columns.with(3, { role: 'property', name: 'minutes', type: 'number' }) }
    const ofNumbers = await look(numbers, asNumber as ImportPlan)
    expect(ofNumbers.found.mends).toEqual([
      { column: 3, to: { role: 'property', name: 'minutes', type: 'text' }, lines: 1, of: 1, broken: 0 },
    ])
  })

  test('counts what is known already; the import lists those lines', async () => {
    const content = 'id,person,event,time\n1,a,Ride,2026-10-01\n2,b,Ride,2026-10-01\n'
    await importFile(content)
    const more = `${content}3,c,Ride,2026-10-02\n3,c,Ride,2026-10-02\n`
    expect((await look(more)).found).toMatchObject({ records: 4, known: 2, rejected: 0 })
    const { job } = await importFile(more)
    expect(job).toMatchObject({ accepted: 1, duplicates: 3 })
    expect(importStore(db).known(job.id)).toEqual([
      { line: 2, content: '1,a,Ride,2026-10-01' },
      { line: 3, content: '2,b,Ride,2026-10-01' },
      { line: 5, content: '3,c,Ride,2026-10-02' },
    ])
  })

  test('what was not taken is downloaded in the file’s own columns, mended, and brought in as the file was', async () => {
    const content = trips('2026-10-01', 'soon, or so'.replace(',', ''), '2026-10-02')
    const plan = await asIso(content)
    const { job, rejects } = await importFile(content, plan)
    const csv = [...rejectedCsv(job.plan, rejects)].join('')
    expect(csv).toBe(
      'rider,event,ordered_at,minutes,line in the file,not taken because\n' +
        'r1,Ride,soon or so,1,3,column “ordered_at”: “soon or so” is no time written as 2026-10-08 07:12\n',
    )
    const again = csv.replace('soon or so', '2026-10-03')
    const preview = importStore(db).remembered(await previewFile(Buffer.from(again), 'Europe/Lisbon'))
    expect(preview).toMatchObject({ remembered: true })
    const next = await importFile(again, (preview as { plan: ImportPlan }).plan)
    expect(next.job).toMatchObject({ accepted: 1, rejected: 0 })
    expect(stored()[2]).toMatchObject({ event: 'Ride', id: 'r1', properties: '{"minutes":1}' })
  })

  test('of a thing with several dates it is the row that is downloaded', async () => {
    const content = 'id,person,created_at,paid_at\n7,ada,2026-10-01,soon\n'
    const things = (await looked('id,person,created_at,paid_at\n7,ada,2026-10-01,2026-10-02\n')) as TablePlan
    const { job, rejects } = await importFile(content, { ...things, thing: 'order' })
    expect(job).toMatchObject({ accepted: 1, rejected: 1 })
    expect([...rejectedCsv(job.plan, rejects)][1]).toMatch(/^7,ada,2026-10-01,soon,2,/)
    expect((await look(content, { ...things, thing: 'order' })).found.reasons).toMatchObject([
      { lines: 1, example: '7,ada,2026-10-01,soon' },
    ])
  })
})
