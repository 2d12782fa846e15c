import type { GroupKey } from '../questions/parts.js'
import type { Unit } from '../time/range.js'
import { keyWords, quoted } from '../words/exact.js'
import { bucketWords, groupWords, type Words } from '../words/words.js'

/** What the words of marks are made of, whatever the kind of study. */

/** ` (Annual)`, where a group is meant. */
export function ofGroup(group: GroupKey | undefined): string {
  return group ? ` (${groupWords(group)})` : ''
}

/** The group of a mark, so that it can be read back. */
export function exactGroup(group: GroupKey): string {
  if ('unreached' in group) return 'did not get there'
  return 'each' in group ? group.each.map(keyWords).join(' · ') : keyWords(group)
}

/** A bucket, so that it can be read back: of the two hours that a clock change repeats, only the key tells which is meant. */
export function exactBucket(key: string, every: Unit, words: Words): string {
  return every === 'hour' ? quoted(key) : bucketWords(key, every, words)
}

/** ` (series 2; Annual)`: what else tells a mark from others. */
export function exactDetails(...parts: (string | undefined)[]): string {
  const said = parts.filter((part) => part !== undefined)
  return said.length > 0 ? ` (${said.join('; ')})` : ''
}
