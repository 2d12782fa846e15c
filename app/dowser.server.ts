import { data } from 'react-router'
import type { Dowser } from '../server/index.js'
import { NotFoundError } from '../server/store/errors.js'

/** The one place where pages reach the server: `server/app.ts` puts the open door here at the start. */
const kept = globalThis as typeof globalThis & { dowserDoor?: Dowser }

export function setDowser(dowser: Dowser): void {
  kept.dowserDoor = dowser
}

export function dowser(): Dowser {
  if (!kept.dowserDoor) throw new Error('the server has not been opened')
  return kept.dowserDoor
}

/** What is not there becomes the page that says so. */
export function orMissing<T>(read: () => T): T {
  try {
    return read()
  } catch (error) {
    // eslint-disable-next-line @typescript-eslint/only-throw-error -- React Router's way to answer with a status
    if (error instanceof NotFoundError) throw data(error.message, { status: 404 })
    throw error
  }
}
