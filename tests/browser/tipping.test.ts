import type { WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

/** What done early goes with staying: which count, who has reached it, and what tells nothing. */
let driver: WebDriver
const go = demoSession(14_000, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const rowOf = (name: string) => byCss(driver, `.tipping tbody tr:has(button[aria-label="Leave out ${name}"])`)
const count = (text: string) => Number(text.replace(/\D/g, ''))

test('three rides in the first week go with staying; the count is its people, and another behaviour is opened', async () => {
  await go('/studies/what-makes-riders-stay')
  await waitForText(driver, '.tipping', 'Ride completed')
  await waitForText(driver, 'main', /Ride completed 3 times or more in the first 7 days goes with it best/)
  // Once or twice goes with it far less.
  const told = await waitForText(driver, 'main', /By how often: never, .*; 1 to 2 times, .*; 3 times or more, .*%/)
  const [, few, many] = /1 to 2 times, ([\d.]+)\s?%; 3 times or more, ([\d.]+)\s?%/.exec(told)!
  expect(Number(many)).toBeGreaterThan(1.5 * Number(few))
  await press(driver, async () => (await rowOf('Ride completed')).findElement({ css: '.strip.best' }))
  await waitForText(
    driver,
    '.tray',
    /who first did Signed up .* and did Ride completed at least 3 times in the first 7 days/,
  )
  const people = count(await waitForText(driver, '.tray strong', /people/))
  // The same people stand in the table of the opened behaviour.
  const [reached] = await textsOf(driver, '.two-by-two tbody tr:first-child td:last-child')
  expect(count(reached!)).toBe(people)
  await click('Ride rated', 'button')
  await waitForText(driver, '.opened-behaviour figcaption', /Ride rated: what part did anything in week 4/)
})

test('what tells nothing is put away and shown; what is left out is brought back', async () => {
  await go('/studies/what-makes-riders-stay')
  await waitForText(driver, '.tipping', 'Ride completed')
  expect(await textOf(driver, '.tipping')).not.toContain('qr_debug')
  await press(driver, () => byCss(driver, '.addition[aria-expanded=false]'))
  await waitForText(driver, '.tipping', 'qr_debug')
  await press(driver, () => byCss(driver, 'button[aria-label="Leave out Ride rated"]'))
  await waitForText(driver, '.question', /leaving out .*and Ride rated/)
  await driver.wait(async () => !(await textOf(driver, '.tipping')).includes('Ride rated'), 10_000)
  await press(driver, () => byCss(driver, '[aria-label="Undo"]'))
  await waitForText(driver, '.tipping', 'Ride rated')
})

test('what only goes along with riding falls away among those who ride as often; helping is asked by those who leave', async () => {
  await go('/studies/what-makes-riders-stay')
  await waitForText(driver, 'main', /It holds among people alike: even within .*, which of \d+ properties leaves least/)
  await waitForText(
    driver,
    'main',
    /Ride rated once (tells little|may tell nothing) among people of the same number of Ride completed/,
  )
  await waitForText(driver, 'main', /Help asked goes with the contrary/)
  await click('Ride rated', 'button')
  await waitForText(driver, '.opened-behaviour', /number of Ride completed/)
  await press(driver, () => byText(driver, 'number of Ride completed', 'button'))
  await press(driver, () => byCss(driver, '.opened-behaviour .group-of ~ td.pressable'))
  await waitForText(
    driver,
    '.tray',
    /did Ride rated at least once and did Ride completed (not at all|just .*) in the first 7 days/,
  )
})

test('who may yet get there is people, and the share that does is followed by week', async () => {
  await go('/studies/what-makes-riders-stay')
  const told = await waitForText(driver, '.not-yet', /have not done Ride completed 3 times yet/)
  const [, waiting] = /over, ([\d,]+) have not done/.exec(told)!
  await press(driver, () => byCss(driver, '.not-yet button'))
  await waitForText(
    driver,
    '.tray',
    /for whom the first 7 days are not over, and did not do Ride completed at least 3 times so far/,
  )
  expect(count(await waitForText(driver, '.tray strong', /people/))).toBe(count(waiting!))
  await click('What part of new people do Ride completed 3 times each week?')
  await waitForText(driver, '.question', /get through these steps, .* within 7 days/)
  await waitForText(driver, 'main', /Signed up\s+2\s+Ride completed\s+3\s+Ride completed\s+4\s+Ride completed/)
})
