import { By, Key, Origin, until, type WebDriver } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import { demoSession } from './session.js'

let driver: WebDriver
const go = demoSession(14_000, (session) => ({ driver } = session))
const click = (text: string, tag = '*') => press(driver, () => byText(driver, text, tag))
const active = () => driver.switchTo().activeElement()
const type = (...keys: string[]) => active().sendKeys(...keys)
/** Chooses in the open list by typing, with the keyboard alone. */
async function choose(text: string): Promise<void> {
  await byCss(driver, '[cmdk-input]')
  await type(text)
  await waitForText(driver, '.option[data-selected=true]', text)
  await type(Key.ENTER)
}
/** Goes on with Tab until the focus is on what has this text or label. */
async function tabTo(text: string): Promise<void> {
  for (let i = 0; i < 80; i++) {
    const here = await driver.executeScript<string>(
      `const e = document.activeElement; return (e.getAttribute('aria-label') ?? '') + '|' + (e.innerText ?? '').trim()`,
    )
    if (here.split('|').includes(text)) return
    await type(Key.TAB)
  }
  throw new Error(`Tab never came to “${text}”`)
}
const columnOf = async (name: string) => {
  // A table comes a moment after the sentence above it.
  await byCss(driver, '.numbers tbody tr > th')
  const heads = await textsOf(driver, '.numbers tbody tr > th')
  if (heads.includes(name)) return textsOf(driver, `.numbers tbody tr:nth-child(${heads.indexOf(name) + 1}) > td`)
  throw new Error(`no row ${name}`)
}

describe('the keyboard alone', () => {
  test('builds a question of two series and a formula, and the table has its figures', async () => {
    await go('/studies/riders-now')
    await tabTo('+ and another event')
    await type(Key.ENTER)
    await choose('Ride rated')
    await waitForText(driver, 'h1', 'b = people who did Ride rated')
    await tabTo('+ formula')
    await type(Key.ENTER)
    await byCss(driver, '.formula input')
    await type('b / a2')
    await waitForText(driver, '.formula-fault', '“a2” is not known here')
    await type(Key.BACK_SPACE, ' * 100')
    await waitForText(driver, 'h1', 'b / a * 100')
    await type(Key.ESCAPE)
    await waitForText(driver, '.numbers', 'b / a * 100')
    const [riders, raters, share] = [await columnOf('a'), await columnOf('b'), await columnOf('b / a * 100')]
    const number = (text: string | null) => Number(text!.replace(/,/g, ''))
    // Of the whole time, worked out on it.
    expect(number(share[0])).toBeCloseTo((number(raters[0]) / number(riders[0])) * 100, 1)
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'))
    await driver.wait(async () => !(await textOf(driver, 'h1')).includes('/'), 10_000)
  })
})

describe('planted truths, from Home to a figure', () => {
  test('1: commuters ride on weekdays, leisure riders on weekends', async () => {
    await go('/')
    await click('Rides each day', 'a')
    const rhythmOf = async (kind: string) => {
      await press(driver, () => byText(driver, '+ only where…', 'button'))
      await choose('Rider kind')
      const values = await byCss(driver, '[aria-label=Values]')
      await values.sendKeys(kind)
      await driver.wait(async () => (await driver.findElements(By.css('[role=listbox] [role=option]'))).length === 1)
      const before = await textOf(driver, '.reading')
      // What is highlighted is taken.
      await values.sendKeys(Key.ENTER)
      await waitForText(driver, 'h1', `where Rider kind is ${kind}`)
      // The sentence runs ahead of its answer: till that is there, all riders are read.
      await driver.wait(async () => (await textOf(driver, '.reading')) !== before, 10_000, 'the answer never came')
      await driver.actions().sendKeys(Key.ESCAPE).perform()
      return waitForText(driver, '.reading', /The week has a rhythm/)
    }
    await waitForText(driver, 'h1', 'each day')
    expect(await rhythmOf('commuter')).toMatch(/(Saturday|Sunday)s lowest/)
    await go('/')
    await click('Rides each day', 'a')
    await waitForText(driver, 'h1', 'each day')
    expect(await rhythmOf('leisure')).toMatch(/rhythm: (Saturday|Sunday)s are highest/)
  })

  test('2: from the week of 5 October fewer ride on a Day pass, and the note says why', async () => {
    await go('/')
    await click('Weekly riders by plan', 'a')
    const said = await waitForText(driver, '.reading', 'Day pass moved most')
    expect(said).toContain('since the week of 5 Oct')
    expect(said).toContain('Noted that week: “Day pass price up”')
    await press(driver, () => byText(driver, '+ compared with…', 'button'))
    await choose('the time just before')
    await waitForText(driver, '.numbers', 'Difference')
    const [now, before, difference] = (await columnOf('Day pass')).map((text) =>
      Number(text!.replace(/,/g, '').replace('−', '-')),
    )
    expect(difference).toBe(now - before)
    expect(difference).toBeLessThan(0)
  })
})

describe('chart and table', () => {
  test('rows are sorted by any column, and a line is taken out of the chart and put back', async () => {
    await go('/studies/riders-by-plan')
    const totals = async () => {
      const cells = await driver.findElements(By.css('.numbers tbody tr:not(.all-row) td:nth-of-type(1)'))
      return Promise.all(cells.map(async (cell) => Number((await cell.getAttribute('textContent'))!.replace(/,/g, ''))))
    }
    await waitForText(driver, '.numbers', 'All together')
    const sort = await driver.findElement(By.xpath('//th//button[normalize-space(.)="Whole time"]'))
    await driver.executeScript('arguments[0].click(); arguments[0].click()', sort)
    const shown = await totals()
    expect(shown).toEqual([...shown].sort((a, b) => a - b))
    const swatch = await byCss(driver, '[aria-label="Annual in the chart"]')
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', swatch)
    await swatch.click()
    await driver.wait(
      async () =>
        (await driver.findElement(By.css('[aria-label="Annual in the chart"]')).getAttribute('aria-pressed')) ===
        'false',
      10_000,
    )
    await driver.wait(
      async () => (await driver.getCurrentUrl()).includes('off'),
      10_000,
      'the address never told of it',
    )
    await driver.navigate().back()
    await driver.wait(
      async () =>
        (await driver.findElement(By.css('[aria-label="Annual in the chart"]')).getAttribute('aria-pressed')) ===
        'true',
      10_000,
    )
  })

  test('two cells of a row give those of the one and not of the other', async () => {
    await go('/studies/riders-now')
    await waitForText(driver, '.numbers', 'Ride completed')
    const cells = await driver.findElements(By.css('.numbers tbody tr:first-child td[data-cell]'))
    const [first, second] = [cells[3], cells[4]]
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center", inline: "center" })', first)
    const heads = await Promise.all(
      (await driver.findElements(By.css('.numbers thead th .sort'))).map((head) => head.getAttribute('textContent')),
    )
    await first.click()
    await driver.actions().keyDown(Key.CONTROL).click(second).keyUp(Key.CONTROL).perform()
    const [a, b] = [heads[5], heads[6]]
    await click(`In ${a}, not ${b}`, 'button')
    await waitForText(driver, '.tray', `in the week of ${a} and not in the week of ${b}`)
    await waitForText(driver, '.tray strong', /^[\d,]+ (person|people)$/)
  })

  test('the time is narrowed by drawing over the chart, and comes back with one key', async () => {
    await go('/studies/riders-by-plan')
    const chart = await byCss(driver, '.chart-canvas canvas')
    const before = await textOf(driver, 'h1')
    const { x, y, width, height } = await chart.getRect()
    const at = (share: number) => ({
      x: Math.round(x + width * share),
      y: Math.round(y + height / 2),
      origin: Origin.VIEWPORT,
    })
    await driver
      .actions()
      .move(at(0.35))
      .press()
      .move({ ...at(0.5), duration: 80 })
      .move({ ...at(0.65), duration: 80 })
      .release()
      .perform()
    await waitForText(driver, 'h1', / from \d+ \w+ to \d+ \w+/)
    await driver.wait(async () => (await driver.getCurrentUrl()).includes('q='), 10_000)
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'))
    await waitForText(driver, 'h1', before.slice(-20))
  })

  test('a note is written from the chart, shown on other studies too, changed, and removed', async () => {
    await go('/studies/rides-each-day')
    const chart = await byCss(driver, '.chart-canvas')
    await chart.sendKeys(Key.ARROW_LEFT, 'a')
    const dialog = await byCss(driver, '[role=dialog]')
    await waitForText(driver, '[role=dialog]', 'A note on the chart')
    expect(await dialog.findElement(By.css('input[type=date]')).getAttribute('value')).toMatch(/^2026-11-/)
    await type('Harbour festival')
    await type(Key.ENTER)
    await waitForText(driver, '.note-list', 'Harbour festival')
    await go('/studies/riders-by-plan')
    await waitForText(driver, '.note-list', 'Harbour festival')
    const chip = async () => driver.findElement(By.xpath('//button[contains(., "Harbour festival")]'))
    await press(driver, chip)
    await click('Remove', 'button')
    await driver.wait(async () => !(await textOf(driver, '.note-list')).includes('Harbour'), 10_000)
  })
})

test.each([
  ['riders-by-plan', 'How many people did Ride completed', '>Day pass<', 4],
  ['coming-back', 'Of people whose first', '>week 5<', 1],
])(
  'the chart of %s is downloaded as SVG: its question, lines and names as shapes and words',
  async (study, title, name, lines) => {
    await go(`/studies/${study}`)
    await byCss(driver, '.chart-canvas canvas')
    await driver.executeScript(`
    window.svg = null
    const make = URL.createObjectURL
    URL.createObjectURL = (blob) => { void blob.text().then((text) => (window.svg = text)); return make.call(URL, blob) }`)
    await click('Download', 'button')
    await click('Chart as SVG', 'li')
    await driver.wait(async () => (await driver.executeScript('return window.svg')) !== null, 10_000)
    const svg = await driver.executeScript<string>('return window.svg')
    expect(svg).toContain(`<title>${title}`)
    expect(svg).toContain(name)
    // A line goes over ten points or more, and is drawn in a colour.
    const long = svg
      .match(/<path[^>]*>/g)!
      .filter((path) => (path.match(/ L /g)?.length ?? 0) >= 10 && !/stroke="none"/.test(path))
    expect(long).toHaveLength(lines)
  },
)

test('a question that is partly wrong marks each place and shows the rest', async () => {
  const question = {
    kind: 'trend',
    series: [
      { event: { names: ['Ride completed'] }, measure: 'median', name: 'x' },
      { event: { names: ['Ride finished'] }, measure: 'people', name: 'x' },
    ],
    formulas: [{ formula: '(x / y', unit: 'number' }],
    every: 'week',
    range: { from: '2026-11-01', to: '2026-10-01' },
    breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 500 }],
    show: { form: 'lines', as: 'number' },
  }
  await go(`/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`)
  const faults = await waitForText(driver, '.faults', 'Formula')
  for (const part of ['median', 'Ride finished', 'called “x”', 'parenthesis', 'first day', 'For each'])
    expect(faults).toContain(part)
  expect((await driver.findElements(By.css('.token.faulty'))).length).toBeGreaterThan(3)
})

test('what is sound of a question is answered beside what is marked, and edited without losing it', async () => {
  const question = {
    kind: 'trend',
    series: [{ event: { names: ['Ride completed'] }, measure: 'people', name: 'riders' }],
    formulas: [{ formula: 'riders / visitors', unit: 'percent' }],
    every: 'week',
    range: { from: '2026-10-05', to: '2026-11-01' },
    breakdowns: [{ by: { of: 'segments', sides: [{ segment: 'longgone' }] }, keep: 10 }],
    show: { form: 'lines', as: 'number' },
  }
  await go(`/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`)
  expect(await waitForText(driver, '.faults', 'visitors')).toContain('longgone')
  await waitForText(driver, '.part-answer', 'without what is marked')
  expect(await (await byCss(driver, '[aria-label="The numbers"]')).getText()).toMatch(/Ride completed|riders/)
  await (await byText(driver, 'Bars', 'button')).click()
  await driver.wait(until.urlContains('bars'), 10_000)
  const kept = JSON.parse(new URL(await driver.getCurrentUrl()).searchParams.get('q')!) as typeof question
  expect(kept).toEqual({ ...question, show: { ...question.show, form: 'bars' } })
})

test('edits of the demo’s studies answer in this time (told, not asserted)', async () => {
  await go('/studies/riders-by-plan')
  await waitForText(driver, '.numbers', 'All together')
  // Measured in the page: from the key to the first moment at which the table has other columns.
  await driver.executeScript(`
    window.answered = []
    const columns = () => document.querySelectorAll('.numbers thead th').length
    let start = 0, before = columns()
    addEventListener('keydown', (event) => { if (event.key === 'Enter') { start = performance.now(); before = columns() } }, true)
    new MutationObserver(() => {
      if (start === 0 || columns() === before) return
      window.answered.push(performance.now() - start)
      start = 0
    }).observe(document.body, { subtree: true, childList: true })`)
  const units = ['each day', 'each month', 'each week']
  for (let i = 0; i < 12; i++) {
    await press(driver, () => byCss(driver, '[data-token=every]'))
    await choose(units[i % 3])
    await driver.wait(async () => (await driver.executeScript<number>('return window.answered.length')) > i, 10_000)
  }
  const times = (await driver.executeScript<number[]>('return window.answered')).sort((a, b) => a - b)
  process.stdout.write(`Edits answered: median ${times[6].toFixed(0)} ms, 95th percentile ${times[11].toFixed(0)} ms\n`)
  expect(times).toHaveLength(12)
})
