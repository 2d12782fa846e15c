import { By, Key, type WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, ready, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(1500, (session) => ({ driver } = session))
const names = (depth: number) => textsOf(driver, `.crosstab .depth-${depth} .follow`)
const waitForNames = (depth: number, holds: (names: string[]) => boolean, what: string) =>
  driver.wait(async () => holds(await names(depth)), 10_000, what)

test('begins with a result, and takes rows within rows and a column for each value', async () => {
  await go('/studies/new?kind=crosstab')
  await waitForText(driver, 'h1', /a row for each .*, a column for each/)
  expect(await textsOf(driver, '.crosstab .all-row td')).not.toContain('–')
  await press(driver, () => byText(driver, '+ within each row…', 'button'))
  await driver.switchTo().activeElement().sendKeys('platform')
  await waitForText(driver, '.option[data-selected=true]', 'Platform')
  await driver.switchTo().activeElement().sendKeys(Key.ENTER)
  await waitForText(driver, 'h1', 'and within it each Platform')
  await waitForNames(2, (found) => found.length > 2, 'no rows within rows')
})

test('what stands beside follows the pressed row, and stays when it is locked', async () => {
  await go('/studies/rides-by-district')
  const [first, second] = await names(1)
  expect(await textOf(driver, '.beside h3')).toBe('All together')
  await press(driver, () => byText(driver, second, 'button'))
  await waitForText(driver, '.beside h3', second)
  await press(driver, () => byText(driver, 'Lock on this row', 'button'))
  await waitForText(driver, '.beside .lock', 'Locked')
  await press(driver, () => byText(driver, first, 'button'))
  await driver.navigate().refresh()
  await ready(driver)
  expect(await textOf(driver, '.beside h3')).toBe(second)
  await press(driver, () => byText(driver, 'Ring', 'button'))
  const parts = await waitForText(driver, '.beside .ranked', '%')
  expect(parts).toContain((await names(2))[0])
})

test('rows are sorted, searched and folded', async () => {
  await go('/studies/rides-by-district')
  const before = await names(1)
  await press(driver, () => byText(driver, 'Home district › Plan', 'button'))
  await waitForNames(1, (found) => found.join() === [...before].sort().join(), 'not sorted from A to Z')
  await press(driver, () => byText(driver, 'Home district › Plan', 'button'))
  await waitForNames(1, (found) => found.join() === [...before].sort().reverse().join(), 'not sorted from Z to A')
  const [first] = await names(1)
  await driver.findElement(By.css('[aria-label="Find a row"]')).sendKeys(first)
  await waitForNames(1, (found) => found.join() === first, 'not found alone')
  const within = (await names(2)).length
  expect(within).toBeGreaterThan(0)
  await driver.navigate().refresh()
  await ready(driver)
  const all = (await names(2)).length
  await press(driver, () => byCss(driver, `[aria-label="Rows within ${first}"]`))
  await waitForNames(2, (found) => found.length === all - within, 'not folded away')
})

test('a cell gives its people, by keyboard too', async () => {
  await go('/studies/rides-by-district')
  await driver.findElement(By.css('body')).sendKeys('t')
  await driver.wait(async () => (await textsOf(driver, '[data-cell]:focus')).length === 1, 5000, 'no cell is focused')
  await driver.switchTo().activeElement().sendKeys(Key.ARROW_DOWN)
  const figure = await textOf(driver, '[data-cell]:focus')
  await driver.switchTo().activeElement().sendKeys(Key.ENTER)
  await waitForText(driver, '.tray', `${figure} people`)
  const [district] = await names(1)
  expect(await textOf(driver, '.tray')).toContain(district)
})
