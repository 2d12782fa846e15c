import { mkdirSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { By, until } from 'selenium-webdriver'
import { projectRoot } from '../../server/root.js'
import { consoleFaults, openBrowser, ready, resize } from './driver.js'

/** npm run screens: pictures of the main views for the README, from a running demo (npm run demo). */
const base = process.env.BASE ?? 'http://127.0.0.1:4810'
const target = process.env.TARGET ?? path.join(projectRoot, 'docs/screenshots')

interface Screen {
  name: string
  place: string
  scheme?: 'dark'
  width?: number
  height?: number
  /** typed into the question field */
  typed?: string
  /** run in the page before the picture is taken */
  script?: string
}

const people = new URLSearchParams({
  q: JSON.stringify({
    kind: 'funnel',
    steps: ['Signed up', 'Dock chosen', 'Card added'].map((name) => ({ event: { names: [name] } })),
    window: { count: 7, unit: 'day' },
    range: { from: '2026-10-01', to: '2026-10-31' },
  }),
  marks: JSON.stringify([{ kind: 'step', step: 1, what: 'lost' }]),
}).toString()

const asked = (question: object) => `/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`
const SCREENS: Screen[] = [
  { name: 'home', place: '/' },
  { name: 'ask', place: '/', typed: 'median minutes per electric ride each week since June, students only' },
  { name: 'trend', place: '/studies/riders-by-plan', script: `document.querySelectorAll('[data-cell]')[20].click()` },
  { name: 'crosstab', place: '/studies/rides-by-district', script: `document.querySelectorAll('.follow')[1].click()` },
  { name: 'funnel', place: '/studies/first-ride', script: `document.querySelectorAll('button.lost')[2].click()` },
  { name: 'sessions', place: '/studies/time-on-the-app' },
  { name: 'attribution', place: '/studies/what-brings-passes' },
  { name: 'likelihood', place: '/studies/who-buys-a-pass' },
  {
    name: 'paths',
    place: asked({
      ...{ kind: 'paths', start: { event: { names: ['App opened'] } }, steps: 3, keep: 6 },
      ...{ window: { count: 1, unit: 'hour' }, range: { last: 12, unit: 'week' }, show: { form: 'stream' } },
    }),
    script: `document.querySelector('[aria-label^="Dock chosen, 2 steps later"]').dispatchEvent(new MouseEvent('click', { bubbles: true }))`,
  },
  {
    name: 'retention',
    place: '/studies/coming-back',
    height: 1000,
    script: `document.querySelector('.cohorts tbody tr:nth-child(4) td:nth-child(6)').click()`,
  },
  { name: 'message', place: '/outreach/messages/first-ride' },
  { name: 'outreach', place: '/outreach', scheme: 'dark' },
  { name: 'dashboard', place: '/dashboards/monday-review' },
  { name: 'people', place: `/people?${people}` },
  { name: 'catalog', place: '/catalog?event=Card+refused' },
  { name: 'segment', place: '/people/segments/regulars-going-quiet', height: 1000 },
  { name: 'overlap', place: '/studies/where-passes-are-bought' },
  { name: 'retrace', place: `/people/retrace?${people}` },
  { name: 'phone', place: '/studies/first-ride-kinds', width: 390, height: 844 },
]

const only = process.argv.slice(2)
mkdirSync(target, { recursive: true })
const driver = await openBrowser()
for (const screen of SCREENS) {
  if (only.length > 0 && !only.includes(screen.name)) continue
  await resize(driver, screen.width ?? 1280, screen.height ?? 800, screen.width !== undefined)
  await driver.get(`${base}/healthz`)
  await driver.executeScript(`localStorage.setItem('mui-mode', '${screen.scheme ?? 'light'}')`)
  await driver.get(base + screen.place)
  await ready(driver)
  await driver.wait(
    () =>
      driver.executeScript<boolean>(
        `return [...document.querySelectorAll('.chart-space')].every((box) => box.querySelector('canvas'))`,
      ),
    10_000,
  )
  if (screen.typed) {
    await driver.findElement(By.css('.ask-home input')).sendKeys(screen.typed)
    await driver.wait(until.elementLocated(By.css('.ask-option')), 10_000)
  }
  if (screen.script) await driver.executeScript(screen.script)
  // A picture needs the page at rest: fonts loaded, nothing on its way.
  await driver.wait(
    () =>
      driver.executeScript<boolean>(
        `return document.fonts.status === 'loaded' && !document.querySelector('.tray .dimmed, .waiting') &&
          !document.querySelector('.tray')?.textContent.includes('Counting')`,
      ),
    10_000,
  )
  await driver.executeAsyncScript('setTimeout(arguments[0], 400)')
  writeFileSync(path.join(target, `${screen.name}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'))
  console.log(screen.name, await consoleFaults(driver))
}
await driver.quit()
