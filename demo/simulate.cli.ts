import { parseArgs } from 'node:util'
import { Traffic } from './traffic.js'

const HELP = `npm run simulate -- [options]

Keeps sending believable Saltmarsh events in real time, with the mess of real life, until it is stopped.
  --rate N     events a second, 1 to 500 (10 where left out)
  --url URL    the server (http://127.0.0.1:4810)
  --key KEY    a write key; else DOWSER_KEY. Keys are made on the page "Sending"`

const { values } = parseArgs({
  options: {
    rate: { type: 'string', default: '10' },
    url: { type: 'string', default: process.env.DOWSER_URL ?? 'http://127.0.0.1:4810' },
    key: { type: 'string', default: process.env.DOWSER_KEY ?? '' },
    help: { type: 'boolean' },
  },
})
const rate = Number(values.rate)
if (values.help || !(rate >= 1 && rate <= 500) || values.key === '') {
  console.error(values.key === '' && !values.help ? `A write key is needed.\n\n${HELP}` : HELP)
  process.exit(2)
}

const EVERY_MS = 500
const traffic = new Traffic(rate, Date.now() % 1_000_000_007, Date.now())
let sent = 0
let stopping = false
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => (stopping = true))

async function send(path: 'events' | 'people', items: readonly object[]): Promise<void> {
  if (items.length === 0) return
  for (let wait = 500; !stopping; wait = Math.min(wait * 2, 10_000)) {
    try {
      const response = await fetch(`${values.url}/api/v1/${path}`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${values.key}`, 'Content-Type': 'application/json' },
        body: JSON.stringify(items),
      })
      if (response.status === 401 || response.status === 403) {
        console.error('The key is not taken: it was revoked, or may not write.')
        process.exit(1)
      }
      if (response.status < 500) return
    } catch {
      // The server is away: the same again, a little later.
    }
    await new Promise((resolve) => setTimeout(resolve, wait))
  }
}

console.log(`Sending about ${rate} events a second to ${values.url}. Stop with Ctrl+C.`)
while (!stopping) {
  const events = traffic.until(Date.now())
  await send('events', events)
  await send('people', traffic.profilesOf(events))
  const before = sent
  sent += events.length
  if (Math.floor(sent / 1000) > Math.floor(before / 1000)) console.log(`  ${sent.toLocaleString('en-GB')} events sent`)
  await new Promise((resolve) => setTimeout(resolve, EVERY_MS))
}
process.exit(0)
