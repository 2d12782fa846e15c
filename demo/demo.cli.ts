import { existsSync } from 'node:fs'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { readSettings } from '../server/settings.js'
import { DEFAULTS } from './generate.js'
import { makeDemo } from './make.js'

const { values } = parseArgs({ options: { people: { type: 'string' }, scale: { type: 'string' } } })
const options = {
  ...DEFAULTS,
  people: Number(values.people ?? DEFAULTS.people),
  scale: Number(values.scale ?? DEFAULTS.scale),
}
if (!(options.people >= 1 && options.scale > 0)) {
  console.error('--people takes a whole number from 1, --scale a number above 0.')
  process.exit(2)
}
const { dataDir } = readSettings(process.env)
if (existsSync(path.join(dataDir, 'dowser.db'))) {
  console.log('  The demo workspace is there already; what you saved in it is kept.')
} else makeDemo(dataDir, options, (line) => console.log(`  ${line}`))
