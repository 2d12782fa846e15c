import { By, Key, Origin, type WebDriver } from 'selenium-webdriver'
import type chrome from 'selenium-webdriver/chrome.js'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { FunnelQuestion } from '../../core/analyses/funnel/question.js'
import { byCss, byText, press, textOf, textsOf, waitForText } from './driver.js'
import type { TestServer } from './server.js'
import { demoSession } from './session.js'

let server: TestServer
let driver: WebDriver
const go = demoSession(1500, (session) => ({ driver, server } = session))
const heading = () => textOf(driver, 'h1')
const stepNames = async () => textsOf(driver, '.step-name .token')
const waitForSteps = (names: string[]) =>
  driver.wait(
    async () => JSON.stringify(await stepNames()) === JSON.stringify(names),
    10_000,
    `the steps never were ${names.join(', ')}`,
  )

describe('the steps of a funnel', () => {
  const steps = ['Signed up', 'App opened', 'Dock chosen', 'Card added', 'Ride completed']
  beforeEach(() => go('/studies/first-ride'))

  test('are moved with Alt and the arrows, removed, and come back by undo', async () => {
    const first = await driver.findElement(By.css('.step-name .token'))
    await first.sendKeys(Key.chord(Key.ALT, Key.ARROW_DOWN))
    await waitForSteps(['App opened', 'Signed up', ...steps.slice(2)])
    await driver.findElement(By.css('[aria-label^="Remove step 1"]')).click()
    await waitForSteps(['Signed up', ...steps.slice(2)])
    await driver.findElement(By.css('[aria-label=Undo]')).click()
    await waitForSteps(['App opened', 'Signed up', ...steps.slice(2)])
  })

  const focused = () =>
    driver.executeScript(
      'const at = document.activeElement; return at.getAttribute("aria-label") ?? at.textContent',
    ) as Promise<string>
  const waitForFocus = (pattern: RegExp) =>
    driver.wait(async () => pattern.test(await focused()), 10_000, `the focus never stood on ${String(pattern)}`)

  test('leave the focus where it was: on the next step, on the next addition', async () => {
    await (await byCss(driver, '[aria-label^="Remove step 2"]')).sendKeys(Key.ENTER)
    await waitForSteps(['Signed up', ...steps.slice(2)])
    await waitForFocus(/^Remove step 2, Dock chosen/)
    await (await byText(driver, '+ for each…', 'button')).sendKeys(Key.ENTER)
    const field = await byCss(driver, '.option-search')
    await field.sendKeys('plan')
    await waitForText(driver, '.option[data-selected=true]', 'Plan')
    await field.sendKeys(Key.ENTER)
    await waitForText(driver, 'h1', /for each Plan/)
    await (await driver.switchTo().activeElement()).sendKeys(Key.ESCAPE)
    await waitForFocus(/and each/)
  })

  test('become a study of another kind about the same events, and the way back is the browser’s', async () => {
    await press(driver, () => byText(driver, 'as another kind…', 'button'))
    await driver.wait(async () => (await textsOf(driver, '.option')).length > 5, 10_000, 'no kinds are offered')
    await press(driver, () => byText(driver, 'Retention', '*'))
    await waitForText(driver, 'h1', /first ever Signed up.*1 Aug to 31 Oct.*Ride completed/)
    await driver.navigate().back()
    await waitForSteps(steps)
  })

  test('are dragged with the mouse', async () => {
    const handles = await driver.findElements(By.css('.step-number'))
    const from = await handles[0].getRect()
    const to = await handles[2].getRect()
    const moves = driver
      .actions()
      .move({ x: Math.round(from.x + 13), y: Math.round(from.y + 13), origin: Origin.VIEWPORT })
      .press()
    for (let i = 1; i <= 6; i++)
      moves.move({
        x: Math.round(from.x + 13),
        y: Math.round(from.y + 13 + ((to.y - from.y + 8) * i) / 6),
        origin: Origin.VIEWPORT,
        duration: 50,
      })
    await moves.pause(200).release().perform()
    await waitForSteps(['App opened', 'Dock chosen', 'Signed up', 'Card added', 'Ride completed'])
  })

  test('are added by typing a name, and get a condition', async () => {
    await press(driver, () => byText(driver, '+ step', 'button'))
    const field = await byCss(driver, '.option-search')
    await field.sendKeys('rated')
    await waitForText(driver, '.option[data-selected=true]', 'Ride rated')
    await field.sendKeys(Key.ENTER)
    await waitForSteps([...steps, 'Ride rated'])
    const where = await driver.findElements(By.xpath('//*[@class="step-more"]/button[normalize-space(.)="+ where"]'))
    await driver.executeScript('arguments[0].focus(); arguments[0].click()', where.at(-1))
    const search = await byCss(driver, '.option-search')
    await search.sendKeys('stars')
    await waitForText(driver, '.option[data-selected=true]', 'Stars')
    await search.sendKeys(Key.ENTER)
    const number = await byCss(driver, '[aria-label=Number]')
    await number.sendKeys(Key.chord(Key.CONTROL, 'a'), '5')
    await waitForText(driver, '.quiet-token', 'where Stars = 5')
  })
})

test('a condition is part of the question from its first value on', async () => {
  await go('/studies/riders-now')
  await press(driver, () => byText(driver, '+ only where…', 'button'))
  const search = await byCss(driver, '.option-search')
  await search.sendKeys('bike type')
  await waitForText(driver, '.option[data-selected=true]', 'Bike type')
  await search.sendKeys(Key.ENTER)
  const values = await byCss(driver, '[aria-label=Values]')
  expect(await heading()).not.toContain('where')
  await waitForText(driver, '[role=listbox]', 'electric')
  await values.sendKeys('elec')
  // The value that is highlighted is taken, and not what is half typed, which stands last.
  await waitForText(driver, '[role=listbox]', /electric[^]*elec[^]*not seen so far/)
  await values.sendKeys(Key.ENTER)
  await waitForText(driver, 'h1', 'where Bike type is electric')
})

describe('selecting', () => {
  test('a cell of the table by keyboard raises the tray with the same number, and Esc lets it go', async () => {
    await go('/studies/riders-by-plan')
    await driver.findElement(By.css('body')).sendKeys('t')
    await driver.wait(async () => (await driver.switchTo().activeElement().getAttribute('data-cell')) !== null, 5000)
    await driver.switchTo().activeElement().sendKeys(Key.ARROW_DOWN)
    await driver.switchTo().activeElement().sendKeys(Key.ARROW_RIGHT)
    const figure = await textOf(driver, '[data-cell]:focus')
    await driver.switchTo().activeElement().sendKeys(Key.ENTER)
    await waitForText(driver, '.tray', `${figure} people`)
    await driver.switchTo().activeElement().sendKeys(Key.ESCAPE)
    await driver.wait(async () => (await driver.findElements(By.css('.tray'))).length === 0, 5000)
  })

  test('a point of the chart by keyboard is read out and selected', async () => {
    await go('/studies/riders-by-plan')
    const chart = await byCss(driver, '.chart-canvas')
    await chart.sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT)
    const said = await waitForText(driver, '.chart-canvas [aria-live]', /, \d+ \w+: [\d,]+$/)
    await chart.sendKeys(Key.ENTER)
    await waitForText(driver, '.tray', `${said.split(': ')[1]} people`)
  })
})

describe('a definition in the address', () => {
  const funnel: FunnelQuestion = {
    kind: 'funnel',
    steps: [{ event: { names: ['App opened'] } }, { event: { names: ['Ride completd'] } }],
    window: { count: 7, unit: 'day' },
    range: { last: 8, unit: 'week' },
  }
  const address = (definition: unknown) =>
    `/studies/new?${new URLSearchParams({ q: JSON.stringify(definition) }).toString()}`

  test('with an unknown event says which, offers the nearest, and keeps the rest', async () => {
    await go(address(funnel))
    await waitForText(driver, '.faults', 'No event “Ride completd” has ever arrived. Did you mean “Ride completed”?')
    expect(await heading()).toContain('within 7 days')
    await waitForSteps(['App opened', 'Ride completd'])
  })

  test('with a part that cannot be read marks it and shows the result of the rest', async () => {
    await go(address({ ...funnel, steps: [funnel.steps[0]], window: { count: -3, unit: 'day' } }))
    await waitForText(driver, '.faults', 'Within: ')
    expect(await textOf(driver, '.token.faulty')).toBe('7 days')
    await waitForText(driver, '.funnel', 'App opened')
  })

  test('that is no JSON at all shows the usual question', async () => {
    await go('/studies/new?q=%7Bnope')
    await waitForText(driver, '.faults', 'could not be read')
  })
})

describe('on a slow line, where the address follows late', () => {
  const chromium = () => driver as chrome.Driver
  const address = async (name: string) => new URL(await driver.getCurrentUrl()).searchParams.get(name)
  const beSlow = () =>
    chromium().setNetworkConditions({ offline: false, latency: 900, download_throughput: -1, upload_throughput: -1 })
  afterEach(() => chromium().deleteNetworkConditions())

  test('a row that is pressed while its search is still on the way is opened, and the search stays', async () => {
    await go('/catalog')
    await beSlow()
    const search = await byCss(driver, '[aria-label="Search events"]')
    await search.sendKeys('refused')
    await waitForText(driver, 'tbody .name-link', 'Card refused')
    await press(driver, () => byCss(driver, 'tbody .name-link'))
    await waitForText(driver, '.panel', 'Card refused')
    await driver.wait(async () => (await address('search')) === 'refused', 10_000, 'the search was lost')
    expect(await address('event')).toBe('Card refused')
  })

  test('a line is taken out of the chart while another edit is on the way, and both hold', async () => {
    await go('/studies/riders-by-plan')
    await beSlow()
    await press(driver, () => byText(driver, 'each week', 'button'))
    await press(driver, () => byText(driver, 'each month'))
    await waitForText(driver, 'h1', 'each month')
    await driver.executeScript(`document.querySelector('.numbers .swatch').click()`)
    await driver.wait(async () => (await driver.findElements(By.css('.numbers tr.off'))).length === 1, 10_000)
    await driver.wait(async () => (await address('q'))?.includes('"off"'), 10_000, 'it was put back')
    expect(JSON.parse((await address('q'))!)).toMatchObject({ every: 'month' })
    await waitForText(driver, 'h1', 'each month')
  })
})

test('a dashboard is edited: a card moved from the keyboard, a note written, a card removed and brought back', async () => {
  await go('/dashboards/onboarding?edit=1')
  const cards = () => driver.findElements(By.css('.react-grid-item .card-head, .react-grid-item .note-text'))
  await driver.wait(async () => (await cards()).length === 7, 10_000)
  await press(driver, () => byCss(driver, '[aria-label="Change the card First ride funnel"]'))
  await press(driver, () => byText(driver, 'Narrower', 'li'))
  await driver.wait(
    async () => {
      const response = (await driver.executeScript(
        `return fetch('/dashboards/onboarding').then((r) => r.text())`,
      )) as string
      return response.includes('grid-column:1 / span 6')
    },
    10_000,
    'never narrower',
  )
  await press(driver, () => byText(driver, 'Add a note', 'button'))
  const editor = await byCss(driver, '.tiptap')
  await editor.sendKeys('Watch ', Key.chord(Key.CONTROL, 'b'), 'this')
  await press(driver, () => byText(driver, 'Keep the note', 'button'))
  await driver.wait(async () => (await cards()).length === 8, 10_000, 'not eight cards')
  expect(await (await byText(driver, 'this', 'span')).findElement(By.xpath('..')).getTagName()).toBe('strong')
  await press(driver, () => byCss(driver, '[aria-label="Change the card Cards refused by reason"]'))
  await press(driver, () => byText(driver, 'Remove from the dashboard', 'li'))
  await driver.wait(async () => (await cards()).length === 7, 10_000, 'not seven cards')
  await press(driver, () => byText(driver, 'Undo', 'button'))
  await driver.wait(async () => (await cards()).length === 8, 10_000, 'not eight cards')
})

test.each(['riders-by-plan', 'first-ride'])('%s is taken out as a picture, a table and a definition', async (id) => {
  await go(`/studies/${id}`)
  await driver.executeScript(`
    window.taken = null
    HTMLAnchorElement.prototype.click = function () { window.taken = [this.download, this.href] }
  `)
  await press(driver, () => byText(driver, 'Download', 'button'))
  const links = await Promise.all(
    ['Table as CSV', 'Study as JSON'].map(async (text) => (await byText(driver, text, 'a')).getAttribute('href')),
  )
  const [csv, json] = (await driver.executeAsyncScript(
    `const done = arguments[1]; Promise.all(arguments[0].map((href) => fetch(href).then((r) => r.text()))).then(done)`,
    links,
  )) as string[]
  expect(csv.split('\n')[0]).toMatch(id === 'first-ride' ? /^Step,Event,People/ : /^Plan,Whole time,/)
  expect(JSON.parse(json)).toMatchObject({ faults: [], result: { kind: id === 'first-ride' ? 'funnel' : 'trend' } })
  await press(driver, () => byText(driver, 'Chart as PNG', 'li'))
  const [name, href] = (await driver.wait(() => driver.executeScript('return window.taken'), 20_000)) as [
    string,
    string,
  ]
  expect(name).toMatch(/\.png$/)
  expect(href.slice(0, 22)).toBe('data:image/png;base64,')
  expect(href.length).toBeGreaterThan(20_000)
})

test('the range of a dashboard holds for all its cards', async () => {
  await go('/dashboards/onboarding')
  await press(driver, () => byText(driver, 'Each card its own time ▾', 'button'))
  await press(driver, () => byText(driver, '26 weeks', 'button'))
  await driver.wait(async () => {
    const heads = await textsOf(driver, '.card-head')
    return heads.length === 6 && heads.every((head) => /(?:over|of) the last 26 weeks/.test(head))
  }, 10_000)
})

test('the question field answers from the keyboard', async () => {
  await go('/studies')
  await driver.findElement(By.css('body')).sendKeys('/')
  await driver.switchTo().activeElement().sendKeys('docks each day by platform')
  await waitForText(driver, '[role=listbox]', 'How many people did')
  await driver.switchTo().activeElement().sendKeys(Key.ENTER)
  await waitForText(driver, 'h1', 'each day')
})

test('the first day of the week changes the weeks of every study', async () => {
  await go('/studies/riders-now')
  await waitForText(driver, '.numbers', '9 Nov')
  const firstDay = async (value: string) => {
    await go('/workspace')
    await press(driver, () => byCss(driver, '[role=combobox][aria-labelledby]'))
    await press(driver, () => byText(driver, value, 'li'))
    await press(driver, () => byText(driver, 'Save', 'button'))
    await waitForText(driver, 'main', 'Saved.')
  }
  await firstDay('Sunday')
  await go('/studies/riders-now')
  await waitForText(driver, '.numbers', '8 Nov')
  await firstDay('Monday')
})

test('a key is made, shown once, and sends an event that the next answer counts', async () => {
  await go('/keys')
  const name = await byCss(driver, 'input[name=name]')
  await name.sendKeys('a program', Key.ENTER)
  const key = await waitForText(driver, '[data-key]', 'dw_write_')
  const response = await fetch(`${server.base}/api/v1/events`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}` },
    body: JSON.stringify({ person: 'rider-00001', event: 'Balloon seen' }),
  })
  expect(await response.json()).toMatchObject({ accepted: 1 })
  await driver.wait(async () => {
    await go(
      '/studies/new?q=' +
        encodeURIComponent(
          JSON.stringify({
            kind: 'trend',
            series: [{ event: { names: ['Balloon seen'] }, measure: 'people' }],
            every: 'day',
            range: { last: 2, unit: 'day' },
          }),
        ),
    )
    return (await driver.findElements(By.css('.faults'))).length === 0
  }, 5000)
  expect(await textOf(driver, '.numbers tbody .number')).toBe('1')
})
