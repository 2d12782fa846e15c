/** A workspace's file cannot be read; the message says which, what is safe, and what to do. */
export class DamagedError extends Error {
  readonly status = 503

  constructor(file: string, detail: string) {
    super(
      `The file ${file} is damaged (${detail}). ` +
        'Nothing has been changed in it, and files beside it are not concerned. Stop the server, keep a copy of the file ' +
        'with those beside it that end in -wal and -shm, and run “npm run check”: it tells what is whole. ' +
        'A backup takes its place; what was exported as JSON Lines can be imported anew.',
    )
  }
}

/** Whether SQLite says that what it read is not what it wrote. */
export function isDamage(error: unknown): boolean {
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string }
  return /^SQLITE_(CORRUPT|NOTADB)/.test(code) || /malformed|not a database/.test(message)
}
