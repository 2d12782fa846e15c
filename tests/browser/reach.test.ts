import { By, Key, type WebDriver } from 'selenium-webdriver'
import { test } from 'vitest'
import { byCss, byText, press, textOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

/** From a loss to people, from people to messages, from messages to what they brought: as an analyst goes. */
let driver: WebDriver
const go = demoSession(14_000, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const type = async (css: string, text: string) => {
  const field = await byCss(driver, css)
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text)
}
const pick = async (token: string, option: string) => {
  await press(driver, () => byCss(driver, `[data-token="${token}"]`))
  await press(driver, () => byCss(driver, `[cmdk-item][data-value="${option}"]`))
}
const asked = (question: object) => `/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`
const funnelOf = (names: string[], days: number, range: object) => ({
  ...{ kind: 'funnel', steps: names.map((name) => ({ event: { names: [name] } })) },
  ...{ window: { count: days, unit: 'day' }, range },
})
const closed = () => driver.actions().sendKeys(Key.ESCAPE).perform()

/** The people in the tray become a segment; `then` is where the dialog leads. */
async function saveThem(name: string, then: string) {
  await waitForText(driver, '.tray strong', /people/)
  await click('Save as segment', 'button')
  await (
    await byCss(driver, '[role=dialog] input[type=text], [role=dialog] input:not([type])')
  ).sendKeys(name, Key.ENTER)
  await press(driver, () => byText(driver, then, 'a'))
}

/** On the page of a new message: what it says, how many are left alone, what it is for; it is started. */
async function writeAndStart(name: string, text: string) {
  await waitForText(driver, '[aria-label="Before it starts"]', /people? (?:is|are) in the segment now/)
  await pick('goal', 'Ride completed')
  await pick('destination', 'push-notices')
  await press(driver, () => byCss(driver, '[data-token="holdOut"]'))
  await type('[aria-label="Percent left alone"]', '30')
  await closed()
  await waitForText(driver, '.message-rows', /30.% are left alone/)
  await (await byCss(driver, '.variant textarea')).sendKeys(text)
  await type('[aria-label="Before it starts"] ~ section .MuiTextField-root input', name)
  await click('Start', 'button')
  await waitForText(driver, '.crumbs strong', new RegExp(name))
  await waitForText(driver, '.crumbs', /running/)
}

/** The clock runs until the message tells what it brought, or that it is too few to tell. */
async function runUntilTold(name: string) {
  await go('/outreach')
  await click('Four hours a second', 'button')
  await click(name, 'a')
  const told = /against \d+(?:\.\d+)?.%|too few yet/
  await driver.wait(
    async () => told.test(await textOf(driver, '[aria-label="What this says"]')),
    60_000,
    `${name}: nothing told`,
  )
}

test('a funnel’s loss, the likely of it nudged, the rest made an offer; what each brought stands on a dashboard', async () => {
  await go(asked(funnelOf(['Ride completed', 'Pass bought'], 14, { from: '2026-09-01', to: '2026-10-31' })))
  await press(driver, () => byCss(driver, 'button.lost'))
  await saveThem('Without a pass', 'Open it')
  await waitForText(driver, '.crumbs strong', /Without a pass/)
  const without = new URL(await driver.getCurrentUrl()).pathname.split('/').at(-1)!
  await go('/studies/who-buys-a-pass')
  await waitForText(driver, '.slices li:first-child', /The likeliest 20.%/)
  await press(driver, () => byCss(driver, '.slices li:first-child button'))
  await saveThem('Likely buyers', 'Open it')
  await waitForText(driver, '.crumbs strong', /Likely buyers/)

  await go('/people/segments/new')
  for (const part of ['Without a pass', 'Likely buyers']) {
    await click('+ another segment', 'button')
    await driver.switchTo().activeElement().sendKeys(part)
    await waitForText(driver, '.option[data-selected=true]', part)
    await driver.switchTo().activeElement().sendKeys(Key.ENTER)
    await waitForText(driver, '.rule-words:last-of-type, .rule-row:last-of-type', part)
  }
  await click('Save', 'button')
  await (await byCss(driver, '[role=dialog] input')).sendKeys('Nearly there', Key.ENTER)
  await waitForText(driver, '.crumbs strong', /Nearly there/)
  await click('More', 'button')
  await click('Write them a message…', 'a')
  await writeAndStart('A nudge', 'Hello {first name, or "rider"}, ride as often as you like.')

  await go(`/outreach/messages/new?segment=${without}`)
  await click('+ not among…', 'button')
  await driver.switchTo().activeElement().sendKeys('Likely')
  await waitForText(driver, '.option[data-selected=true]', 'Likely buyers')
  await driver.switchTo().activeElement().sendKeys(Key.ENTER)
  await waitForText(driver, '.message-rows', /comes into Without a pass, not among Likely buyers/)
  await writeAndStart('An offer', 'The first month at half the price, {first name, or "rider"}.')

  await runUntilTold('An offer')
  await click('Open it as a study', 'a')
  await waitForText(driver, '.question', /Does the message “An offer”/)
  await waitForText(driver, '.numbers', /left alone/)
  await click('Save', 'button')
  await (await byCss(driver, 'form input')).sendKeys('What the offer brings', Key.ENTER)
  await waitForText(driver, '.crumbs', 'What the offer brings')
  await click('Add to dashboard', 'button')
  const board = await driver.wait(async () => (await driver.findElements(By.css('[role=dialog] form input')))[0], 5000)
  await board.sendKeys('Winning riders', Key.ENTER)
  await waitForText(driver, '.MuiSnackbar-root', 'Added to Winning riders')
  await click('Open', 'a')
  await waitForText(driver, '.card', /Does the message “An offer”/)

  // The nudged are told of by themselves, on their own page.
  await go('/outreach')
  await click('Stands', 'button')
  await click('A nudge', 'a')
  await waitForText(driver, '[aria-label="What this says"]', /against \d+(?:\.\d+)?.%|too few yet/)
}, 240_000)

test('who has not ridden within two days is kept in step with push and told; their second week is compared', async () => {
  await go(asked(funnelOf(['Signed up', 'Ride completed'], 2, { last: 4, unit: 'week' })))
  await press(driver, () => byCss(driver, 'button.lost'))
  await saveThem('Not on a bike yet', 'Keep in step with…')
  await waitForText(driver, '.question', /Keep Not on a bike yet in step with a destination/)
  await press(driver, () => byCss(driver, '[data-token="destination"]'))
  await press(driver, () => byText(driver, 'Push notices', 'span'))
  await waitForText(driver, 'aside', /\d+ people now/)
  await type('aside .MuiTextField-root input', 'Not on a bike yet, by push')
  await click('Start', 'button')
  await waitForText(driver, '.crumbs', /next look/)
  await click('Look now', 'button')
  await waitForText(driver, '.run-table', /done/)

  await click('See the segment', 'a')
  await waitForText(driver, '.crumbs strong', /Not on a bike yet/)
  await click('More', 'button')
  await click('Write them a message…', 'a')
  await writeAndStart('Your first ride', 'A bike waits for you, {first name, or "rider"}.')
  await runUntilTold('Your first ride')
  await click('Open it as a study', 'a')
  await waitForText(driver, '.question', /Does the message “Your first ride”/)
  await click('Do they come back, reached and left alone?', 'a')
  await waitForText(
    driver,
    '.question',
    /Message is Your first ride fell in a week .* did Ride completed .* for each Variant/s,
  )
  // Some days of the clock later their second week stands beside that of those left alone.
  await driver.wait(
    async () => {
      await driver.navigate().refresh()
      const told = await waitForText(driver, '.numbers', /left alone/)
      return /\bw2\b/.test(told)
    },
    150_000,
    'no second week',
  )
}, 400_000)
