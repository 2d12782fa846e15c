import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { By, Key, type WebDriver } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import { byCss, byText, consoleFaults, openBrowser, press, ready, textOf, textsOf, waitForText } from './driver.js'
import { startServer, type TestServer } from './server.js'

/** From an events file to a shared dashboard, as a new analyst goes. */
let server: TestServer
let driver: WebDriver
beforeAll(async () => {
  server = await startServer('empty', { DOWSER_DEMO_PEOPLE: '300' })
  driver = await openBrowser()
})
afterAll(async () => {
  await driver.quit()
  await server.stop()
})
afterEach(async () => expect(await consoleFaults(driver)).toEqual([]))

const PEOPLE = 40
/** Everybody opens the shop in the last days, every second one buys; plans take turns. One line is broken. */
function shopFile(): string {
  const day = 86_400_000
  const rows = ['user_id,event,timestamp,plan,price']
  for (let i = 0; i < PEOPLE; i++) {
    const opened = Date.now() - 10 * day + i * 60_000
    const plan = ['basic', 'plus'][i % 2]
    rows.push(`u${i},Shop opened,${new Date(opened).toISOString()},${plan},`)
    if (i % 2 === 0) rows.push(`u${i},Bought,${new Date(opened + 3_600_000).toISOString()},${plan},${i + 1}`)
  }
  rows.push('u99,Bought,sometime,basic,1')
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'dowser-walk-')), 'shop.csv')
  writeFileSync(file, rows.join('\n'))
  return file
}

async function go(place: string): Promise<void> {
  await driver.get(server.base + place)
  await ready(driver)
}
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const choose = (token: string) => press(driver, () => byCss(driver, `[data-token=${token}]`))
async function pick(text: string): Promise<void> {
  const field = await byCss(driver, '[cmdk-input]')
  await field.sendKeys(text)
  await driver.wait(async () => (await driver.findElements(By.css('.option[data-selected=true]'))).length === 1)
  await waitForText(driver, '.option[data-selected=true]', text)
  await field.sendKeys(Key.ENTER)
}

test('who begins can look at the demo first, is told that it is made up, and takes it out again', async () => {
  await go('/')
  await click('Look at the demo first', 'button')
  await waitForText(driver, '.demo-here', 'The demo is in this workspace.')
  await waitForText(driver, '.home-lists', 'Monday ridership review')
  expect(await textOf(driver, '.home-name')).toBe('Saltmarsh Bikes · Europe/Lisbon')
  await click('Take the demo out', 'button')
  await waitForText(driver, '[role=dialog]', 'what you saved yourself')
  await click('Take it out', 'button')
  await waitForText(driver, '.first-steps', 'Bring events')
  expect(await textOf(driver, '.home-name')).toBe('My workspace · UTC')
  expect(await textOf(driver, '.home-lists')).toContain('What you save is listed here.')
})

test('an empty workspace leads to the import; a file is looked at, imported, and its bad line listed', async () => {
  await go('/')
  await click('Bring in a file', 'a')
  const input = await byCss(driver, '[data-file]')
  await input.sendKeys(shopFile())
  await waitForText(driver, '.import-preview', 'Shop opened')
  await click('Import', 'button')
  // Nothing is written before the wrong line was seen.
  await waitForText(driver, 'h1', 'Look at this first')
  await waitForText(driver, 'main', /1 line of 61 could not be taken[^]*no time written as/)
  await click('Take the other 60', 'button')
  const result = await waitForText(driver, '[data-import-result=done]', 'taken')
  expect(result).toMatch(/^60 events taken · 0 known already.*1 lines? not taken/)
  await waitForText(driver, 'table', '“sometime” is no time')
})

test('a new trend starts with a result, and takes another event, unit and breakdown', async () => {
  await driver.wait(async () => {
    await go('/studies/new?kind=trend')
    return (await textOf(driver, 'h1')).includes('Shop opened')
  }, 10_000)
  await choose('every')
  await pick('each day')
  await waitForText(driver, 'h1', 'each day')
  await click('+ for each…', 'button')
  await pick('Plan')
  await waitForText(driver, 'h1', 'for each Plan')
  await waitForText(driver, '.numbers', 'All together')
  const texts = await textsOf(driver, '.numbers tbody tr')
  expect(texts.map((text) => text.split(/\s+/).slice(0, 2).join(' '))).toEqual(['basic 20', 'plus 20', 'All together'])
})

test('undo and redo are steps of the history, and a reload keeps the question', async () => {
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'))
  await driver.wait(async () => !(await textOf(driver, 'h1')).includes('for each'))
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, Key.SHIFT, 'z'))
  await waitForText(driver, 'h1', 'for each Plan')
  await driver.navigate().back()
  await driver.wait(async () => !(await textOf(driver, 'h1')).includes('for each'))
  await driver.navigate().refresh()
  await ready(driver)
  expect(await textOf(driver, 'h1')).toContain('each day')
})

test('a funnel gets steps, and the people lost in it can be seen and studied', async () => {
  await go('/studies/new?kind=funnel')
  await waitForText(driver, '.funnel', 'Bought')
  const strip = await waitForText(driver, '.funnel-strip', 'lost here')
  expect(strip).toMatch(/50\s%\s?go on.*20 lost here/s)
  await driver.findElement(By.css('button.lost')).click()
  await waitForText(driver, '.tray', '20 people')
  await click('See them', 'a')
  await waitForText(driver, 'h1', '20 people who did Shop opened and did not go on to Bought within 7 days')
  expect(await driver.findElements(By.css('tbody tr'))).toHaveLength(20)
  await click('Study them', 'button')
  await click('The same study, among them', 'a')
  await waitForText(driver, 'h1', 'among those who did Shop opened')
  await waitForText(driver, '.funnel-strip', '20 lost here')
})

test('a study is saved, put on a new dashboard and shared; a fresh browser sees it read-only', async () => {
  await go('/studies/new?kind=funnel')
  await click('Save', 'button')
  const name = await byCss(driver, 'form input')
  await name.sendKeys('From shop to sale')
  await name.sendKeys(Key.ENTER)
  await driver.wait(async () => /\/studies\/(?!new)[^?]+$/.test(await driver.getCurrentUrl()), 10_000)
  await waitForText(driver, '.crumbs', 'From shop to sale')
  await click('Add to dashboard', 'button')
  const board = await driver.wait(async () => (await driver.findElements(By.css('[role=dialog] form input')))[0], 5000)
  await board.sendKeys('Sales')
  await board.sendKeys(Key.ENTER)
  await waitForText(driver, '.MuiSnackbar-root', 'Added to Sales')
  await click('Open', 'a')
  await waitForText(driver, '.card', 'How many people get from Shop opened to Bought within 7 days')
  await click('Share', 'button')
  await click('Make a link', 'button')
  const field = await byCss(driver, '[data-shared-link]')
  const address = (await field.getAttribute('value'))!
  expect(address).toMatch(/\/shared\/[\w-]{22}$/)

  const fresh = await openBrowser()
  try {
    await fresh.get(address)
    await waitForText(fresh, '.card', '20 lost here')
    expect(await fresh.findElements(By.css('button.lost, .top-bar nav, .page-actions'))).toHaveLength(0)
    expect(await consoleFaults(fresh)).toEqual([])
    await click('Revoke', 'button')
    await driver.wait(async () => (await driver.findElements(By.css('[data-shared-link]'))).length === 0)
    await fresh.navigate().refresh()
    await waitForText(fresh, 'h1', 'There is nothing at this address')
  } finally {
    await fresh.quit()
  }
})
