import { data } from 'react-router'
import type { Dowser } from '../../server/index.js'
import { NotFoundError } from '../../server/store/errors.js'

/** The one place where pages reach the server: `server/app.ts` puts the open door here at the start. */
const kept = globalThis as typeof globalThis & { dowserDoor?: Dowser }

export function setDowser(dowser: Dowser): void {
  kept.dowserDoor = dowser
}

export function dowser(): Dowser {
  if (!kept.dowserDoor) throw new Error('the server has not been opened')
  return kept.dowserDoor
}

/** Answers with the page that says what is not there. */
export function missing(message: string): never {
  // eslint-disable-next-line @typescript-eslint/only-throw-error -- React Router's way to answer with a status
  throw data(message, { status: 404 })
}

/** What is not in the store becomes the page that says so. */
export function orMissing<T>(read: () => T): T {
  try {
    return read()
  } catch (error) {
    if (error instanceof NotFoundError) missing(error.message)
    throw error
  }
}
