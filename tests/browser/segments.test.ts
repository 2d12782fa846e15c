import { By, Key, type WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, ready, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(3000, (session) => ({ driver } = session))
const type = (...keys: string[]) =>
  driver
    .switchTo()
    .activeElement()
    .sendKeys(...keys)
/** Chooses the first option by typing. */
const choose = async (text: string, option: string | RegExp) => {
  await type(text)
  await waitForText(driver, '.option[data-selected=true]', option)
  await type(Key.ENTER)
}
const now = async () => Number((await textOf(driver, '.now-button')).replaceAll(',', ''))
const waitForNow = (holds: (members: number) => boolean, what: string) =>
  driver.wait(async () => holds(await now().catch(() => NaN)), 10_000, what)
const lines = () => textsOf(driver, '.rule-words')

test('regulars going quiet: built as a sentence, a person tested, frozen, and used in a funnel', async () => {
  await go('/people/segments/new')
  const everyone = await now()
  await press(driver, () => byText(driver, '+ what they did', 'button'))
  await choose('ride completed', /^Ride completed/)
  await waitForNow((members) => members < everyone, 'the count did not follow')
  // On at least 8 different days, in days 31 to 60 before.
  await press(driver, () => byCss(driver, '[data-token=count]'))
  const number = await byCss(driver, '[role=dialog] [aria-label="Number"]')
  await number.sendKeys(Key.BACK_SPACE, '8')
  await waitForText(driver, '.rule-words', 'at least 8')
  await type(Key.ESCAPE)
  await press(driver, () => byCss(driver, '[data-token=window]'))
  await press(driver, () => byText(driver, 'Days 31 to 60 before', 'button'))
  await type(Key.ESCAPE)
  await waitForText(driver, '.rule-words', 'in days 31 to 60 before')
  const regulars = await now()
  // And not in the last 14 days.
  await press(driver, () => byText(driver, '+ what they did', 'button'))
  await choose('ride completed', /^Ride completed/)
  await driver.wait(async () => (await lines()).length === 2, 10_000, 'no second line')
  await press(driver, async () =>
    (await driver.findElements(By.css('.rule-row')))[1]!.findElement(By.css('[data-token=not]')),
  )
  await press(driver, () => byText(driver, 'did not do', 'span'))
  await driver.wait(async () => (await lines())[1]!.startsWith('did not do'), 10_000, 'it was not turned round')
  await press(driver, async () => (await driver.findElements(By.css('[data-token=window]')))[1]!)
  await press(driver, () => byText(driver, '14 days', 'button'))
  await type(Key.ESCAPE)
  await driver.wait(async () => (await lines())[1] === 'did not do Ride completed in the last 14 days', 10_000)
  await waitForNow((members) => members > 0 && members < regulars, 'the count did not follow')
  // Each line's own count is at least the whole.
  const own = (await textsOf(driver, '.rule-count')).map((text) => Number(text.replace(/\D/g, '')))
  expect(Math.min(...own)).toBeGreaterThanOrEqual(await now())

  // Why one of them is in it.
  const id = await textOf(driver, '.some-people a')
  await driver.findElement(By.css('[aria-label="Id of the person to test"]')).sendKeys(id)
  const verdict = await waitForText(driver, '.test-person', 'A member.')
  expect(verdict).toMatch(/(?:[89]|[123]\d) times/)
  expect(verdict).toContain('0 times')

  // A frozen copy of exactly these.
  const members = await now()
  await press(driver, () => byText(driver, 'Freeze a copy', 'button'))
  await (
    await byCss(driver, '[role=dialog] input[type=text], [role=dialog] input:not([type])')
  ).sendKeys('Quiet in November')
  await press(driver, async () => (await byCss(driver, '[role=dialog]')).findElement(By.css('button[type=submit]')))
  await waitForText(
    driver,
    '[role=dialog]',
    `${members.toLocaleString('en-GB')} ${members === 1 ? 'person' : 'people'}`,
  )
  await press(driver, () => byText(driver, 'Open it', 'a'))
  await waitForText(driver, 'h1', /A list of people, frozen on/)
  expect(await now()).toBe(members)

  // A funnel among them.
  await go('/studies/first-ride')
  await press(driver, () => byText(driver, '+ among…', 'button'))
  await choose('Quiet', /^Quiet in November/)
  await waitForText(driver, 'h1', 'among Quiet in November')
  const first = async () => Number((await textOf(driver, '.funnel .number.strong')).replaceAll(',', ''))
  await driver.wait(async () => (await first()) <= members, 10_000, 'it was not asked among them')
})

test('two presses: active on two days of the last seven', async () => {
  await go('/people/segments/new')
  await press(driver, () => byText(driver, '+ what they did', 'button'))
  await press(driver, () => byText(driver, 'Active on 2 or more days of the last 7', 'button'))
  await driver.wait(
    async () => (await lines())[0] === 'did anything on at least 2 different days in the last 7 days',
    10_000,
  )
})

test('lines are moved, grouped, switched off and taken back, with the keyboard', async () => {
  await go('/people/segments/regulars-going-quiet')
  const before = await lines()
  expect(before).toHaveLength(5)
  const grip = await driver.findElement(By.css('.rule-grip'))
  await driver.executeScript('arguments[0].focus()', grip)
  await driver.actions().keyDown(Key.ALT).sendKeys(Key.ARROW_DOWN).keyUp(Key.ALT).perform()
  await driver.wait(async () => (await lines())[1] === before[0], 10_000, 'the line did not move')
  await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'))
  await driver.wait(async () => (await lines()).join() === before.join(), 10_000, 'it was not undone')
  const whole = await now()
  await press(driver, async () => (await driver.findElements(By.css('.rule-more')))[0]!)
  await press(driver, () => byText(driver, 'Switch off for a moment', 'li'))
  await waitForText(driver, '.rule-row.off', 'switched off')
  await waitForNow((members) => members > whole, 'it still counted')
})

test('the size over time selects its people, and who came in', async () => {
  await go('/people/segments/regulars')
  const chart = await byCss(driver, '.size-chart .chart-canvas')
  await driver.wait(async () => (await driver.findElements(By.css('.size-chart canvas'))).length === 1, 10_000)
  await driver.executeScript('arguments[0].focus()', chart)
  await chart.sendKeys(Key.ARROW_RIGHT, Key.ARROW_LEFT, Key.ENTER)
  const tray = await waitForText(driver, '.tray', /people · who were in Regulars on|people · /)
  expect(tray).toMatch(/^[\d,]+ people/)
  await press(driver, async () =>
    (await byCss(driver, '.tray')).findElement(By.xpath('.//button[starts-with(normalize-space(.), "Came in")]')),
  )
  await waitForText(driver, '.tray', /who came into/)
})

test('an overlap: a part gives exactly its people, and leads to one of them, step by step', async () => {
  await go('/studies/where-passes-are-bought')
  await byCss(driver, '.overlap-rows tbody [data-cell]')
  const rows = await textsOf(driver, '.overlap-rows tbody [data-cell]')
  const people = Number(rows[1]!.replaceAll(',', ''))
  await press(driver, async () => (await driver.findElements(By.css('.overlap-rows [data-cell]')))[1]!)
  await waitForText(driver, '.tray', `${people.toLocaleString('en-GB')} people`)
  await press(driver, async () => (await byCss(driver, '.tray')).findElement(By.linkText('Retrace one')))
  await waitForText(driver, 'h1', /session \d+ of \d+/)
  await ready(driver)
  expect(await textOf(driver, '.page-actions')).toContain(`1 of ${people.toLocaleString('en-GB')} people`)
  const steps = (await textsOf(driver, '.retrace-steps button')).length
  if (steps > 1) {
    await driver.findElement(By.css('body')).sendKeys(Key.ARROW_RIGHT)
    await waitForText(driver, '.retrace-controls', `step 2 of ${steps}`)
  }
  await press(driver, () => byText(driver, 'Next person', 'a'))
  await waitForText(driver, '.page-actions', `2 of ${people.toLocaleString('en-GB')} people`)
})

test('everybody in a segment of an overlap is taken in one press: all the parts that lie in it', async () => {
  await go('/studies/where-passes-are-bought')
  await byCss(driver, '.overlap-rows tbody [data-cell]')
  const [name] = await textsOf(driver, '.dot-head button')
  await press(driver, () => byCss(driver, '.dot-head button'))
  const parts = (await driver.executeScript(
    `return [...document.querySelectorAll('.overlap-rows tbody tr')]
       .filter((row) => row.querySelector('.dot .in') === row.querySelector('.dot i'))
       .map((row) => Number(row.querySelector('td.number').innerText.replace(/\\D/g, '')))`,
  )) as number[]
  const people = parts.reduce((sum, each) => sum + each, 0)
  expect(parts.length).toBeGreaterThan(1)
  await waitForText(driver, '.tray', `${people.toLocaleString('en-GB')} people`)
  expect(await textOf(driver, '.tray')).toContain(name)
})

test('a dashboard is asked among a segment, and not among it, in every card', async () => {
  await go('/dashboards/onboarding')
  await press(driver, () => byText(driver, 'All people ▾', 'button'))
  await choose('Campus', /^Campus riders/)
  await byText(driver, 'Among Campus riders ▾', 'button')
  const heads = () => textsOf(driver, '.card-head')
  const all = (pattern: RegExp) =>
    driver.wait(async () => (await heads()).every((text) => pattern.test(text)), 10_000, `not all cards: ${pattern}`)
  await all(/, among “Campus riders”/)
  await press(driver, () => byText(driver, 'Among Campus riders ▾', 'button'))
  await press(driver, () => byText(driver, 'Not among them: all others', 'span'))
  await all(/, not among “Campus riders”/)
})

test('a deleted segment is marked where it was used, the rest stays, and it is brought back', async () => {
  await go('/people/segments')
  await press(driver, () => byCss(driver, '[aria-label="Delete Regulars"]'))
  await waitForText(driver, '[role=dialog]', 'Rides each week, regulars and others')
  await press(driver, async () => (await byCss(driver, '[role=dialog]')).findElement(By.xpath('.//button[.="Delete"]')))
  await waitForText(driver, '.deleted', '1 segment deleted')
  await go('/studies/rides-of-regulars')
  await waitForText(driver, '.faults', 'The segment “Regulars” is no longer there.')
  expect(await textOf(driver, 'h1')).toContain('Ride completed')
  await go('/people/segments')
  await press(driver, () => byCss(driver, '.deleted summary'))
  await press(driver, () => byText(driver, 'Bring back', 'button'))
  await driver.wait(
    async () => (await textsOf(driver, '.list-name')).includes('Regulars'),
    10_000,
    'it did not come back',
  )
})
