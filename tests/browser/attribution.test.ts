import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { Key, type WebDriver } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import { byCss, byText, consoleFaults, openBrowser, press, ready, textOf, textsOf, waitForText } from './driver.js'
import { newFolder } from '../workspace.js'
import { startServer, type TestServer } from './server.js'

/** What brought people: credit by several models, what is left out, and who is behind it. */
let server: TestServer
let driver: WebDriver
const folder = newFolder()
beforeAll(async () => {
  server = await startServer({ demo: 3000 })
  driver = await openBrowser()
})
afterAll(async () => {
  await driver.quit()
  await server.stop()
  folder.remove()
})
afterEach(async () => expect(await consoleFaults(driver)).toEqual([]))

const go = async (place: string) => {
  await driver.get(server.base + place)
  await ready(driver)
}
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const rowOf = (name: string) => byCss(driver, `.credit-table tbody tr:has(button[aria-label="Leave out ${name}"])`)
/** The figures of a row, without their shares. */
async function creditsOf(name: string): Promise<number[]> {
  const cells = await (await rowOf(name)).findElements({ css: 'td.credit' })
  const texts = await Promise.all(cells.map((cell) => cell.getText()))
  return texts.map((text) => Number(text.split('\n')[0]!.replace(/,/g, '')))
}

test('letters close and invitations begin; advertisements bring more of those who sign up than of those who buy', async () => {
  await go('/studies/what-brings-passes')
  await waitForText(driver, '.credit-table', 'Invitation')
  const [last, first] = await creditsOf('Mailing')
  expect(last).toBeGreaterThan(2 * first!)
  const [invitedLast, invitedFirst] = await creditsOf('Invitation')
  expect(invitedFirst).toBeGreaterThan(2 * invitedLast!)
  await waitForText(driver, 'main', /Mailing loses [\d.]+ points by first touch against last touch: it comes late/)
  await go('/studies/sign-ups-and-passes-by-channel')
  await waitForText(driver, 'main', /Search has \d+\s?% of Signed up and \d+\s?% of Pass bought/)
  const paid = [await creditsOf('Harbour News'), await creditsOf('Other advertising')]
  const all = (await textsOf(driver, '.credit-table .all-row td.number'))
    .slice(1)
    .map((text) => Number(text.replace(/,/g, '')))
  // By first touch: of those who signed up, and of those who bought.
  const shares = [0, 2].map((column) => (paid[0]![column]! + paid[1]![column]!) / all[column]!)
  expect(shares[0]).toBeGreaterThan(1.1 * shares[1]!)
})

test('a value is left out by one press and brought back, and a credit is its people', async () => {
  await go('/studies/what-brings-passes')
  await waitForText(driver, '.credit-table', 'Mailing')
  await press(driver, () => byCss(driver, 'button[aria-label="Leave out Mailing"]'))
  await waitForText(driver, '.question', /leaving out Brought back and Mailing/)
  await driver.wait(async () => !(await textOf(driver, '.credit-table')).includes('Mailing'))
  await click('Brought back and Mailing')
  await press(driver, () => byCss(driver, '[aria-label="Bring back Mailing"]'))
  await waitForText(driver, '.credit-table', 'Mailing')
  await driver.actions().sendKeys('\uE00C').perform()
  await press(driver, async () => (await rowOf('Search')).findElement({ css: '[data-cell]' }))
  await waitForText(driver, '.tray', /who did Pass bought .* credited to Search by last touch/)
})

test('behind a credit stand its conversions, each with what its touches earned, and can be downloaded', async () => {
  await go('/studies/what-brings-passes')
  await waitForText(driver, '.credit-table', 'Search')
  const [, first] = await creditsOf('Search')
  await press(driver, async () => (await rowOf('Search')).findElement({ css: 'td.credit:nth-of-type(2)[data-cell]' }))
  await waitForText(driver, '.tray', new RegExp(`people · credited with ${String(first)} conversions`))
  await click('See their conversions', 'a')
  await waitForText(driver, 'h1', new RegExp(`credited to Search by first touch · credited with ${String(first)}`))
  // By first touch the first one has it all.
  await waitForText(driver, '.conversions tbody tr:first-child .touches li:first-child', /^Search 100\s?%$/)
  const counted = Number((await textOf(driver, 'h1 strong')).replace(/\D/g, ''))
  expect(counted).toBe(first)
  const file = (await (await byText(driver, 'Download list', 'a')).getAttribute('href'))!
  const lines = (await (await fetch(file)).text()).trim().split('\n').slice(1)
  const fields = lines.map((line) => line.split(','))
  expect(new Set(fields.map(([, id]) => id)).size).toBe(counted)
  const earned = fields.filter((field) => field[6] === 'Search').reduce((sum, field) => sum + Number(field[8]), 0)
  expect(earned).toBeCloseTo(counted, 6)
  await press(driver, () => byCss(driver, '.conversions tbody tr:first-child td:last-child a'))
  await waitForText(driver, '.moments, main', /Pass bought/)
})

test('over time, paths of touches, early or late', async () => {
  await go('/studies/what-brings-passes')
  await waitForText(driver, '.credit-table', 'Search')
  await click('Paths of touches', 'button')
  await waitForText(driver, '.touch-way', /Search|Mailing|Invitation/)
  await click('Early or late', 'button')
  await waitForText(driver, '.ends-key', 'closes')
  await click('Over time', 'button')
  await waitForText(driver, '.question', 'each week')
  await waitForText(driver, '.chart-note', 'Conversions credited by last touch')
  expect((await textsOf(driver, '.cohorts tbody tr')).length).toBeGreaterThan(20)
})

test('what was paid is looked at, brought in, corrected and undone, and stands beside what it brought', async () => {
  await go('/studies/sign-ups-and-passes-by-channel')
  await waitForText(driver, '.credit-table', 'Paid')
  const newspaper = async () => (await rowOf('Harbour News')).getText()
  // Those who come by the paper sign up, and seldom buy: a pass costs more than a sign-up.
  const each = (text: string) => [...text.matchAll(/€([\d,.]+) each/g)].map(([, n]) => Number(n!.replace(/,/g, '')))
  const [signUp, , pass] = each(await newspaper())
  expect(pass).toBeGreaterThan(1.5 * signUp!)
  await go('/catalog/costs')
  await click('Bring in costs', 'button')
  const file = path.join(folder.dir, 'costs.csv')
  writeFileSync(file, 'day,value,amount\n2026-11-20,Search,100\n2026-11-20,Serch,7\n2026-11-31,Mailing,1\n')
  await (await driver.findElement({ css: '[data-costs-file]' })).sendKeys(file)
  await waitForText(
    driver,
    '[aria-label="Bring in costs"]',
    /2 costs from 20 Nov to 20 Nov, €107\.00 in all; 1 line left out/,
  )
  await waitForText(driver, '.faults', 'line 4: “2026-11-31” is no day such as 2026-10-08')
  await waitForText(driver, '.MuiAlert-message', 'No event has the value “Serch”')
  await click('Bring in 2 costs', 'button')
  await waitForText(driver, '.MuiSnackbar-root', '2 costs are kept.')
  await press(driver, () => byCss(driver, '[aria-label="Find a value or day"]'))
  await driver.actions().sendKeys('2026-11-20').perform()
  await waitForText(driver, '.table-bar', '2 rows of')
  await press(driver, () => byCss(driver, '[aria-label^="Paid for Search from 2026-11-20"]'))
  await driver.actions().sendKeys('50', Key.ENTER).perform()
  await waitForText(driver, '[aria-label="Costs"]', '€50.00')
  await press(driver, () => byCss(driver, '.snack-undo'))
  await waitForText(driver, '[aria-label="Costs"]', '€100.00')
})
