import type { MessagePort } from 'node:worker_threads'
import type { Failure } from './calls.js'

/** What every thread answers by itself: that it is there. */
export type Ping = { kind: 'ping' }

/** The thread's side of `Calls`: what it sends back. */
export interface Replies {
  answer(call: number, value: unknown): void
  fail(call: number, error: unknown): void
}

export function repliesOn(port: MessagePort): Replies {
  const fail = (call: number, error: unknown) => {
    const { message, ...failure } = failureOf(error)
    port.postMessage({ kind: 'failed', call, message, ...failure })
  }
  return {
    fail,
    answer(call, value) {
      try {
        port.postMessage({ kind: 'answer', call, value })
      } catch (error) {
        // What cannot be posted must not end the thread.
        fail(call, error)
      }
    },
  }
}

/** Errors that say themselves what they are to be answered with carry a `status`; SQLite's are told apart by their code. */
export function failureOf(error: unknown): Failure & { message: string } {
  const {
    message = String(error),
    status,
    code,
    retryAfterS,
    name,
  } = error as Partial<Failure & { message: string; code: string; name: string }>
  if (typeof status === 'number') return { message, status, ...(retryAfterS ? { retryAfterS } : {}) }
  if (name === 'NotFoundError') return { message, status: 404 }
  if (name === 'NameTakenError') return { message, status: 409 }
  if (code === 'SQLITE_FULL' || code === 'ENOSPC') return { message: DISK_FULL, status: 507, retryAfterS: 60 }
  if (code?.startsWith('SQLITE_BUSY')) return { message: BUSY, status: 503, retryAfterS: 2 }
  return { message, status: 500 }
}

export const DISK_FULL =
  'The disk is full, so nothing of this was kept. What was accepted before is safe. Make room, and send it again.'
export const BUSY =
  'Another program is writing to this workspace, so this was not saved. Nothing is lost: try again in a moment.'
