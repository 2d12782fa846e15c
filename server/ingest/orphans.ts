import { readdirSync, rmSync } from 'node:fs'
import path from 'node:path'

/**
 * Removes what a killed process left in a folder of files on their way: uploads that were not whole, exports that were not
 * taken. To be called before anything new is put there.
 * @param wanted paths of files that are still to be read
 * @returns how many were removed
 */
export function removeOrphans(folder: string, wanted: ReadonlySet<string>): number {
  const orphans = readdirSync(folder)
    .map((name) => path.join(folder, name))
    .filter((file) => !wanted.has(file))
  for (const file of orphans) rmSync(file, { force: true, recursive: true })
  return orphans.length
}
