import Database from 'better-sqlite3'
import { DamagedError, isDamage } from './damage.js'
import { migrationsOf, type Kind } from './migrations.js'

export type Db = Database.Database

/**
 * Opens a workspace's file as all its readers and writers do, and brings its tables up to date.
 * @throws DamagedError
 */
export function openDatabase(file: string, options: { readonly?: boolean; kind?: Kind } = {}): Db {
  try {
    return opened(file, options)
  } catch (error) {
    if (isDamage(error)) throw new DamagedError(file, (error as Error).message)
    throw error
  }
}

function opened(file: string, options: { readonly?: boolean; kind?: Kind }): Db {
  const db = new Database(file, { readonly: options.readonly ?? false })
  // Waiting beats failing: a writer holds the file for a batch at a time.
  db.pragma('busy_timeout = 15000')
  if (options.readonly) {
    // What is no database is found out here rather than by the first who asks.
    db.pragma('schema_version')
    return db
  }
  db.pragma('journal_mode = WAL')
  // With WAL, NORMAL can lose the last commits on a power cut, though never on a killed process; FULL loses neither.
  db.pragma('synchronous = FULL')
  db.pragma('foreign_keys = ON')
  // 64 MB: the index of event ids is written all over, and should stay in memory while it is small enough.
  db.pragma('cache_size = -65536')
  // Writing the log back into the file now and then costs less than after every second batch.
  db.pragma('wal_autocheckpoint = 8000')
  migrate(db, migrationsOf(options.kind ?? 'workspace'))
  return db
}

/** Applies the migrations the file has not seen, each in a transaction of its own. */
function migrate(db: Db, migrations: readonly string[]): void {
  const version = db.pragma('user_version', { simple: true }) as number
  if (version > migrations.length)
    throw new Error(
      `This data was written by a newer Dowser (schema ${version}, this one knows ${migrations.length}). Start the newer one.`,
    )
  migrations.slice(version).forEach((sql, index) => {
    db.transaction(() => {
      // Another process may have been first.
      if ((db.pragma('user_version', { simple: true }) as number) > version + index) return
      db.exec(sql)
      db.pragma(`user_version = ${version + index + 1}`)
    }).immediate()
  })
}
