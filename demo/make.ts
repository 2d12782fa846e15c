import { openLoader } from '../server/loader.js'
import { END } from './city.js'
import { DEFAULTS, generate, type DemoOptions } from './generate.js'
import { furnish } from './workspace.js'

const BATCH = 5000

/** Makes the demo workspace, or one of the same shape and any size, in a folder that has none yet. */
export function makeDemo(
  dataDir: string,
  options: DemoOptions = DEFAULTS,
  say: (line: string) => void = () => {},
): void {
  const started = performance.now()
  const loader = openLoader(dataDir, Date.now())
  // Whatever this machine's clock says, the demo's events arrive at the end of the demo's own time.
  const receivedMs = END
  let sent = 0
  for (const { events, people } of generate(options)) {
    for (let from = 0; from < events.length; from += BATCH) {
      const { rejected } = loader.sendEvents(events.slice(from, from + BATCH), receivedMs)
      // Clocks that are years ahead are part of the demo; whatever else is refused is a mistake in it.
      const wrong = rejected.find(({ ahead }) => !ahead)
      if (wrong) throw new Error(`the demo made an event that is refused: ${wrong.reason}`)
      sent += Math.min(BATCH, events.length - from)
      if (sent % 100_000 < BATCH) say(`${sent.toLocaleString('en-GB')} events written`)
    }
    // Phones that lost the network send again what had arrived: the same ids, so they do not count.
    loader.sendEvents(events.slice(0, 200), receivedMs)
    for (let from = 0; from < people.length; from += BATCH)
      loader.sendPeople(people.slice(from, from + BATCH), receivedMs)
  }
  furnish(loader, receivedMs)
  loader.close()
  say(
    `${sent.toLocaleString('en-GB')} events of ${options.people.toLocaleString('en-GB')} people in ${((performance.now() - started) / 1000).toFixed(1)} s`,
  )
}
