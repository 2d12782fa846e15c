import { By, Key, type WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(1500, (session) => ({ driver } = session))
/** Focuses the field by its key and types. */
async function type(text: string): Promise<void> {
  await driver.findElement(By.css('body')).sendKeys('/')
  await driver.switchTo().activeElement().sendKeys(text)
}
const offered = '.ask-option .ask-sentence'

test('a question in plain words shows how each part is understood and what is not used, and opens as a study', async () => {
  await go('/dashboards')
  await type('median minutes per electric ride each week since June, purple students only')
  const sentence =
    'What is the median of Minutes in Ride completed where Bike type is electric and Rider kind is student each week since 1 Jun?'
  await waitForText(driver, offered, sentence)
  const parts = await textsOf(driver, '.ask-part')
  expect(parts).toContain('students Rider kind is student')
  expect(parts).toContain('since June since 1 Jun')
  expect(await textsOf(driver, '.ask-unused mark')).toEqual(['purple'])
  await driver.switchTo().activeElement().sendKeys(Key.ENTER)
  expect((await waitForText(driver, 'h1', 'Rider kind is student')).replace('\u2060', '')).toBe(sentence)
  // Everything can be changed as usual.
  await press(driver, () => byCss(driver, 'h1 [data-token=measure]'))
  await press(driver, () => byText(driver, 'maximum'))
  await waitForText(driver, 'h1', 'maximum')
})

test('the next best readings are reached by the arrows', async () => {
  await go('/')
  await type('pass bought each day')
  await waitForText(driver, offered, 'How many people did Pass bought each day')
  const field = driver.switchTo().activeElement()
  await field.sendKeys(Key.ARROW_DOWN)
  await driver.wait(
    async () => (await textOf(driver, '[role=option].Mui-focused')).startsWith('How many times'),
    5000,
    'the second reading is never marked',
  )
  await field.sendKeys(Key.ENTER)
  await waitForText(driver, 'h1', 'How many times did people do Pass bought each day')
})

test.each(['riders-by-plan', 'first-ride-kinds', 'rides-by-district'])(
  'the sentence that %s is listed with is understood as the very same question',
  async (id) => {
    await go('/studies')
    const listed = await driver.executeScript<string>(
      `return document.querySelector('a[href="/studies/${id}"]').parentElement.querySelector('.list-question').innerText`,
    )
    await go(`/studies/${id}`)
    const [head, figures] = [await textOf(driver, 'h1'), await textsOf(driver, '[data-table] td')]
    await go('/')
    await type(listed)
    await waitForText(driver, offered, listed)
    expect(await textsOf(driver, '.ask-unused')).toEqual([])
    await driver.switchTo().activeElement().sendKeys(Key.ENTER)
    expect(await waitForText(driver, 'h1', head.slice(0, 20))).toBe(head)
    await driver.wait(
      async () => (await textsOf(driver, '[data-table] td')).join() === figures.join(),
      10_000,
      'the figures differ',
    )
  },
)

test('a word that an analyst adds for an event is understood from then on', async () => {
  await go('/')
  await type('jaunts each week')
  await waitForText(driver, '.ask-unknown', 'Nothing by that name')
  await go('/catalog/events/Ride%20completed')
  await press(driver, () => byCss(driver, '[aria-label^="Other words for it"]'))
  await (await byCss(driver, 'input[aria-label="Other words for it"]')).sendKeys(Key.END, ', jaunt', Key.ENTER)
  await waitForText(driver, '[aria-label^="Other words for it"]', 'jaunt')
  await type('jaunts each week')
  await waitForText(driver, offered, 'How many times did people do Ride completed each week')
})

test('what is being typed is completed', async () => {
  await go('/')
  await type('people who did dock ch')
  await waitForText(driver, '[role=listbox]', 'people who did Dock chosen')
  const options = await textsOf(driver, '[role=option]')
  await driver
    .switchTo()
    .activeElement()
    .sendKeys(...options.slice(0, options.indexOf('people who did Dock chosen')).map(() => Key.ARROW_DOWN), Key.ENTER)
  await driver.wait(
    async () => (await driver.switchTo().activeElement().getAttribute('value')) === 'people who did Dock chosen ',
    5000,
    'the field never went on',
  )
})
