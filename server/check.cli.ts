import path from 'node:path'
import { checkWorkspace } from './check.js'
import { readSettings } from './settings.js'
import { workspaceFile } from './store/home.js'

/** `npm run check`: whether the data of a workspace is whole. Writes nothing. Ends with 1 where something is wrong. */
const { dataDir } = readSettings(process.env)
const file = process.argv[2]
  ? path.resolve(process.env.INIT_CWD ?? '.', process.argv[2])
  : workspaceFile(dataDir, Date.now())
console.log(`Checking ${file} …`)
let wrong = 0
for (const { what, found } of checkWorkspace(file)) {
  console.log(found.length === 0 ? `  ✓ ${what}` : `  ✗ ${what}`)
  for (const line of found) console.log(`      ${line}`)
  wrong += found.length
}
console.log(
  wrong === 0
    ? 'All is whole.'
    : 'Something is not whole. Stop the server and keep a copy of the file, with those beside it that end in -wal and -shm, before anything else.',
)
process.exit(wrong === 0 ? 0 : 1)
