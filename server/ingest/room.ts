import { statfsSync } from 'node:fs'
import { DISK_FULL } from '../pool/serve.js'

/** There is too little room left on the disk to take anything in. */
export class NoRoomError extends Error {
  readonly status = 507
  readonly retryAfterS = 60
  constructor() {
    super(DISK_FULL)
  }
}

/** Asking the system each time would cost more than writing a small batch. */
const ASKED_EVERY_MS = 1000

/**
 * How much room a folder's disk has left. What is taken in stops before the disk is full, so that what is there can still
 * be read, mended and taken out.
 * @param freeBytes so much is left free
 */
export function roomOn(folder: string, freeBytes: number) {
  let asked = -Infinity
  let left = Infinity

  function leftBytes(): number {
    const now = performance.now()
    if (now - asked < ASKED_EVERY_MS) return left
    asked = now
    try {
      const { bavail, bsize } = statfsSync(folder)
      left = bavail * bsize
    } catch {
      left = Infinity // A system that does not tell is not taken to be full.
    }
    return left
  }

  return {
    leftBytes,
    get enough(): boolean {
      return leftBytes() >= freeBytes
    },
    /** @throws NoRoomError */
    needed(moreBytes = 0): void {
      if (leftBytes() - moreBytes < freeBytes) throw new NoRoomError()
    },
  }
}
export type Room = ReturnType<typeof roomOn>
