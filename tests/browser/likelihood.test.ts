import { By, Key, type WebDriver } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

/** Who is likely to: how good it is before who they are, cuts, the people behind a part, and one of them. */
let driver: WebDriver
const go = demoSession(14_000, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const count = (text: string) => Number(text.replace(/\D/g, ''))

test('how good it is stands before who; a cut is moved by keys, its part is people, and each is told why', async () => {
  await go('/studies/who-buys-a-pass')
  await click('How good is it?', 'button')
  await waitForText(driver, '.key-figures', /pairs in the right order/)
  await waitForText(driver, 'main', /The likeliest fifth held \d+.% of all who did it/)
  expect((await textsOf(driver, '.tenth-name')).length).toBe(10)
  await click('Who?', 'button')
  const before = count((await waitForText(driver, '.slices li:first-child span', /people/)).split('people')[0]!)
  const cut = await byCss(driver, '.cut[role=slider]')
  await cut.sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT)
  await waitForText(driver, '.slices', /The likeliest 22.%/)
  // The table follows when the cut has come to rest.
  await waitForText(driver, '.numbers-sheet', /The likeliest 22.%/)
  const now = count((await textOf(driver, '.slices li:first-child span')).split('people')[0]!)
  expect(now).toBeGreaterThan(before)
  await press(driver, () => byCss(driver, '.slices li:first-child button'))
  await waitForText(driver, '.tray', /who are the likeliest 22.% to do Pass bought in the next 45 days/)
  expect(count(await waitForText(driver, '.tray strong', /people/))).toBe(now)
  // The model of the saved study is asked of one person.
  await press(driver, () => byText(driver, 'See them', '*'))
  await press(driver, () => byCss(driver, 'main table tbody th a'))
  await waitForText(driver, 'aside', /Likely to/i)
  await waitForText(driver, 'aside', /For it: /)
})

test('what weighs is told with what was left out; what is looked at on purpose stands in the question', async () => {
  await go('/studies/who-buys-a-pass')
  await click('What does it look at?', 'button')
  await waitForText(driver, '.features', /Plan is Day pass/)
  const item = await driver.findElement(By.xpath("//ul[contains(@class,'left-out')]/li[contains(., 'Rider kind')]"))
  await item.findElement(By.css('button')).click()
  await waitForText(driver, '.question', /knowing Rider kind/)
  await waitForText(driver, '.features', /Plan is Day pass/)
  await driver.wait(async () => !(await textOf(driver, '.left-out')).includes('Rider kind'), 10_000)
  await press(driver, () => byCss(driver, '[aria-label="Undo"]'))
  await waitForText(driver, '.left-out', /Rider kind/)
})

test('the chance and the tenth are properties of people, to break down and to filter by', async () => {
  await go('/studies/who-buys-a-pass')
  await press(driver, () => byText(driver, '+ as a property of people', 'button'))
  await waitForText(driver, '[role=dialog]', /The chance in percent/)
  await press(driver, () => byText(driver, 'Keep it', 'button'))
  await waitForText(driver, '.trained', /“Chance of Pass bought”, in filters and breakdowns/)
  // Those of the first tenth by the property are the very people of the likeliest 10 %.
  const countOf = async (people: object) => {
    await go(`/people?people=${encodeURIComponent(JSON.stringify(people))}`)
    const said = await waitForText(driver, 'main', /\d people/)
    return count(/([\d,]+) people/.exec(said)![1]!)
  }
  const property = { of: 'person', name: 'Chance of Pass bought, tenth' }
  const where = { property, op: '=', number: 1 }
  const first = await countOf({ rule: { hold: 'all', of: [{ kind: 'profile', where }] } })
  const study = {
    ...{ kind: 'likelihood', goal: { event: { names: ['Pass bought'] } }, days: 45, again: true, lately: true },
    show: { form: 'people' },
  }
  expect(first).toBeGreaterThan(0)
  expect(first).toBe(await countOf({ study, marks: [{ kind: 'likely', from: 0, to: 10 }] }))
})

test('trained anew, it is asked of a person as before', async () => {
  await go('/studies/who-buys-a-pass')
  await waitForText(driver, '.slices', /The likeliest/)
  await press(driver, () => byText(driver, 'Train anew', 'button'))
  await waitForText(driver, '.trained', /Training …/)
  await waitForText(driver, '.trained', /Train anew/)
  await go('/people/known/rider-01639')
  await waitForText(driver, 'aside', /Likely to/i)
  await waitForText(driver, 'aside', /Against it: /)
})
