import { readFileSync } from 'node:fs'
import path from 'node:path'
import { By, until, type WebDriver } from 'selenium-webdriver'
import type chrome from 'selenium-webdriver/chrome.js'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { projectRoot } from '../../server/root.js'
import { consoleFaults, openBrowser, ready, resize } from './driver.js'
import { startServer, type TestServer } from './server.js'

/** Every main view, in both schemes and on a phone: nothing in the console, nothing serious for axe, nothing cut off. */
let server: TestServer
let driver: WebDriver
const axe = readFileSync(path.join(projectRoot, 'node_modules/axe-core/axe.min.js'), 'utf8')
beforeAll(async () => {
  server = await startServer({ demo: 1500 })
  driver = await openBrowser()
})
afterAll(async () => {
  await driver.quit()
  await server.stop()
})

const SELECTION = new URLSearchParams({
  q: JSON.stringify({
    kind: 'trend',
    series: [{ event: { names: ['Ride completed'] }, measure: 'people' }],
    every: 'week',
    range: { last: 4, unit: 'week' },
  }),
  marks: JSON.stringify([{ kind: 'point' }]),
}).toString()
const formOfFunnel = (show: object) =>
  `/studies/new?q=${encodeURIComponent(
    JSON.stringify({
      kind: 'funnel',
      steps: ['Signed up', 'Dock chosen', 'Card added', 'Ride completed'].map((name) => ({ event: { names: [name] } })),
      window: { count: 14, unit: 'day' },
      range: { from: '2026-01-02', to: '2026-10-31' },
      show,
    }),
  )}`
const asked = (question: object) => `/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`
const rides = { start: { event: { names: ['Ride completed'] } } }
const likely = {
  ...{ kind: 'likelihood', goal: { event: { names: ['Pass bought'] } }, days: 45, again: true, lately: true },
}
const FIRST_RIDE = {
  ...{ kind: 'effect', message: 'First ride', variants: ['A bike waits', 'How it works'] },
  ...{
    goal: { event: { names: ['Ride completed'] } },
    within: { count: 7, unit: 'day' },
    range: { from: '2026-03-01' },
  },
  breakdowns: [{ by: { of: 'person', name: 'rider_kind' }, keep: 10 }],
}
const BROUGHT = {
  ...{ kind: 'attribution', goals: [{ event: { names: ['Pass bought'] } }], range: { last: 90, unit: 'day' } },
  ...{ by: { of: 'event', name: 'Channel' }, models: ['last', 'removal', 'shapley'] },
}
const HOME_DISTRICT = [{ by: { of: 'person', name: 'home_district' }, keep: 10 }]
const VIEWS: [string, string][] = [
  ['home', '/'],
  ['studies', '/studies'],
  ['trend', '/studies/riders-by-plan'],
  ['crosstab', '/studies/rides-by-district'],
  ['figure', '/studies/riders-now'],
  ['bars', '/studies/cards-refused'],
  ['funnel', '/studies/first-ride'],
  ['funnel with groups', '/studies/first-ride-kinds'],
  ['funnel over time', formOfFunnel({ form: 'over time', every: 'month' })],
  ['time to convert', formOfFunnel({ form: 'time' })],
  ['repeats', formOfFunnel({ form: 'repeats' })],
  ['after a loss', formOfFunnel({ form: 'after', step: 1, within: 'session' })],
  ['what sets them apart', formOfFunnel({ form: 'apart' })],
  ['suggested steps', formOfFunnel({ form: 'between' })],
  ['paths', '/studies/after-a-refused-card'],
  ['ways', '/studies/tariffs-to-account'],
  [
    'paths of two groups',
    asked({
      ...{ kind: 'paths', ...rides, backward: true, steps: 2, window: { count: 1, unit: 'hour' } },
      ...{ range: { last: 12, unit: 'week' }, keep: 5, show: { form: 'stream', difference: true } },
      breakdowns: [{ by: { of: 'person', name: 'rider_kind' }, keep: 2, hideRest: true }],
    }),
  ],
  ['retention', '/studies/coming-back'],
  [
    'retention by groups',
    asked({ kind: 'retention', ...rides, every: 'week', range: { last: 12, unit: 'week' }, breakdowns: HOME_DISTRICT }),
  ],
  [
    'cohorts turned',
    asked({
      ...{ kind: 'retention', ...rides, every: 'month', range: { last: 8, unit: 'month' } },
      show: { form: 'cohorts', turned: true },
    }),
  ],
  ['habit', '/studies/riding-days'],
  [
    'habit by groups',
    asked({ kind: 'habit', ...rides, period: 'week', range: { last: 12, unit: 'week' }, breakdowns: HOME_DISTRICT }),
  ],
  [
    'habit over time',
    asked({ kind: 'habit', ...rides, period: 'month', range: { last: 8, unit: 'month' }, show: { form: 'over time' } }),
  ],
  ['growth accounting', '/studies/riders-come-and-go'],
  [
    'flows between states',
    asked({
      ...{ kind: 'growth', ...rides, interval: { unit: 'week' }, range: { last: 8, unit: 'week' } },
      show: { form: 'flows' },
    }),
  ],
  ['tipping point', '/studies/what-makes-riders-stay'],
  ['likelihood', '/studies/who-buys-a-pass'],
  ['how good a likelihood is', asked({ ...likely, show: { form: 'quality' } })],
  ['what a likelihood looks at', asked({ ...likely, show: { form: 'features' } })],
  ['sessions', asked({ kind: 'sessions', every: 'week', range: { last: 12, unit: 'week' } })],
  [
    'session lengths',
    asked({ kind: 'sessions', every: 'week', range: { last: 12, unit: 'week' }, show: { form: 'lengths' } }),
  ],
  [
    'session ends',
    asked({ kind: 'sessions', every: 'week', range: { last: 12, unit: 'week' }, show: { form: 'ways' } }),
  ],
  ['what brings passes', '/studies/what-brings-passes'],
  ['several conversions side by side', '/studies/sign-ups-and-passes-by-channel'],
  ...(['touches', 'early'] as const).map((form): [string, string] => [
    `what brings passes, ${form}`,
    asked({ ...BROUGHT, show: { form } }),
  ]),
  ['what brings passes, over time and by plan', asked({ ...BROUGHT, every: 'week', breakdowns: HOME_DISTRICT })],
  ['when a session ends', '/workspace/sessions'],
  ['usage interval', asked({ kind: 'gaps', ...rides, range: { last: 12, unit: 'week' } })],
  ['dashboards', '/dashboards'],
  ['dashboard', '/dashboards/monday-review'],
  ['dashboard being edited', '/dashboards/monday-review?edit=1'],
  ['people', `/people?${SELECTION}`],
  ['segments', '/people/segments'],
  ['segment', '/people/segments/regulars-going-quiet'],
  ['new segment', '/people/segments/new'],
  ['overlap', '/studies/where-passes-are-bought'],
  ['retrace', '/people/known/rider-00012/retrace'],
  ['import', '/import'],
  ['keys', '/keys'],
  ['workspace', '/workspace'],
  ['outreach', '/outreach'],
  ['kept in step', '/outreach/kept/no-advertisements-for-buyers'],
  ['new kept in step', '/outreach/kept/new?segment=regulars'],
  ['message', '/outreach/messages/first-ride'],
  ['new message', '/outreach/messages/new?segment=regulars'],
  ['effect by kind', asked(FIRST_RIDE)],
  ['destination', '/outreach/destinations/push-notices'],
  ['new destination', '/outreach/destinations/new'],
  ['new webhook', '/outreach/destinations/new?kind=webhook'],
  ['what can be asked', '/asking'],
  ['catalog', '/catalog?event=Card+refused'],
  ['event properties', '/catalog/properties?property=bike_type'],
  ['profile properties', '/catalog/people'],
  ['made here', '/catalog/made'],
  ['channel rules', '/catalog/channels'],
  ['quality', '/catalog/quality?problem=unknown+event%7Cride_done_old%7C'],
  ['live', '/catalog/live'],
  ['sending', '/catalog/sending'],
  ['event', '/catalog/events/Ride%20completed'],
  ['tracking plan', '/catalog/plan'],
  ['planned event', '/catalog/plan?event=Ride+completed'],
  ['derived property', '/catalog/derived?of=event&name=speed'],
  ['rules', '/catalog/derived?of=event&name=Channel'],
  ['combined event', '/catalog/combined?name=Pass+paid'],
  ['person', '/people/known/rider-00012'],
  ['a missing page', '/nowhere'],
]

interface Violation {
  id: string
  impact: string
  nodes: { html: string }[]
}

/** What axe finds by all of its rules, or by some; a page is given axe but once. */
async function seriousViolations(rules?: readonly string[]): Promise<string[]> {
  if (!(await driver.executeScript('return Boolean(window.axe)'))) await driver.executeScript(axe)
  const violations = (await driver.executeAsyncScript(
    `const [options, done] = arguments; window.axe.run(document, options).then((r) => done(r.violations))`,
    { resultTypes: ['violations'], ...(rules ? { runOnly: rules } : {}) },
  )) as Violation[]
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes[0].html}`)
}

/** Charts are drawn, nothing is pale while an answer is on its way, and nothing fades in or out. */
const AT_REST = `
  const drawn = [...document.querySelectorAll('.chart-space')].every((box) => box.querySelector('canvas'))
  const moving = document.getAnimations().some((each) =>
    each.playState === 'running' && each.effect.getComputedTiming().iterations !== Infinity)
  return drawn && !moving && !document.querySelector('.dimmed, [aria-busy=true]')`

const atRest = () =>
  driver.wait(async () => (await driver.executeScript(AT_REST)) as boolean, 10_000, 'the page came not to rest')

/**
 * What axe still finds serious when the page has come to rest. A part may only then begin to ask for its answer, and is
 * pale while it does: what is found in such a moment is looked for again, what is wrong stays.
 */
async function lastingViolations(rules?: readonly string[]): Promise<string[]> {
  let found: string[] = []
  const end = Date.now() + 10_000
  do {
    await atRest()
    found = await seriousViolations(rules)
  } while (found.length > 0 && Date.now() < end)
  return found
}

async function likeScheme(scheme: 'light' | 'dark'): Promise<void> {
  await (driver as chrome.Driver).sendDevToolsCommand('Emulation.setEmulatedMedia', {
    features: [{ name: 'prefers-color-scheme', value: scheme }],
  })
}

async function visit(place: string): Promise<void> {
  await driver.get(server.base + place)
  await ready(driver)
  await atRest()
}

describe.each(VIEWS)('%s', (name, place) => {
  test('on a phone, on a wide screen, and after dark', async () => {
    await likeScheme('light')
    await consoleFaults(driver)
    await resize(driver, 390, 844, true)
    await visit(place)
    const wide = (await driver.executeScript('return document.documentElement.scrollWidth')) as number
    expect(wide).toBeLessThanOrEqual(390)
    expect(await lastingViolations(), 'on a phone').toEqual([])
    await resize(driver, 1280, 800)
    expect(await lastingViolations(), 'on a wide screen').toEqual([])
    await likeScheme('dark')
    await driver.wait(until.elementLocated(By.css('html[data-scheme=dark]')), 10_000, 'it did not become dark')
    // Nothing but the colours is other than it was a moment ago.
    expect(await lastingViolations(['color-contrast']), 'after dark').toEqual([])
    const faults = await consoleFaults(driver)
    // The browser itself notes the status of a page that is not there.
    expect(name === 'a missing page' ? faults.filter((fault) => !fault.includes('404')) : faults).toEqual([])
  })
})

test('the page is dark before any script has run, and does not move while it loads', async () => {
  await resize(driver, 1280, 800)
  await likeScheme('dark')
  await visit('/studies/riders-by-plan')
  const shifts = (await driver.executeAsyncScript(`
    const done = arguments[0]
    const found = []
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries())
        if (!entry.hadRecentInput) found.push([entry.value, entry.sources.map(({ node }) => node?.className ?? node?.nodeName)])
    }).observe({ type: 'layout-shift', buffered: true })
    requestAnimationFrame(() => requestAnimationFrame(() => done(found)))
  `)) as [number, string[]][]
  // What the browser's own guide calls good is 0.1; a change of one's seat is under a tenth of that.
  expect(shifts.filter(([size]) => size > 0.01)).toEqual([])
  expect(await driver.executeScript('return document.documentElement.dataset.scheme')).toBe('dark')
})
