import { once } from 'node:events'
import { parseArgs } from 'node:util'
import { DEFAULTS } from './generate.js'
import { demoLoads, RECEIVED_MS } from './make.js'
import { FURNISHING } from './workspace.js'

/**
 * Writes the demo to the standard output for a server that runs, which takes it into its workspace: a word and its JSON
 * in each line. The server reads it as fast as it can take it.
 */
const { values } = parseArgs({ options: { people: { type: 'string' } } })
const options = { ...DEFAULTS, people: Number(values.people ?? DEFAULTS.people) }

/** Small enough that whoever sends meanwhile hardly waits. */
const ITEMS = 2000

async function line(word: string, content: unknown): Promise<void> {
  if (!process.stdout.write(`${word} ${JSON.stringify(content)}\n`)) await once(process.stdout, 'drain')
}

await line('received', RECEIVED_MS)
const loads = [...demoLoads(options, ITEMS)]
await line(
  'total',
  loads.reduce((sum, { of, items }) => sum + (of === 'events' ? items.length : 0), 0),
)
for (const { of, items } of loads) await line(of, items)
await line('furnishing', FURNISHING)
