import { setPriority } from 'node:os'

/**
 * Lets other threads go first when there are fewer cores than work: taking in events and answering HTTP are short and
 * must not wait for long scans. On Linux this is of the calling thread alone; where a system knows no such thing, or
 * forbids it, all stay equal.
 * @param nice 1 to 19, more gives way more
 */
export function lowerPriority(nice: number): void {
  if (process.platform !== 'linux') return
  try {
    setPriority(0, nice)
  } catch {
    // Forbidden here: it only costs some speed.
  }
}
