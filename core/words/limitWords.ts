import type { TimeLimit } from '../questions/limits.js'

/** "7 days". */
export function limitWords({ count, unit }: TimeLimit): string {
  return `${count} ${unit}${count === 1 ? '' : 's'}`
}
