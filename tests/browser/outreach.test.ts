import { Key, type WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, textOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

/** A segment is kept in step with a destination: set up by its words, started, failing, trying again. */
let driver: WebDriver
const go = demoSession(1500, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const type = async (css: string, text: string) => {
  const field = await byCss(driver, css)
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text)
}

test('a destination is set up and tested; a segment is kept in step with it, and what fails is made again', async () => {
  await go('/outreach')
  await waitForText(driver, 'main', /Quiet regulars, by push/)
  await click('New destination', 'a')
  await click('Mail', 'a')
  await click('Set it up', 'button')
  await waitForText(driver, '.crumbs strong', /^Mail$/)
  await click('Test it', 'button')
  await waitForText(driver, '.MuiAlert-message', /It answered after \d+ ms. Nobody was sent./)
  await type('[aria-label="Calls it answers with a failure"]', '100')
  await click('Save', 'button')
  await waitForText(driver, '.MuiSnackbar-root', /Saved/)

  await go('/people/segments/regulars')
  await click('More', 'button')
  await click('Keep in step with…', 'a')
  await waitForText(driver, '.question', /Keep Regulars in step with a destination/)
  await press(driver, () => byCss(driver, '[data-token="destination"]'))
  await press(driver, () => byText(driver, 'Mail', 'span'))
  await waitForText(driver, '.question', /in step with Mail/)
  await press(driver, () => byCss(driver, '[data-token="schedule"]'))
  await press(driver, () => byText(driver, 'Hours', 'button'))
  await waitForText(driver, '.question', /every 6 hours/)
  await driver.actions().sendKeys(Key.ESCAPE).perform()
  await waitForText(driver, 'aside', /\d+ people now/)
  await type('aside .MuiTextField-root input', 'Regulars, by mail')
  await click('Start', 'button')
  await waitForText(driver, '.crumbs strong', /Regulars, by mail/)
  await waitForText(driver, '.crumbs', /running/)
  await waitForText(driver, 'main', /changes? (?:is|are) on the way. What was said last: it answered 503/)

  // The service is well again: the calls are made again by themselves.
  const here = await driver.getCurrentUrl()
  await go('/outreach')
  await click('Mail', 'a')
  await waitForText(driver, '.crumbs strong', /^Mail$/)
  await type('[aria-label="Calls it answers with a failure"]', '0')
  await click('Save', 'button')
  await waitForText(driver, '.MuiSnackbar-root', /Saved/)
  await driver.get(here)
  await waitForText(driver, '.run-table', /done/)
  const people = Number((await textOf(driver, 'aside .now-figure')).split(' ')[0]!.replace(',', ''))
  await waitForText(driver, 'main', new RegExp(`${people.toLocaleString('en-GB')} people are there`))
  await press(driver, () => byCss(driver, '[data-token="destination"]'))
  await driver.actions().sendKeys(Key.ESCAPE).perform()
  await click('Pause', 'button')
  await waitForText(driver, '.crumbs', /paused/)
  await driver.navigate().refresh()
  await waitForText(driver, '.crumbs', /paused/)
})

test('a webhook’s secret is shown once, and what arrives at the receiver is shown', async () => {
  await go('/outreach/destinations/new?kind=webhook')
  await click('Set it up', 'button')
  await waitForText(driver, '.MuiAlert-message', /whsec_/)
  await click('I have copied it', 'a')
  await waitForText(driver, '.crumbs strong', /^Webhook$/)
  await click('Test it', 'button')
  await waitForText(driver, '.MuiAlert-message', /It answered after/)
  await waitForText(driver, '[aria-label="What it has"]', /The last call as it arrived/)
  await click('The last call as it arrived', 'summary')
  await waitForText(driver, '.arrival', /signature right · 0 people/)
  expect(await textOf(driver, 'main')).not.toMatch(/whsec_/)
})

test('a message: written, checked, started; the clock is run, and what it brings is told and opened as a study', async () => {
  await go('/outreach/messages/new?segment=regulars')
  await waitForText(driver, '[aria-label="Before it starts"]', /Choose what it is for/)
  await waitForText(driver, '[aria-label="Before it starts"]', /people are in the segment now/)
  await press(driver, () => byCss(driver, '[data-token="goal"]'))
  await press(driver, () => byCss(driver, '[cmdk-item][data-value="Ride completed"]'))
  await press(driver, () => byCss(driver, '[data-token="destination"]'))
  await press(driver, () => byCss(driver, '[cmdk-item][data-value="push-notices"]'))
  await press(driver, () => byCss(driver, '[data-token="holdOut"]'))
  await type('[aria-label="Percent left alone"]', '30')
  await driver.actions().sendKeys(Key.ESCAPE).perform()
  await waitForText(driver, '.message-rows', /30.% are left alone/)
  const text = await byCss(driver, '.variant textarea')
  await text.sendKeys('Hello {first name')
  await waitForText(driver, '.variant', /not closed with a brace/)
  await text.sendKeys(', or "rider"}')
  await waitForText(driver, '.bubble', /Hello \w+/)
  await waitForText(
    driver,
    '[aria-label="Before it starts"]',
    /would be seen four times of five|no effect could be seen/,
  )
  await type('[aria-label="Before it starts"] ~ section .MuiTextField-root input', 'Come out')
  // A draft is saved by its key, and started when it is to be.
  await press(driver, () => byCss(driver, 'main h1'))
  await driver.actions().sendKeys('s').perform()
  await waitForText(driver, '.crumbs', /Come out.*not started/s)
  await click('Start', 'button')
  await waitForText(driver, '.crumbs strong', /Come out/)
  await waitForText(driver, '.crumbs', /running/)
  await waitForText(driver, '[aria-label="What this says"]', /3 days are over yet|Nobody came/)

  await go('/outreach')
  await click('Four hours a second', 'button')
  await click('Come out', 'a')
  // Three days of the clock are eighteen seconds.
  const told = /against \d+(?:\.\d+)?.%|too few yet/
  await driver.wait(
    async () => told.test(await textOf(driver, '[aria-label="What this says"]')),
    60_000,
    'nothing told',
  )
  await click('Log', 'button')
  await waitForText(driver, '[aria-label="Who came in last"]', /sent/)
  await go('/outreach')
  await click('Stands', 'button')
  await click('Come out', 'a')
  await click('Open it as a study', 'a')
  await waitForText(driver, '.question', /Does the message “Come out” \(“A”\) bring Ride completed within 3 days/)
  await waitForText(driver, '.numbers', /left alone/)
}, 150_000)

test('a finished message says what is true of it: the one variant brings something, the other nothing that is seen', async () => {
  await go('/outreach/messages/first-ride')
  await waitForText(driver, '[aria-label="What this says"]', /“A bike waits”/)
  await waitForText(driver, '[aria-label="What this says"]', /“How it works”: no clear effect/)
})
