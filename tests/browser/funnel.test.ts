import { By, Key, type WebDriver } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(14_000, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const number = (text: string) => Number(/[\d,.]+/.exec(text)![0].replace(/,/g, ''))
async function choose(text: string): Promise<void> {
  await byCss(driver, '[cmdk-input]')
  await driver.switchTo().activeElement().sendKeys(text)
  await waitForText(driver, '.option[data-selected=true]', text)
  await driver.switchTo().activeElement().sendKeys(Key.ENTER)
}
/** The share of the start that a group's last step has, %, as its row of the table says. */
async function rateOf(group: string): Promise<number> {
  // A table comes a moment after the sentence above it.
  await byCss(driver, '.numbers tbody tr > th')
  const heads = await textsOf(driver, '.numbers tbody tr > th')
  const cells = await textsOf(driver, `.numbers tbody tr:nth-child(${heads.indexOf(group) + 1}) > td`)
  return number(cells.filter((text) => text.endsWith('%') && !text.includes('–')).at(-1)!)
}
const trayCount = async () => number(await waitForText(driver, '.tray strong', /\d/))
const trayHolds = (figure: number) => waitForText(driver, '.tray strong', `${figure.toLocaleString('en-GB')} people`)

describe('planted truths, from Home to the people', () => {
  test('3: since when more are lost, where, and with which version of the app; what they did instead; who they are', async () => {
    await go('/')
    await click('First ride funnel', 'a')
    const said = await waitForText(driver, '.reading', /It is concentrated in App version 5\.3\.0/)
    expect(said).toMatch(/From the week of 21 Sep to the week of \d+ Oct more were lost before Card added/)
    expect(said).toMatch(/The narrowest place is before Card added/)

    // To the figure: those who had the version get through least.
    await click('How does each App version of the event fare?', 'a')
    await waitForText(driver, 'h1', 'for each App version of the event')
    await waitForText(driver, '.numbers', '5.3.0')
    expect(await rateOf('5.3.0')).toBeLessThan((await rateOf('5.2.0')) / 1.5)
    await driver.navigate().back()

    // To the people: those lost there, what they did instead, and a segment of them.
    await waitForText(driver, '.reading', 'What did the')
    await driver.wait(async () => (await driver.findElements(By.css('button.lost'))).length === 4, 10_000)
    await press(driver, async () => (await driver.findElements(By.css('button.lost')))[2])
    const lost = await trayCount()
    await click('What they did instead', 'button')
    await waitForText(driver, '.funnel-form', 'Card refused')
    expect(number(await textOf(driver, '.funnel-form .hint'))).toBe(lost)
    const refused = await driver.findElement(
      By.xpath(
        '//li[contains(@class,"share-row")][contains(.,"Card refused")]//button[contains(@class,"figure-button")]',
      ),
    )
    const figure = number((await refused.getAttribute('textContent'))!)
    await refused.sendKeys(Key.ENTER)
    await trayHolds(figure)
    await click('Save as segment', 'button')
    const dialog = await byCss(driver, '[role=dialog]')
    await waitForText(driver, '[role=dialog]', 'Live')
    const name = await dialog.findElement(By.css('input[type=text], input:not([type])'))
    await name.sendKeys('Refused and gone')
    await press(driver, () => driver.findElement(By.xpath('//*[@role="dialog"]//button[normalize-space(.)="Save"]')))
    await waitForText(driver, '[role=dialog]', `holds ${figure.toLocaleString('en-GB')} people`)
  })

  test('5: students get through more often than everyone, and how sure that is', async () => {
    await go('/')
    await click('First ride funnel', 'a')
    await waitForText(driver, '.reading', 'The narrowest place')
    await press(driver, () => byText(driver, '+ for each…', 'button'))
    await choose('Rider kind')
    await waitForText(driver, 'h1', 'for each Rider kind')
    const said = await waitForText(driver, '.reading', /student: \d+\s%\sget through/)
    const times = Number(/student: .*?([\d.]+)× as often/.exec(said)![1])
    expect(times).toBeGreaterThan(1.4)
    expect(said).toMatch(/The difference is \+[\d.]+ points \(95\s%: [\d.]+ to [\d.]+\)/)
    await driver.actions().sendKeys(Key.ESCAPE).perform()
    await waitForText(driver, '.numbers', 'Against the others')
    for (const other of ['commuter', 'leisure', 'visitor'])
      expect(await rateOf('student')).toBeGreaterThan(await rateOf(other))
  })
})

describe('the forms of a funnel', () => {
  test('each opens in place, with the keyboard, and its bars give the people that they count', async () => {
    await go('/studies/first-ride')
    await waitForText(driver, '.reading', 'The narrowest place')
    const open = (form: string) => press(driver, () => byText(driver, form, 'button'))
    const first = async (css: string) => {
      await driver.wait(async () => (await driver.findElements(By.css(css))).length > 0, 10_000, `no ${css}`)
      return driver.findElement(By.css(css))
    }
    const entered = async (css: string) => {
      const bar = await first(css)
      const figure = number(/[\d,]+(?=$)/.exec((await bar.getAttribute('title')) || (await bar.getText()))![0])
      await bar.sendKeys(Key.ENTER)
      await trayHolds(figure)
    }
    await open('Time to convert')
    await entered('.histogram-bar:enabled')
    await open('Repeats')
    await entered('.share-row button.figure-button')
    await open('Suggest steps')
    await click('Map viewed', 'label')
    await click('Take it as a step', 'button')
    await driver.wait(async () => (await textsOf(driver, '.funnel .step-name')).length === 6, 10_000)
    expect(await textsOf(driver, '.funnel .step-name .token')).toContain('Map viewed')
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'))
    await waitForText(driver, '.funnel-form', 'Commonest ways')
  })

  test('a target is set on the sentence, and is said to be missed', async () => {
    await go('/studies/first-ride')
    await click('+ target…', 'button')
    const field = await byCss(driver, '[aria-label="Target in %"]')
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '60')
    await waitForText(driver, 'h1', 'aiming at 60 %')
    await waitForText(driver, '.reading', 'The target is missed')
  })
})
