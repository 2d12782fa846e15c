import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { parquetWriteBuffer } from 'hyparquet-writer'
import { By, Key, type WebDriver } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest'
import { byCss, byText, consoleFaults, openBrowser, press, ready, textOf, textsOf, waitForText } from './driver.js'
import { startServer, type TestServer } from './server.js'

let server: TestServer
let driver: WebDriver
let files: string
beforeAll(async () => {
  files = mkdtempSync(path.join(tmpdir(), 'dowser-files-'))
  server = await startServer({ demo: 1500 })
  driver = await openBrowser()
})
afterAll(async () => {
  await driver.quit()
  await server.stop()
  rmSync(files, { recursive: true, force: true })
})
afterEach(async () => expect(await consoleFaults(driver)).toEqual([]))

async function go(place: string): Promise<void> {
  await driver.get(server.base + place)
  await ready(driver)
}
const problems = async () => (await textsOf(driver, '.problem-words')).map((words) => words.replace(/\s+/g, ' '))
const waitForProblems = (holds: (found: string[]) => boolean, what: string) =>
  driver.wait(async () => holds(await problems()), 10_000, what)
/** Opens a problem, or the events set aside, by its words. */
async function openProblem(words: string): Promise<void> {
  await press(driver, async () => {
    const heads = await textsOf(driver, '.problem-head')
    const at = heads.findIndex((head) => head.replace(/\s+/g, ' ').includes(words))
    const head = (await driver.findElements(By.css('.problem-head')))[at]
    if (!head) throw new Error(`stale: no problem says ${words}`)
    return head
  })
  await byCss(driver, '.problem-body .remedies')
}
const total = async (event: string): Promise<number> => {
  const question = {
    kind: 'trend',
    series: [{ event: { names: [event] }, measure: 'events' }],
    every: 'month',
    range: { from: '2026-01-01' },
    show: { form: 'figure', as: 'number' },
  }
  await go(`/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`)
  const text = await textOf(driver, '.numbers tbody tr:last-child td:last-child')
  return Number(text.replace(/\D/g, ''))
}

describe('the mess in the data, found in the quality view and mended step by step', () => {
  test('an old name that phones still send counts with the right one', async () => {
    const [before, old] = [await total('Ride completed'), await total('ride_done_old')]
    expect(old).toBeGreaterThan(0)
    await go('/catalog/quality')
    expect(await problems()).toContain('ride_done_old The plan does not know this event')
    await openProblem('ride_done_old')
    // The right name is proposed: it carries the same properties.
    const field = await byCss(driver, '.remedies .merge-field input')
    expect(await field.getAttribute('value')).toBe('Ride completed')
    await press(driver, () => byText(driver, 'Merge', 'button'))
    await waitForProblems(
      (found) => !found.includes('ride_done_old The plan does not know this event'),
      'still unknown',
    )
    expect(await total('Ride completed')).toBe(before + old)
  })

  test('now that it is judged as a ride, its misspelt property shows, and is mapped to the right one', async () => {
    await go('/catalog/quality')
    await openProblem('The plan does not know the property bikeType')
    const field = await byCss(driver, '.remedies .merge-field input')
    expect(await field.getAttribute('value')).toBe('bike_type')
    await press(driver, () => byText(driver, 'Merge', 'button'))
    await waitForProblems((found) => !found.some((each) => each.includes('bikeType')), 'bikeType still unknown')
    await openProblem('The plan does not know the property Bike type')
    await press(driver, () => byText(driver, 'Merge', 'button'))
    await waitForProblems(
      (found) => !found.some((each) => each.startsWith('ride_done_old')),
      'the old rides still do not fit',
    )
  })

  test('events that nobody planned are set aside, and can be let in again', async () => {
    await go('/catalog/quality')
    await openProblem('qr_debug')
    expect(await textOf(driver, '.remedies button.MuiButton-colorError')).toMatch(/^Set \d+ events aside$/)
    await press(driver, () => byCss(driver, '.remedies button.MuiButton-colorError'))
    await waitForText(driver, '.aside-head + section', 'qr_debug')
    await openProblem('qr_debug')
    await press(driver, () => byText(driver, 'Let them in', 'button'))
    await waitForText(driver, '.MuiSnackbar-root', /\d+ events are let in/)
    await waitForProblems((found) => found.includes('qr_debug The plan does not know this event'), 'not let in')
  })

  test('numbers that came as text are allowed, and that is undone by a press', async () => {
    await go('/catalog/quality')
    const words = 'Help asked wait_seconds is of another type than planned'
    await openProblem(words)
    await press(driver, () => byText(driver, 'Let wait_seconds be of any type', 'button'))
    await waitForProblems((found) => !found.includes(words), 'still complained of')
    await press(driver, () => byText(driver, 'Undo', 'button'))
    await waitForProblems((found) => found.includes(words), 'not undone')
  })

  test('events from clocks years ahead are let in with the time they were received', async () => {
    await go('/catalog/quality')
    await openProblem('Sent with a clock more than a day ahead')
    await press(driver, () => byText(driver, 'Let them in with the time they were received', 'button'))
    await waitForText(driver, '.MuiSnackbar-root', /\d+ events are let in/)
    await waitForText(driver, '.aside-head + section', /^Nothing\./)
  })

  test('a property without a meaning is found and described where it stands', async () => {
    await go('/catalog/properties?only=no+description&search=lock_batt')
    await press(driver, () => byCss(driver, '[aria-label^="Meaning of lock_batt"]'))
    await driver.switchTo().activeElement().sendKeys('Charge of the lock, in percent', Key.ENTER)
    await waitForText(driver, '.MuiSnackbar-root', '“lock_batt” is changed.')
    await go('/catalog/properties?search=lock_batt')
    expect(await textOf(driver, 'tbody tr')).toContain('Charge of the lock')
  })
})

describe('the catalog', () => {
  test('is searched, sorted, and opens a row beside the table; the state is in the address', async () => {
    await go('/catalog')
    await press(driver, () => byText(driver, 'Event', 'button'))
    const names = async () => textsOf(driver, 'tbody .name-link')
    await driver.wait(async () => (await names())[0] === 'Ad clicked', 10_000, 'never sorted by name')
    await driver.findElement(By.css('[aria-label="Search events"]')).sendKeys('refused')
    await driver.wait(async () => JSON.stringify(await names()) === '["Card refused"]', 10_000, 'never found')
    await press(driver, () => byCss(driver, 'tbody .name-link'))
    expect(await waitForText(driver, '.panel', /Used in/i)).toMatch(/Cards refused by reason/)
    await driver.navigate().refresh()
    await waitForText(driver, '.panel', 'Card refused')
  })

  test('several events get an owner at once', async () => {
    await go('/catalog?search=pass')
    for (const name of ['Pass bought', 'Pass renewed'])
      await press(driver, () => byCss(driver, `[aria-label="Choose ${name}"]`))
    await press(driver, () => byCss(driver, '[aria-label^="Owner of the chosen"]'))
    await driver.switchTo().activeElement().sendKeys('Till team', Key.ENTER)
    await waitForText(driver, '.MuiSnackbar-root', '2 events are changed.')
    const owned = By.xpath(`//tbody/tr[contains(., 'Till team')]`)
    await driver.wait(async () => (await driver.findElements(owned)).length === 2, 10_000, 'not both are owned')
  })

  test('a display name is what sentences say', async () => {
    await go('/catalog/events/Screen%20froze')
    await press(driver, () => byCss(driver, '[aria-label^="Display name"]'))
    await driver.switchTo().activeElement().sendKeys('App hung', Key.ENTER)
    await waitForText(driver, 'h1', 'App hung')
    await press(driver, () => byText(driver, 'Ask about it', 'a'))
    await waitForText(driver, 'h1', 'App hung each')
  })
})

describe('what is made here', () => {
  test('a formula shows its fault where it is, its preview as one types, and is kept', async () => {
    await go('/catalog/derived')
    await driver.findElement(By.css('main input')).sendKeys('fare_per_minute')
    const formula = await byCss(driver, '.formula input')
    await formula.sendKeys('fare / minuts')
    expect(await waitForText(driver, '.caution', 'minuts')).toContain('Did you mean “minutes”')
    await formula.sendKeys(Key.BACK_SPACE, 'es /')
    await waitForText(driver, '.formula-fault', 'ends too early')
    await formula.sendKeys(Key.BACK_SPACE, Key.BACK_SPACE)
    await waitForText(driver, '.editor-body', /events, of the kinds that carry any of what it reads, get a value/)
    await press(driver, () => byText(driver, 'Keep it', 'button'))
    await waitForText(driver, '.made-lists', 'fare_per_minute')
  })

  test('channel rules are reordered by keyboard, a row that can never match is named, and breakdowns take them', async () => {
    await go('/catalog/derived?of=event&name=Channel')
    await waitForText(driver, '.rules', '1\n')
    const second = await driver.findElement(By.css('.rules > li:nth-child(2) .rule-where'))
    await second.sendKeys(Key.chord(Key.ALT, Key.ARROW_UP))
    // Paid advertising catches all of Harbour News once it stands above it.
    await waitForText(driver, '.rules > li:nth-child(1)', 'Utm medium is paid')
    await waitForText(driver, '.rules > li:nth-child(2)', /Utm source is harbour-news/)
    await waitForText(driver, '.rules > li:nth-child(2)', 'It catches nothing so far.')
    // What is left to the fallback stands beside an event that can be tried.
    await waitForText(driver, '.rule-tools', /Opened from\s+icon/)
    await waitForText(driver, '.rule-tools', 'No row catches it: Direct.')
    await driver.findElement(By.xpath("//label[text()='Source']/following::input")).sendKeys('mailing')
    await waitForText(driver, '.rule-tools', 'Row 5 catches it: Mailing.')
    await press(driver, () => byText(driver, 'Keep the changes', 'button'))
    await press(driver, () => byText(driver, 'People by channel', 'a'))
    await waitForText(driver, '[data-table]', 'Other advertising')
    expect(await textOf(driver, '[data-table]')).not.toContain('Harbour News')
  })

  test('each person’s first channel is a property of theirs', async () => {
    await go('/catalog/derived?kind=touch')
    await waitForText(driver, '.editor-body', 'Once it can be worked out')
    await (await byCss(driver, 'main input')).sendKeys('First channel')
    await press(driver, () => byText(driver, 'Choose a property ▾', 'button'))
    await press(driver, () =>
      // An event carries a property of the same label.
      driver.findElement(
        By.xpath(
          "//*[@cmdk-group][.//*[@cmdk-group-heading and .='Made here']]//*[contains(@class,'option-label') and .='Channel']",
        ),
      ),
    )
    await waitForText(driver, '.editor-body', /people get a value/)
    await waitForText(driver, '.editor-body', 'none of their events carries it')
    await press(driver, () => byText(driver, 'Keep it', 'button'))
    await waitForText(driver, '.made-lists', 'the first Channel of the person’s events')
    const question = {
      ...{ kind: 'trend', series: [{ event: { names: ['Ride completed'] }, measure: 'people' }], every: 'week' },
      ...{ range: { last: 4, unit: 'week' }, show: { form: 'lines', as: 'number' } },
      breakdowns: [{ by: { of: 'person', name: 'First channel' }, keep: 10 }],
    }
    await go(`/studies/new?q=${encodeURIComponent(JSON.stringify(question))}`)
    expect(await waitForText(driver, '[data-table]', 'Search')).not.toContain('Direct')
  })
})

describe('bringing data in', () => {
  test('a Parquet table of things becomes events, with names that can be changed', async () => {
    const file = path.join(files, 'subscriptions.parquet')
    const columnData = [
      { name: 'subscription_id', data: ['s1', 's2'], type: 'STRING' as const },
      { name: 'customer', data: ['rider-00001', 'rider-00002'], type: 'STRING' as const },
      { name: 'started_at', data: [new Date('2026-05-01'), new Date('2026-06-01')], type: 'TIMESTAMP' as const },
      { name: 'price', data: [29, 9], type: 'DOUBLE' as const },
    ]
    writeFileSync(file, Buffer.from(parquetWriteBuffer({ columnData })))
    await go('/import')
    await (await byCss(driver, '[data-file]')).sendKeys(file)
    await waitForText(driver, 'main', 'Say in a word what each row is')
    await driver.findElement(By.css('[placeholder=order]')).sendKeys('subscription')
    const name = await byCss(driver, '[aria-label="Event of started_at"]')
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Subscription started')
    await press(driver, () => byText(driver, 'Import', 'button'))
    await waitForText(driver, 'main', /2 .*taken/)
    await go('/people/known/rider-00001')
    expect(await textOf(driver, '.sessions')).toContain('Subscription started')
  })

  test('a file of wrong days is looked through, read otherwise, taken, taken back, and brought back', async () => {
    const file = path.join(files, 'days.csv')
    const lines = Array.from({ length: 20 }, (_, n) => `visitor-${n},Shop visited,${n + 5}/10/2025`)
    writeFileSync(file, `person,event,time\n${lines.join('\n')}\n`)
    await go('/import')
    await (await byCss(driver, '[data-file]')).sendKeys(file)
    const reading = await byCss(driver, '.import-preview tbody tr:nth-child(3) select')
    await reading.sendKeys('time, month first')
    await press(driver, () => byText(driver, 'Import', 'button'))
    await waitForText(driver, 'h1', 'Look at this first')
    expect(await textOf(driver, 'main')).toMatch(/12 lines of 20 could not be taken[^]*Nothing has been written yet/)
    await press(driver, () => byText(driver, 'Read “time” as time, day first: 8/10/2026', 'button'))
    await waitForText(driver, '[data-import-result=done]', '20 events taken')
    await press(driver, () => byText(driver, 'Take it back …', 'button'))
    await waitForText(driver, '[data-take-look]', /20 events of 20 people.*will no longer be counted/)
    await press(driver, () => byText(driver, 'Take it back', 'button'))
    await waitForText(driver, 'main', /What days\.csv brought[^]*can be brought back until/)
    await press(driver, () => byText(driver, 'Bring it back', 'button'))
    await byText(driver, 'Take it back …', 'button')
    await go('/people/known/visitor-3')
    await waitForText(driver, '.sessions', 'Shop visited')
  })

  test('a test event is sent with a new key and seen arriving', async () => {
    await go('/catalog/sending')
    await press(driver, () => byText(driver, 'Make a write key', 'button'))
    const key = await waitForText(driver, '[data-key]', 'dw_write_')
    expect(await textOf(driver, '.snippet pre')).toContain(key)
    await press(driver, () => byText(driver, 'Send one test event', 'button'))
    await waitForText(driver, '[role=status]', 'It has arrived')
    await press(driver, () => byText(driver, 'Watch it on the Live page', 'a'))
    await waitForText(driver, '.live', 'test, counted nowhere')
  })

  test('the script of this server sends page views and events from a website', async () => {
    const keys = await fetch(`${server.base}/healthz`)
    expect(keys.ok).toBe(true)
    await go('/catalog/sending')
    const known = await waitForText(driver, '[data-key]', 'dw_write_')
    await press(driver, () => byText(driver, 'Make another', 'button'))
    await driver.wait(async () => (await textOf(driver, '[data-key]')) !== known, 10_000, 'no other key was made')
    const key = await textOf(driver, '[data-key]')
    // A tag with a nonce stands for a website's own: this page lets no other script in.
    await driver.executeScript(
      `const tag = document.createElement('script')
       tag.src = '/dowser.js'; tag.dataset.key = arguments[0]; tag.dataset.source = 'shop'
       tag.onload = () => { dowser.track('Basket filled', { items: 3 }); dowser.flush() }
       document.head.append(tag)`,
      key,
    )
    await go('/catalog/live?source=shop')
    const text = await waitForText(driver, '.live', 'Basket filled')
    expect(text).toMatch(/Page viewed[^]*Session started/)
  })

  test('what a key sent in a span of time is taken back from its place among the keys', async () => {
    await go('/keys')
    await driver.findElement(By.css('[name=name]')).sendKeys('Till')
    await press(driver, () => byText(driver, 'Make a key', 'button'))
    const key = await waitForText(driver, '[data-key]', 'dw_write_')
    const sent = await fetch(`${server.base}/api/v1/events`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      body: JSON.stringify({ person: 'till-1', event: 'Sold twice' }),
    })
    expect(sent.status).toBe(200)
    await go('/keys')
    await press(driver, () => byCss(driver, '[aria-label="Take back what Till sent"]'))
    await waitForText(driver, '[data-take-look]', '1 event of 1 person')
    await press(driver, () => byText(driver, 'Take it back', 'button'))
    await waitForText(driver, '.MuiSnackbar-root', '1 event is taken back.')
    await go('/catalog/quality')
    await waitForText(driver, 'main', 'What Till sent in a span of time')
  })

  test('the simulator is switched on, and off', async () => {
    await go('/catalog/live')
    await press(driver, () => byCss(driver, '.simulator input[type=checkbox]'))
    await waitForText(driver, '.live', '"5.4.0"')
    await press(driver, () => byCss(driver, '.simulator input[type=checkbox]'))
    await driver.wait(
      async () => !(await driver.findElement(By.css('.simulator input[type=checkbox]')).isSelected()),
      10_000,
      'never switched off',
    )
  })
})

test('a wrongly merged id is taken out of its person, and put back', async () => {
  await go('/people/known/rider-00012')
  const ids = async () => (await driver.findElements(By.css('.ids > li'))).length
  expect(await ids()).toBe(2)
  await press(driver, () => byText(driver, 'Not the same person', 'button'))
  await driver.wait(async () => (await ids()) === 1, 10_000, 'never taken apart')
  await press(driver, () => byText(driver, 'Merge again', 'button'))
  await driver.wait(async () => (await ids()) === 2, 10_000, 'never put back')
})
