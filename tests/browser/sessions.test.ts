import { By, Key, until, type WebDriver } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import { byCss, byText, consoleFaults, openBrowser, press, ready, textOf, textsOf, waitForText } from './driver.js'
import { startServer, type TestServer } from './server.js'

/** Sessions: when one ends, how long they are, and where in one something is done. */
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
const sessions = (more: object = {}) =>
  `/studies/new?q=${encodeURIComponent(
    JSON.stringify({ kind: 'sessions', every: 'week', range: { last: 4, unit: 'week' }, measure: 'sessions', ...more }),
  )}`
/** All sessions of the time asked about, as the table says. */
async function counted(): Promise<number> {
  await go(sessions())
  await waitForText(driver, '.all-row', /All together/)
  return Number((await textsOf(driver, '.all-row td'))[0].replace(/,/g, ''))
}

test('with another time-out there are other sessions, said before it is saved; undone, all is as it was', async () => {
  const before = await counted()
  await waitForText(driver, '.study-foot', /Sessions end after 30\s?m without an event\./)
  await click(await textOf(driver, '.study-foot a'), 'a')
  await waitForText(driver, 'h1', 'When does a session end?')
  const minutes = await byCss(driver, '[aria-label="Minutes without an event"]')
  await minutes.sendKeys(Key.chord(Key.CONTROL, 'a'), '0')
  await waitForText(driver, '.session-form', '1 to 1440')
  await minutes.sendKeys(Key.chord(Key.CONTROL, 'a'), '2')
  await waitForText(driver, '.session-figures:not(.dimmed)', 'as it would be')
  const figures = (await textsOf(driver, '.session-figures tbody tr:first-child td')).map((each) =>
    Number(each.replace(/,/g, '')),
  )
  expect(figures[1]).toBeGreaterThan(figures[0])
  await click('Save', 'button')
  await waitForText(driver, '[role=alert]', 'Saved.')
  expect(await counted()).toBeGreaterThan(before)
  await waitForText(driver, '.study-foot', /Sessions end after 2\s?m without an event\./)
  await go('/workspace/sessions')
  const again = await byCss(driver, '[aria-label="Minutes without an event"]')
  await again.sendKeys(Key.chord(Key.CONTROL, 'a'), '3')
  await waitForText(driver, '.session-figures:not(.dimmed)', 'as it would be')
  await click('Save', 'button')
  await click('Undo', 'button')
  await driver.wait(async () => {
    const field = await driver.findElements(By.css('[aria-label="Minutes without an event"]'))
    return field.length > 0 && (await field[0].getAttribute('value')) === '2'
  })
  await (await byCss(driver, '[aria-label="Minutes without an event"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), '30')
  await waitForText(driver, '.session-figures:not(.dimmed)', 'as it would be')
  await click('Save', 'button')
  await waitForText(driver, '[role=alert]', 'Saved.')
  expect(await counted()).toBe(before)
})

test('lengths with the part that is asked for, ways in and out, and their people', async () => {
  await go(sessions({ measure: 'median length' }))
  await click('Lengths', 'button')
  await waitForText(driver, '.chart-note', /Over 10\s?m: \d/)
  const over = await byCss(driver, '[aria-label="Minutes that a session lasts over"]')
  await over.sendKeys(Key.chord(Key.CONTROL, 'a'), '20')
  await waitForText(driver, '.chart-note', /Over 20\s?m: \d/)
  await click('Ways in and out', 'button')
  await waitForText(driver, '.session-ends', 'They begin with')
  await press(driver, () => byCss(driver, '.session-ends [data-cell]'))
  await waitForText(driver, '.tray', /who had a session that began with App opened/)
})

test('how deep into a session something is done is asked for like any other property', async () => {
  await go('/studies/depth-of-unlocking')
  await waitForText(driver, '.question', 'for each Position in session')
  await waitForText(driver, '.numbers', /1|2/)
  await go('/catalog/made')
  await waitForText(driver, 'main', '1 for the first event of a session')
})

test('the sessions behind a figure are listed, in another order too, downloaded, and each leads to itself', async () => {
  await go(sessions({ compare: { to: 'before' }, target: 500 }))
  await waitForText(driver, '.question', /compared with the time just before, aiming at 500/)
  await waitForText(driver, '.all-row', /All together/)
  await press(driver, () => byCss(driver, '.numbers tbody tr:first-child [data-cell]'))
  await press(driver, () => byCss(driver, '.rests-on summary'))
  await waitForText(driver, '.rests-on p', /^\d[\d,]* sessions of \d[\d,]* people began then\./)
  await click('See their sessions', 'a')
  await waitForText(driver, 'h1', /sessions of .* people who had a session in the week of/)
  await click('Length', 'a')
  // The list of before stays until the new one is there.
  await byCss(driver, 'th:nth-child(3)[aria-sort=descending]')
  const [longest] = await textsOf(driver, '.people tbody tr:first-child td:nth-child(3)')
  expect(longest).toMatch(/\d\s?(h|m)/)
  const [person] = await textsOf(driver, '.people tbody tr:first-child th')
  const file = (await (await byText(driver, 'Download list', 'a')).getAttribute('href'))!
  const lines = (await (await fetch(file)).text()).trim().split('\n')
  const counted = Number((await textOf(driver, 'h1 strong')).replace(/\D/g, ''))
  expect(lines).toHaveLength(counted + 1)
  expect(lines[1]).toContain(person.split(' ')[0])
  await press(driver, () => byCss(driver, '.people tbody tr:first-child td:last-child a'))
  // Their id stands on the list as well: the address tells that it was left.
  await driver.wait(until.urlContains('/retrace?session='), 10_000)
  await waitForText(driver, 'main', person.split(' ')[0])
})
