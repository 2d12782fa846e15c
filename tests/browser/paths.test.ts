import { By, Key, type WebDriver } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import {
  byCss,
  byText,
  consoleFaults,
  openBrowser,
  press,
  ready,
  resize,
  textOf,
  textsOf,
  waitForText,
} from './driver.js'
import { startServer, type TestServer } from './server.js'

/** Which ways people go: from a question on Home over the stream to a funnel, and what can be done on the way. */
let server: TestServer
let driver: WebDriver
beforeAll(async () => {
  server = await startServer({ demo: 1500 })
  driver = await openBrowser()
})
afterAll(async () => {
  await driver.quit()
  await server.stop()
})
afterEach(async () => expect(await consoleFaults(driver)).toEqual([]))

const go = async (place: string) => {
  await driver.get(server.base + place)
  await ready(driver)
}
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const keys = (...typed: string[]) =>
  driver
    .actions()
    .sendKeys(...typed)
    .perform()
const focused = (): Promise<string> =>
  driver.executeScript(() => {
    const at = document.activeElement
    return at ? (at.getAttribute('aria-label') ?? at.textContent ?? '') : ''
  })
/** Goes on by Tab until what has the focus says so. */
async function tabTo(says: RegExp): Promise<void> {
  const passed: string[] = []
  for (let i = 0; i < 120; i++) {
    const now = await focused()
    if (says.test(now)) return
    passed.push(now.slice(0, 40))
    await keys(Key.TAB)
  }
  throw new Error(`Tab never came to ${String(says)}, but to ${passed.join(' | ')}`)
}
const paths = (more: object = {}) =>
  `/studies/new?q=${encodeURIComponent(
    JSON.stringify({
      ...{ kind: 'paths', start: { event: { names: ['App opened'] } }, steps: 3, keep: 8 },
      ...{ window: { count: 1, unit: 'day' }, range: { last: 12, unit: 'week' }, show: { form: 'stream' } },
      ...more,
    }),
  )}`

test('from Home to the funnel made of a way, by keyboard alone', async () => {
  await go('/')
  await tabTo(/^After Card refused, what do people do next\?$/)
  await keys(Key.ENTER)
  await waitForText(driver, '.question', 'After Card refused, what do people do next, 3 steps, within 1 day')
  await byCss(driver, '.stream svg')
  await tabTo(/^Card refused, where ways begin: \d+ people/)
  // Over the ribbons to the events of the first step, and on to the next.
  await keys(Key.ARROW_RIGHT)
  expect(await focused()).toMatch(/^Card refused → .*% of all who began/)
  await keys(Key.ARROW_RIGHT)
  const first = await focused()
  expect(first).toMatch(/, 1 step later: [\d,]+ (people|person) · [\d.]+\s% of all who began/)
  expect(await textOf(driver, '.stream-told')).toBe(first)
  const node = first.replace(/, 1 step later.*/, '')
  const count = /later: ([\d,]+ (?:people|person))/.exec(first)![1]
  await keys(Key.ENTER)
  await waitForText(driver, '.tray', `${count} · who did ${node} 1 step after Card refused within 1 day`)
  await tabTo(/^From here …$/)
  await keys(Key.ENTER)
  await waitForText(driver, '[role=menu]', `Leave ${node} out`)
  for (let i = 0; i < 8 && (await focused()) !== 'Make it a funnel'; i++) await keys(Key.ARROW_DOWN)
  await keys(Key.ENTER)
  await waitForText(driver, '.question', 'How many people get through these steps, one after another, within 1 day')
  await byCss(driver, '.funnel')
  const steps = await textsOf(driver, '.funnel .step-name')
  expect(steps.map((step) => step.split('\n')[0])).toEqual(['Card refused', node])
})

test('an event is left out and brought back, opened by its values, and only ways through it are asked for', async () => {
  await go(paths())
  const nodes = () => textsOf(driver, '.stream-node .stream-name')
  await byCss(driver, '.stream-press')
  const before = (await nodes())[1]
  const mapViewed = () => driver.findElement(By.css('[aria-label^="Map viewed, 1 step later"]'))
  await press(driver, () => Promise.resolve(mapViewed()))
  await click('From here …', 'button')
  await click('Leave Map viewed out', 'li')
  await waitForText(driver, '.question', 'leaving out Map viewed')
  await driver.wait(
    async () => (await driver.findElements(By.css('[aria-label^="Map viewed, 1 step later"]'))).length === 0,
  )
  await press(driver, () => byCss(driver, '[data-token=leaveOut]'))
  await press(driver, () => byCss(driver, '[aria-label="Bring back Map viewed"]'))
  await keys(Key.ESCAPE)
  await waitForText(driver, '.question', /^(?!.*leaving out)/)
  await byCss(driver, '[aria-label^="Map viewed, 1 step later"]')
  expect((await nodes())[1]).toBe(before)

  await press(driver, () => Promise.resolve(mapViewed()))
  await click('From here …', 'button')
  await click('Open Map viewed by…', 'li')
  await (await byCss(driver, '[cmdk-input]')).sendKeys('District')
  await driver.wait(async () =>
    (await textsOf(driver, '.option[data-selected=true]')).some((text) => text.startsWith('District')),
  )
  await keys(Key.ENTER)
  await waitForText(driver, '.question', 'opening Map viewed by District')
  await byCss(driver, '[aria-label^="Map viewed “Quayside”, 1 step later"]')

  await press(driver, () => byCss(driver, '[aria-label^="Map viewed “Quayside”, 1 step later"]'))
  await click('From here …', 'button')
  await click('Only ways through Map viewed “Quayside”', 'li')
  await waitForText(driver, '.question', 'only ways through Map viewed “Quayside” at step 1')
  await driver.wait(async () => (await driver.findElements(By.css('[aria-label*=", 1 step later"]'))).length === 1)
})

test('ways are searched, and a row is its people', async () => {
  await go(paths({ end: { event: { names: ['Ride completed'] } }, steps: 5, show: { form: 'ways' } }))
  const whole = await waitForText(driver, '.way-list', /\d+ ways/)
  expect(whole).toContain('the shortest')
  await (await byCss(driver, '[aria-label="Only ways that contain"]')).sendKeys('dock chosen')
  await waitForText(driver, '.way-list', /\d+ ways? of \d+/)
  const rows = await textsOf(driver, '.ways-table tbody th')
  expect(rows.length).toBeGreaterThan(0)
  expect(rows.every((row) => row.includes('Dock chosen'))).toBe(true)
  await press(driver, () => byCss(driver, '.ways-table tbody td.pressable'))
  const figure = await textOf(driver, '.ways-table tbody td.pressable')
  await waitForText(driver, '.tray', new RegExp(`^${figure} (people|person) · who did App opened, then`))
})

test('a row opens into where it goes on', async () => {
  await go(paths({ steps: 2, show: { form: 'ways' } }))
  await press(driver, () => byCss(driver, '.way-open:enabled'))
  await waitForText(driver, '.way-on', /^after that: .+ (people|person), \d+\s%/)
  expect(await (await byCss(driver, '.way-open[aria-expanded=true]')).getAttribute('aria-label')).toMatch(
    /^Where it goes on/,
  )
})

test('two groups stand beside each other, and as one difference; on a phone the ways come first', async () => {
  await go(paths({ breakdowns: [{ by: { of: 'person', name: 'rider_kind' }, keep: 2, hideRest: true }] }))
  await driver.wait(async () => (await driver.findElements(By.css('.stream svg'))).length === 2)
  await click('Difference', 'button')
  await waitForText(driver, '.result', /more than noise/)
  const head = await textsOf(driver, '.result thead th')
  expect(head.slice(0, 2)).toEqual(['Step', 'What'])
  expect(head.slice(4)).toEqual(['Difference', '95 % interval', 'p'])
  await resize(driver, 390, 844, true)
  try {
    await go(paths())
    await byCss(driver, '.way-list')
    const [list, stream] = await driver.executeScript<[number, number]>(() =>
      ['.way-list', '.stream'].map((css) => document.querySelector(css)!.getBoundingClientRect().top),
    )
    expect(list).toBeLessThan(stream)
    expect(await driver.executeScript<boolean>(() => document.body.scrollWidth <= innerWidth)).toBe(true)
  } finally {
    await resize(driver, 1280, 900)
  }
})

test('what is wrong is told at its word; what cannot be is not asked', async () => {
  await go(paths({ leaveOut: { event: { names: ['App opened'] } } }))
  await waitForText(driver, '.faults', '“App opened” is where the ways begin, so it cannot be left out')
  await go(paths({ open: [{ event: { names: ['Map viewed'] }, by: { of: 'event', name: 'distrikt' } }] }))
  await waitForText(driver, '.faults', 'distrikt')
  expect(await textOf(driver, '.faults')).toMatch(/district/i)
})
