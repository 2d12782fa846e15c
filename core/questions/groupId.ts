import type { GroupKey, NestedKey } from './parts.js'

/** Tells rows and columns apart. */
export function nestedId(key: NestedKey): string {
  return groupId(key)
}

/** What groups are asked for by, where they are to be kept whatever their size. */
export const wantedGroup = (group: GroupKey) => `group ${groupId(group)}`
export const wantedRow = (path: readonly NestedKey[]) => `row ${JSON.stringify(path.map(nestedId))}`
export const wantedColumn = (key: NestedKey) => `column ${nestedId(key)}`

export function groupId(group: GroupKey | undefined): string {
  if (!group) return 'all'
  if ('rest' in group) return 'rest'
  if ('side' in group) return `side ${group.side}`
  return 'value' in group ? JSON.stringify(group.value) : JSON.stringify(group)
}
