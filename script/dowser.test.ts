import { beforeEach, describe, expect, test } from 'vitest'
import { createSender, type Surroundings } from './dowser.js'

const settings = { address: 'https://d.example', key: 'k', source: 'website', pages: true }

/** A browser of the test's own: its storage, its clock, and a server that answers as it is told. */
class Browser {
  clock = 1_000_000
  url = 'https://shop.example/a?utm_source=news&utm_campaign=spring+sale#x'
  answers: (number | 'lost')[] = []
  readonly requests: { address: string; items: Record<string, unknown>[]; leaving: boolean }[] = []
  readonly storage = new Map<string, string>()
  private count = 0
  private timers: { at: number; work: () => void }[] = []

  around: Surroundings = {
    now: () => this.clock,
    newId: () => `id${this.count++}`,
    load: (key) => this.storage.get(key) ?? null,
    save: (key, value) => void this.storage.set(key, value),
    forget: (key) => void this.storage.delete(key),
    send: (address, body, _key, leaving) => {
      const items = JSON.parse(body) as Record<string, unknown>[]
      this.requests.push({ address, items, leaving })
      const answer = this.answers.shift() ?? 200
      return answer === 'lost' ? Promise.reject(new Error('no network')) : Promise.resolve(answer)
    },
    later: (work, ms) => void this.timers.push({ at: this.clock + ms, work }),
    page: () => ({ url: this.url, title: 'A page', referrer: 'https://findit.example/' }),
  }

  async pass(ms: number): Promise<void> {
    this.clock += ms
    const due = this.timers.filter(({ at }) => at <= this.clock)
    this.timers = this.timers.filter(({ at }) => at > this.clock)
    for (const { work } of due) work()
    for (let i = 0; i < 5; i++) await Promise.resolve()
  }
  get events() {
    return this.requests.flatMap(({ items }) => items)
  }
  names = () => this.events.map(({ event }) => event)
}

let browser: Browser
beforeEach(() => (browser = new Browser()))
const sender = () => createSender(settings, browser.around)

describe('what is sent', () => {
  test('goes in batches, each event with its own id, the browser’s id and the source', async () => {
    const dowser = sender()
    dowser.track('A', { n: 1 })
    dowser.track('B')
    expect(browser.requests).toEqual([])
    await browser.pass(2000)
    expect(browser.requests).toHaveLength(1)
    expect(browser.names()).toEqual(['Session started', 'A', 'B'])
    const ids = new Set(browser.events.map(({ id }) => id))
    expect(ids.size).toBe(3)
    expect(new Set(browser.events.map(({ anonymous }) => anonymous)).size).toBe(1)
    expect(browser.events[1]).toMatchObject({ event: 'A', source: 'website', time: 1_000_000, properties: { n: 1 } })
  })

  test('page views carry the path, the referrer and the campaign tags; later pages those of the session', async () => {
    const dowser = sender()
    dowser.page()
    browser.url = 'https://shop.example/b'
    dowser.page()
    await browser.pass(2000)
    const [, first, second] = browser.events
    const tags = { utm_source: 'news', utm_campaign: 'spring sale' }
    expect(first.properties).toEqual({ page: '/a', title: 'A page', referrer: 'https://findit.example/', ...tags })
    expect(second.properties).toMatchObject({ page: '/b', ...tags })
  })

  test('a session begins again after more than half an hour of nothing, not at half an hour', async () => {
    const dowser = sender()
    dowser.track('A')
    await browser.pass(30 * 60_000)
    dowser.track('B')
    await browser.pass(30 * 60_000 + 1)
    dowser.track('C')
    await browser.pass(2000)
    expect(browser.names()).toEqual(['Session started', 'A', 'B', 'Session started', 'C'])
  })

  test('who it is goes with every later event, and profiles to their own address', async () => {
    const dowser = sender()
    dowser.identify('ada', { plan: 'Monthly' })
    await browser.pass(2000)
    expect(browser.requests[0]).toMatchObject({ address: 'https://d.example/api/v1/people' })
    expect(browser.events.find(({ event }) => event === 'Identified')).toMatchObject({ person: 'ada' })
    dowser.reset()
    dowser.track('B')
    await browser.pass(2000)
    const last = browser.events.at(-1)!
    expect(last).not.toHaveProperty('person')
    expect(last.anonymous).not.toBe(browser.events.find(({ event }) => event === 'Identified')!.anonymous)
  })
})

describe('what cannot be sent', () => {
  test('is sent again with the same ids, later and later', async () => {
    browser.answers = ['lost', 503, 200]
    const dowser = sender()
    dowser.track('A')
    await browser.pass(2000)
    await browser.pass(2000)
    await browser.pass(4000)
    expect(browser.requests.map(({ items }) => items.map(({ id }) => id))).toEqual(
      Array(3).fill(browser.requests[0].items.map(({ id }) => id)),
    )
    await browser.pass(60_000)
    expect(browser.requests).toHaveLength(3)
  })

  test('outlives the page', async () => {
    browser.answers = ['lost']
    sender().track('A')
    await browser.pass(2000)
    const anew = sender()
    await anew.flush()
    expect(browser.requests.at(-1)!.items.map(({ event }) => event)).toEqual(['Session started', 'A'])
  })

  test('is dropped where the server refuses it for good', async () => {
    browser.answers = [422]
    const dowser = sender()
    dowser.track('A')
    await browser.pass(2000)
    await dowser.flush()
    expect(browser.requests).toHaveLength(1)
  })

  test('is kept up to a limit, the newest', async () => {
    browser.answers = Array<'lost'>(2000).fill('lost')
    const dowser = sender()
    for (let i = 0; i < 1500; i++) dowser.track('A', { i })
    const kept = JSON.parse(browser.storage.get('dowser.queue')!) as { properties: { i: number } }[]
    expect([kept.length, kept.at(-1)!.properties.i]).toEqual([1000, 1499])
    await browser.pass(0)
  })
})

test('who opts out sends nothing more and leaves nothing behind, until opting in', async () => {
  const dowser = sender()
  dowser.track('A')
  dowser.optOut()
  dowser.track('B')
  dowser.page()
  await browser.pass(5000)
  expect(browser.requests).toEqual([])
  expect([...browser.storage.keys()]).toEqual(['dowser.optedOut'])
  dowser.optIn()
  dowser.track('C')
  await browser.pass(5000)
  expect(browser.names()).toContain('C')
})
