import type { WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, textOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(1500, (session) => ({ driver } = session))
const shown = () => driver.executeScript<string>('return location.search')

/** A study among those counted at any of many points. */
function longQuestion(marks: number): string {
  const study = {
    ...{ kind: 'trend', series: [{ event: { names: ['Ride completed'] }, measure: 'people' }] },
    ...{ every: 'day', range: { last: 12, unit: 'week' }, show: { form: 'lines', as: 'number' } },
  }
  const among = {
    study,
    marks: Array.from({ length: marks }, (_, day) => ({
      kind: 'point',
      bucket: new Date(Date.UTC(2026, 0, 1 + day)).toISOString().slice(0, 10),
    })),
  }
  return new URLSearchParams({ q: JSON.stringify({ ...study, every: 'week', among }) }).toString()
}

test('a study among people of 300 points has a short address, which reloads, goes back and can be sent', async () => {
  await go(`/studies/new?${longQuestion(300)}`)
  const head = await textOf(driver, 'h1')
  expect(head).toContain('297 more selected places')
  await driver.wait(async () => (await shown()).startsWith('?k='), 10_000, 'the address stays long')
  const short = await shown()
  expect(short.length).toBeLessThan(30)

  await driver.navigate().refresh()
  await waitForText(driver, 'h1', head)
  await driver.wait(async () => (await shown()) === short, 10_000, 'after a reload the address is another')

  // An edit is a step of its own, with its own short address; back is the one before.
  await press(driver, () => byText(driver, 'Bars', 'button'))
  await driver.wait(async () => (await shown()).startsWith('?k=') && (await shown()) !== short, 10_000, 'not shortened')
  await driver.navigate().back()
  await driver.wait(async () => (await shown()) === short, 10_000, 'back leads elsewhere')
  await waitForText(driver, 'h1', head)

  // Elsewhere, where nothing of this page is known.
  await go('/')
  await go(`/studies/new${short}`)
  await waitForText(driver, 'h1', head)
  expect(await byCss(driver, '[data-table]')).toBeTruthy()
})
