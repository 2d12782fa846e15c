import { atOnce } from '../core/steps.js'
import { LogKeeper } from './engine/keeper.js'
import { DamagedError } from './store/damage.js'
import { openDatabase, type Db } from './store/database.js'

/** One thing that was looked at, and what was found wrong with it, in words; nothing where it is whole. */
export interface Finding {
  what: string
  found: string[]
}

const MOST_TOLD = 20

/** Looks whether a workspace's file is whole, and whether what is counted from it is what stands in it. Writes nothing. */
export function* checkWorkspace(file: string): Generator<Finding> {
  let db: Db
  try {
    db = openDatabase(file, { readonly: true })
  } catch (error) {
    yield { what: 'the file can be opened', found: [(error as Error).message] }
    return
  }
  try {
    for (const [what, look] of LOOKS)
      try {
        yield { what, found: look(db, file).slice(0, MOST_TOLD) }
      } catch (error) {
        yield {
          what,
          found: [error instanceof DamagedError ? error.message : `it cannot be read: ${(error as Error).message}`],
        }
      }
  } finally {
    db.close()
  }
}

const LOOKS: [string, (db: Db, file: string) => string[]][] = [
  ['the file’s pages and indexes are whole', integrity],
  ['whatever is pointed to is there', foreignKeys],
  ['every event’s properties can be read', properties],
  ['the counts of the catalog are at least what there is', counts],
  ['what is set aside is not counted as well', setAside],
  ['the columns that questions read are the rows of the file', columns],
]

function integrity(db: Db): string[] {
  const rows = db.pragma('integrity_check(100)') as { integrity_check: string }[]
  return rows.map((row) => row.integrity_check).filter((text) => text !== 'ok')
}

function foreignKeys(db: Db): string[] {
  const rows = db.pragma('foreign_key_check') as { table: string; rowid: number | null; parent: string }[]
  return rows.map(({ table, rowid, parent }) => `row ${rowid ?? '?'} of ${table} points to nothing in ${parent}`)
}

function properties(db: Db): string[] {
  return db
    .prepare<[], { seq: number }>('SELECT seq FROM events WHERE NOT json_valid(properties) LIMIT 50')
    .all()
    .map(({ seq }) => `event number ${seq}: its properties are no JSON`)
}

/** What was taken out again stays counted in the catalog: fewer than there are is what cannot be. */
function counts(db: Db): string[] {
  return db
    .prepare<[], { name: string; said: number; there: number }>(
      `SELECT t.name, t.events AS said, COUNT(e.seq) AS there FROM event_types t LEFT JOIN events e ON e.type = t.id
       GROUP BY t.id HAVING there > said`,
    )
    .all()
    .map(({ name, said, there }) => `“${name}”: ${there} events, the catalog says ${said}`)
}

function setAside(db: Db): string[] {
  return db
    .prepare<[], { id: string }>(
      'SELECT e.event_id AS id FROM events e JOIN set_aside s ON s.event_id = e.event_id LIMIT 50',
    )
    .all()
    .map(({ id }) => `the event with the id “${id}” is set aside and counted`)
}

/** Makes the columns anew and holds them against the rows: how many of each type, their times added up, and whose they are. */
function columns(db: Db, file: string): string[] {
  const own = openDatabase(file, { readonly: true })
  try {
    const keeper = new LogKeeper(own)
    atOnce(keeper.refresh())
    const { logs, schema, events, seenPeople } = keeper.current
    const found: string[] = []
    const rows = db
      .prepare<[], { name: string; events: number; sum: number }>(
        // As floats: the sum of many times is larger than a whole number may be.
        `SELECT t.name, COUNT(*) AS events, SUM(CAST(e.time_ms AS REAL)) AS sum
         FROM events e JOIN event_types t ON t.id = e.type GROUP BY t.id`,
      )
      .all()
    for (const row of rows) {
      const code = schema.typeCode(row.name) ?? -1
      let count = 0
      let sum = 0
      for (const log of logs)
        for (const at of log.rowsOfType[code] ?? []) {
          count++
          sum += log.time[at]!
        }
      if (count !== row.events) found.push(`“${row.name}”: ${count} in the columns, ${row.events} in the rows`)
      else if (Math.abs(sum - row.sum) > 1e-9 * Math.abs(row.sum)) found.push(`“${row.name}”: the times differ`)
    }
    const total = rows.reduce((all, row) => all + row.events, 0)
    if (events !== total) found.push(`${events} events in the columns, ${total} in the rows`)
    const owners = db.prepare<[], { id: number }>('SELECT DISTINCT IFNULL(known, anonymous) AS id FROM events').all()
    const people = new Set(owners.map(({ id }) => keeper.personOf(id))).size
    if (people !== seenPeople) found.push(`${seenPeople} people with events in the columns, ${people} in the rows`)
    return found
  } finally {
    own.close()
  }
}
