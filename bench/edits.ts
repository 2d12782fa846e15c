import { openBrowser, ready } from '../tests/browser/driver.js'
import { startServer } from '../tests/browser/server.js'

/**
 * npm run bench:edits: how long an edit of a question takes on the demo data, from the press to the new picture: the
 * table has its new numbers and the chart has been drawn. Each edit is one that no answer is kept for yet.
 */
const server = await startServer({ demo: 14_000 })
const driver = await openBrowser()

const EDIT = `
  const [search, done] = arguments
  void (async () => {
  const table = document.querySelector('.numbers')
  const before = table.textContent
  // An analyst looks before the next press: the page has come to rest.
  await new Promise((rest) => setTimeout(() => requestIdleCallback(rest), 250))
  const start = performance.now()
  const observer = new MutationObserver(() => {
    if (document.querySelector('.numbers').textContent === before) return
    observer.disconnect()
    requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - start)))
  })
  observer.observe(document.querySelector('main'), { subtree: true, childList: true, characterData: true })
  // A press of an option in an editor does just this.
  window.__reactRouterDataRouter.navigate({ pathname: location.pathname, search })
  })()
`
const events = [
  'Ride completed',
  'App opened',
  'Dock chosen',
  'Ride unlocked',
  'Map viewed',
  'Card added',
  'Pass bought',
  'Ride rated',
]
const breakdowns = [
  undefined,
  { of: 'person', name: 'plan' },
  { of: 'person', name: 'home_district' },
  { of: 'source' },
]
async function edits(name: string, from: string, questions: readonly object[]): Promise<void> {
  const times: number[] = []
  await driver.get(server.base + from)
  await ready(driver)
  for (const question of questions) {
    const search = `?${new URLSearchParams({ q: JSON.stringify(question) }).toString()}`
    const ms = (await driver.executeAsyncScript(EDIT, search)) as number
    if (process.env.VERBOSE) console.log(Math.round(ms), JSON.stringify(question))
    times.push(ms)
  }
  times.sort((a, b) => a - b)
  const at = (share: number) => `${times[Math.min(times.length - 1, Math.floor(times.length * share))].toFixed(0)} ms`
  console.log(`${name}: ${times.length} edits: median ${at(0.5)}, 95th percentile ${at(0.95)}, slowest ${at(1)}`)
}

const range = { last: 12, unit: 'week' }
await edits(
  'trend',
  '/studies/riders-by-plan',
  breakdowns.flatMap((by) =>
    events.flatMap((name) =>
      ['week', 'day'].map((every) => ({
        kind: 'trend',
        series: [{ event: { names: [name] }, measure: 'people' }],
        ...{ every, range },
        ...(by ? { breakdowns: [{ by, keep: 10 }] } : {}),
        show: { form: 'lines', as: 'number' },
      })),
    ),
  ),
)
await edits(
  'paths',
  '/studies/after-a-refused-card',
  [3, 5].flatMap((steps) =>
    events.flatMap((name) =>
      [{}, { backward: true }].map((more) => ({
        ...{ kind: 'paths', start: { event: { names: [name] } }, steps, window: { count: 1, unit: 'day' }, range },
        ...{ keep: 8, show: { form: 'stream' }, ...more },
      })),
    ),
  ),
)
await driver.quit()
await server.stop()
