import { openLoader } from '../server/loader.js'
import { END } from './city.js'
import { DEFAULTS, generate, type DemoOptions } from './generate.js'
import { FURNISHING } from './workspace.js'

const BATCH = 5000

export type DemoLoad = { of: 'events' | 'people'; items: readonly object[] }

/** Whatever this machine's clock says, the demo's events arrive at the end of the demo's own time. */
export const RECEIVED_MS = END

/** Everything that arrives in the demo, in the order it does, so many items at a time. */
export function* demoLoads(options: DemoOptions = DEFAULTS, most = BATCH): Generator<DemoLoad> {
  for (const { events, people } of generate(options)) {
    for (let from = 0; from < events.length; from += most)
      yield { of: 'events', items: events.slice(from, from + most) }
    // Phones that lost the network send again what had arrived: the same ids, so they do not count.
    yield { of: 'events', items: events.slice(0, 200) }
    for (let from = 0; from < people.length; from += most)
      yield { of: 'people', items: people.slice(from, from + most) }
  }
}

/** Makes the demo workspace, or one of the same shape and any size, in a folder that has none yet. */
export function makeDemo(
  dataDir: string,
  options: DemoOptions = DEFAULTS,
  say: (line: string) => void = () => {},
): void {
  const started = performance.now()
  const loader = openLoader(dataDir, Date.now())
  let sent = 0
  let told = 0
  for (const { of, items } of demoLoads(options)) {
    if (of === 'people') {
      loader.sendPeople(items, RECEIVED_MS)
      continue
    }
    const { rejected, duplicates } = loader.sendEvents(items, RECEIVED_MS)
    // Clocks that are years ahead are part of the demo; whatever else is refused is a mistake in it.
    const wrong = rejected.find(({ ahead }) => !ahead)
    if (wrong) throw new Error(`the demo made an event that is refused: ${wrong.reason}`)
    sent += items.length - duplicates
    if (sent - told < 100_000) continue
    told = sent
    say(`${sent.toLocaleString('en-GB')} events written`)
  }
  loader.furnish(FURNISHING, RECEIVED_MS)
  loader.close()
  say(
    `${sent.toLocaleString('en-GB')} events of ${options.people.toLocaleString('en-GB')} people in ${((performance.now() - started) / 1000).toFixed(1)} s`,
  )
}
