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
  const canvas = document.querySelector('.chart-canvas canvas')
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
const times: number[] = []
await driver.get(`${server.base}/studies/riders-by-plan`)
await ready(driver)
for (const by of breakdowns)
  for (const name of events)
    for (const every of ['week', 'day'] as const) {
      const question = {
        kind: 'trend',
        series: [{ event: { names: [name] }, measure: 'people' }],
        every,
        range: { last: 12, unit: 'week' },
        ...(by ? { breakdowns: [{ by, keep: 10 }] } : {}),
        show: { form: 'lines', as: 'number' },
      }
      const search = `?${new URLSearchParams({ q: JSON.stringify(question) }).toString()}`
      const ms = (await driver.executeAsyncScript(EDIT, search)) as number
      if (process.env.VERBOSE) console.log(Math.round(ms), name, every, by ?? '')
      times.push(ms)
    }
await driver.quit()
await server.stop()
times.sort((a, b) => a - b)
const at = (share: number) => `${times[Math.min(times.length - 1, Math.floor(times.length * share))].toFixed(0)} ms`
console.log(`${times.length} edits: median ${at(0.5)}, 95th percentile ${at(0.95)}, slowest ${at(1)}`)
