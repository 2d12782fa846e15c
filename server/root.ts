import { existsSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

/** The folder with package.json: found upwards, because the built code lies deeper than the source. */
export const projectRoot: string = (() => {
  let folder = path.dirname(fileURLToPath(import.meta.url))
  while (!existsSync(path.join(folder, 'package.json'))) {
    const parent = path.dirname(folder)
    if (parent === folder) throw new Error('no package.json above the server code')
    folder = parent
  }
  return folder
})()

/** What Node is to be given to run a program of ours: its source in development and tests, else what was built of it. */
export const ownProgram = (source: string, built: string): string[] =>
  import.meta.url.endsWith('.ts')
    ? ['--import', 'tsx', path.join(projectRoot, source)]
    : [path.join(projectRoot, 'build/server', built)]
