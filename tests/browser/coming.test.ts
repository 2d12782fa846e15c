import { By, Key, type WebDriver } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { benjaminiHochberg, twoProportions } from '../../core/stats/proportion.js'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(14_000, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const number = (text: string) => Number(/[\d,.]+/.exec(text)![0].replace(/,/g, ''))
const trayHolds = (figure: number) =>
  waitForText(driver, '.tray strong', figure === 1 ? '1 person' : `${figure.toLocaleString('en-GB')} people`)
/** As soon as it is there: a table comes a moment after the chart above it. */
const cell = (row: number, column: number) =>
  byCss(driver, `.numbers-sheet tbody tr:nth-child(${row}) > :nth-child(${column})`)
/** Presses a figure of the table, and gives how many people the tray then holds. */
async function peopleOf(row: number, column: number): Promise<number> {
  await press(driver, async () => {
    const found = await cell(row, column)
    // The tray may lie over the lower rows.
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', found)
    return found
  })
  const css = `.numbers-sheet tbody tr:nth-child(${row}) > :nth-child(${column})`
  // Read in one step of the page: an element found first and read later may have been replaced in between.
  await driver.wait(
    () => driver.executeScript<boolean>(`return document.querySelector(arguments[0])?.ariaSelected === 'true'`, css),
    10_000,
    `${css} was never selected`,
  )
  return trayCount()
}
const trayCount = async () => number(await waitForText(driver, '.tray strong', /^[\d,]+ (?:people|person)/))

/** Walks over the chart by keys up to a point with a figure, and selects it. */
async function enterChart(steps: number): Promise<string> {
  const chart = await byCss(driver, '.result .chart-canvas')
  await driver.executeScript('arguments[0].focus()', chart)
  for (let i = 0; i < steps; i++) await chart.sendKeys(Key.ARROW_LEFT)
  const said = await driver.wait(async () => {
    const text = await driver.executeScript<string>('return arguments[0].querySelector(".sr-only").textContent', chart)
    return text || false
  }, 5_000)
  await chart.sendKeys(Key.ENTER)
  return said as string
}

describe('do they come back?', () => {
  test('whether Marsh End differs in week 4 is said, and said rightly, as an own test over its people tells', async () => {
    await go('/')
    await click('Coming back after sign-up', 'a')
    await waitForText(driver, '.reading', /% of [\d,]+ people did Ride completed in week 1; the curve levels off near/)
    await click('+ for each…', 'button')
    await byCss(driver, '[cmdk-input]')
    await driver.switchTo().activeElement().sendKeys('Home district')
    await waitForText(driver, '.option[data-selected=true]', 'Home district')
    await driver.switchTo().activeElement().sendKeys(Key.ENTER)
    await waitForText(driver, 'h1', 'for each Home district')
    await driver.actions().sendKeys(Key.ESCAPE).perform()
    await waitForText(driver, '.numbers-sheet thead', 'Week 4, against the others')
    const names = (await textsOf(driver, '.numbers-sheet tbody th')).map((name) => name.trim())
    const heads = await textsOf(driver, '.numbers-sheet thead th')
    const week4 = heads.indexOf('w4') + 1
    const rates: { part: number; whole: number }[] = []
    for (let row = 1; row <= names.length; row++) {
      const part = await peopleOf(row, week4)
      await click('Those who did not', 'button')
      await waitForText(driver, '.tray', 'did not do Ride completed')
      const not = await trayCount()
      rates.push({ part, whole: part + not })
      await press(driver, () => driver.findElement(By.css('.tray [aria-label="Close"], .tray button:last-child')))
    }
    const all = rates.at(-1)!
    const tested = rates.slice(0, -1).map((own) => {
      const others = { part: all.part - own.part, whole: all.whole - own.whole }
      return twoProportions(own, others)!.p
    })
    const isClear = benjaminiHochberg(tested).map((p) => p < 0.05)
    const said = await textsOf(driver, '.numbers-sheet tbody td:nth-child(3)')
    names.slice(0, -1).forEach((name, i) => {
      expect([name, /no clear difference/.test(said[i])]).toEqual([name, !isClear[i]])
    })
    const reading = await textOf(driver, '.reading')
    const marsh = names.indexOf('Marsh End')
    expect(marsh).toBeGreaterThanOrEqual(0)
    if (isClear[marsh]) expect(reading).toMatch(/Marsh End: \S+\s%\scome back in week 4/)
    else expect(reading).toMatch(/In week 4 there is no clear difference for [^.]*Marsh End/)
  })

  test('a point of the curve is its people, by keys; and so is a cell that is not over', async () => {
    await go('/studies/coming-back')
    await waitForText(driver, '.reading', 'levels off')
    const said = await enterChart(10)
    await trayHolds(number(/, ([\d,]+) of/.exec(said)![1]))
    const open = await driver.findElement(By.css('.cohorts td.hatched.pressable'))
    const title = (await open.getAttribute('title'))!
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', open)
    await open.click()
    await trayHolds(number(/, ([\d,]+) of [\d,]+ pe/.exec(title)![1]))
    expect(title).toContain('not over yet')
  })

  test('days in place of weeks, from the period on, and money: each says itself in the question', async () => {
    await go('/studies/coming-back')
    await waitForText(driver, '.reading', 'levels off')
    await click('+ own brackets of days', 'button')
    await click('Use these', 'button')
    await waitForText(driver, 'h1', 'in days 1 to 7, 8 to 30 and 31 to 90')
    await waitForText(driver, '.numbers-sheet thead', 'd31–90')
    await click('+ or later', 'button')
    await waitForText(driver, '.options', 'in it or later')
    await click('in it or later')
    await waitForText(driver, 'h1', 'or after them')
    await waitForText(driver, '.reading', 'these shares may still grow')
    await click('Times', 'button')
    await waitForText(driver, 'h1', 'how many times did they do')
  })
})

describe('how often?', () => {
  test('“3 or more days a month” is built as a metric over time, its people are shown, and it is kept', async () => {
    await go('/')
    await click('Days in a month with App opened', 'a')
    await waitForText(driver, '.reading', /days in a month on average/)
    const bars = await enterChart(4)
    await trayHolds(number(/([\d,]+) (?:people|person)$/.exec(bars)![1]))
    await click('Over time', 'button')
    const field = await byCss(driver, 'input[aria-label="How many days"]')
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '3')
    await waitForText(driver, '.chart-note', '% of active people with 3 days or more')
    await waitForText(driver, '.numbers-sheet thead', '3 days or more')
    const figure = number(await (await cell(2, 4)).getText())
    expect(await peopleOf(2, 4)).toBe(figure)
    await driver.executeScript('scrollTo(0, 0)')
    await click('Save', 'button')
    const dialog = await byCss(driver, '[role=dialog]')
    const name = await dialog.findElement(By.css('input[type=text], input:not([type])'))
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Three days a month')
    await press(driver, () => driver.findElement(By.xpath('//*[@role="dialog"]//button[normalize-space(.)="Save"]')))
    await driver.wait(async () => /\/studies\/(?!new)/.test(await driver.getCurrentUrl()), 10_000)
    await driver.navigate().refresh()
    await waitForText(driver, '.chart-note', '3 days or more')
    expect(number(await (await cell(2, 4)).getText())).toBe(figure)
    // The same threshold as people who come and go by themselves.
    await click('Make a segment of them', 'a')
    await waitForText(driver, 'main', /App opened/)
    await waitForText(driver, 'main', /3/)
  })
})

describe('growing or leaking?', () => {
  test('who lapsed in the last full week are listed, and saved', async () => {
    await go('/')
    await click('Who lapsed last week?', 'a')
    await waitForText(driver, '.reading', 'In the last full week')
    await waitForText(driver, '.numbers-sheet tbody th', 'so far')
    const figure = number(await (await cell(2, 5)).getText())
    expect(await peopleOf(2, 5)).toBe(figure)
    await click('See them', '*')
    // The figure stands on the study's page as well: first the list must be there.
    await driver.wait(async () => (await driver.getCurrentUrl()).includes('/people'), 10_000, 'the list never came')
    await waitForText(driver, 'main', figure.toLocaleString('en-GB'))
    await driver.navigate().back()
    // What lies below the fold is laid out when it comes into view, and has no words till then: its cell is waited for.
    await byCss(driver, '.numbers-sheet tbody tr:nth-child(2) > :nth-child(5)')
    expect(await peopleOf(2, 5)).toBe(figure)
    await click('Save as segment', 'button')
    const dialog = await byCss(driver, '[role=dialog]')
    const name = await dialog.findElement(By.css('input[type=text], input:not([type])'))
    await name.sendKeys('Lapsed last week')
    await press(driver, () => driver.findElement(By.xpath('//*[@role="dialog"]//button[normalize-space(.)="Save"]')))
    await waitForText(driver, '[role=dialog]', `holds ${figure.toLocaleString('en-GB')} people`)
  })

  test('flows lead from state to state, each to its people; the gaps between uses help to choose the interval', async () => {
    await go('/studies/riders-come-and-go')
    await waitForText(driver, '.reading', 'quick ratio')
    await click('Flows', 'button')
    const flow = await byCss(driver, '.flow[aria-label^="Retained before, now lapsed"]')
    const says = (await flow.getAttribute('aria-label'))!
    await flow.sendKeys(Key.ENTER)
    await trayHolds(number(/: ([\d,]+) p/.exec(says)![1]))
    await click('each week', 'button')
    const hint = await waitForText(driver, '.usage-hint', '80 % of returns happen within')
    const days = number(/within (\d+) days?/.exec(hint)![1])
    await click(`Every ${days} days: 80 % return within it`, 'button')
    await waitForText(driver, 'h1', `every ${days} days`)
    await waitForText(driver, '.reading', `interval of ${days} days`)
  })

  test('which districts lose the most riders: asked in words, a row for each, its people, and the groups edited', async () => {
    await go('/')
    await driver.findElement(By.css('body')).sendKeys('/')
    await driver.switchTo().activeElement().sendKeys('which districts lose the most riders')
    await waitForText(driver, '.ask-option .ask-sentence', 'for each Home district')
    await driver.switchTo().activeElement().sendKeys(Key.ENTER)
    await waitForText(driver, 'h1', 'for each Home district')
    await waitForText(driver, '.numbers-sheet thead', 'Home district')
    await waitForText(driver, '.reading', /who lapsed in the last full week, more are of/)
    // Of the state that is looked at the largest comes first, and each figure is its people.
    const lapsed = (await textsOf(driver, '.numbers-sheet tbody td:nth-child(8)')).map(number)
    expect(lapsed.length).toBeGreaterThan(3)
    expect(lapsed.slice(0, -1)).toEqual([...lapsed.slice(0, -1)].sort((a, b) => b - a))
    expect(await peopleOf(1, 8)).toBe(lapsed[0])
    await driver.executeScript('scrollTo(0, 0)')
    await press(driver, () => byCss(driver, 'h1 [data-token=breakdown]'))
    const keep = await byCss(driver, 'input[aria-label="Groups to keep"]')
    await keep.sendKeys(Key.chord(Key.CONTROL, 'a'), '2')
    await waitForText(driver, 'h1', '(the 2 largest)')
    await waitForText(driver, '.numbers-sheet tbody tr:nth-child(3) th', 'Everything else')
    // What is of an event makes no groups here, so that is not offered.
    await click('Another property', 'button')
    await waitForText(driver, '[role=listbox], [cmdk-list]', 'Plan')
    expect(await textOf(driver, '[role=listbox], [cmdk-list]')).not.toContain('Of the event')
  })
})
