import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'

/**
 * Lets go of memory that nothing in the calling thread refers to any more, now. A thread that makes little of its own does
 * not do so for a long time by itself, and until then holds memory that it shared with others. Some milliseconds, for a
 * thread whose own heap is small.
 */
export function collector(): () => void {
  setFlagsFromString('--expose-gc')
  const collect = runInNewContext('gc') as unknown
  return typeof collect === 'function' ? () => void (collect as () => void)() : () => {}
}
