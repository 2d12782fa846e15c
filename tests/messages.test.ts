import Database from 'better-sqlite3'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { DestinationSetup } from '../core/outreach/destination.js'
import { behaviourSchema } from '../core/outreach/destination.js'
import { messageSchema, type Message } from '../core/outreach/message.js'
import { reactionsSchema } from '../core/outreach/simulated.js'
import type { RuleGroup } from '../core/segments/rule.js'
import type { Dowser } from '../server/index.js'
import { fill, newFolder, openReady, until } from './workspace.js'

/** Messages from who comes in to what became of it, through the server's doors and threads. */
let folder: ReturnType<typeof newFolder>
let dowser: Dowser
beforeEach(() => (folder = newFolder()))
afterEach(async () => {
  await dowser?.close().catch(() => {})
  folder.remove()
})

const HOUR = 3_600_000
const DAY = 24 * HOUR
const START = Date.UTC(2026, 9, 5, 12)
const ride = (person: string, at = START) => ({
  ...{ id: `${person}.${at}`, person, event: 'Ride', time: at, properties: {} },
})
const RODE: RuleGroup = { hold: 'all', of: [{ kind: 'did', event: { names: ['Ride'] } }] }
const push = (people: object = {}, behaviour: object = {}): DestinationSetup => ({
  ...{ kind: 'push', behaviour: behaviourSchema.parse({ latencyMs: 0, ...behaviour }) },
  people: reactionsSchema.parse({ react: false, ...people }),
})
const riders = (rule = RODE, name = 'Riders') => dowser.segments.create({ name, description: '', tags: [], rule }, 1)
const place = (setup = push(), name = 'Push') => dowser.destinations.create(name, setup, 1).id

function message(more: Partial<Message> & { segment?: string; destination: string }): string {
  const usual = {
    ...{ name: 'Come back', trigger: { kind: 'comes in' }, holdOut: 0 },
    ...{
      variants: [{ name: 'A', text: 'Hello' }],
      goal: { event: { names: ['Pass'] } },
      within: { count: 2, unit: 'day' },
    },
  }
  return dowser.messages.create(messageSchema.parse({ ...usual, ...more }), 1)
}
/** The workspace's clock is set on. */
const goTo = (ms: number) => dowser.settings.set({ ranTo: ms })
async function arrive(events: object[], people: object[] = []): Promise<void> {
  const body = (rows: object[]) => new TextEncoder().encode(JSON.stringify(rows))
  const form = { lines: false, gzip: false } as never
  if (people.length > 0) await dowser.ingest('people', body(people), form)
  if (events.length > 0) await dowser.ingest('events', body(events), form)
  await until(() => dowser.threads.behindMs === 0, 'being seen')
}
const sentTo = (id: string) =>
  dowser.messages
    .lines(id, 1000)
    .filter(({ state }) => state === 'sent')
    .map(({ person }) => person)
    .sort()
const sent = (id: string, many: number) => until(() => sentTo(id).length === many, `${many} being sent`)
const reasons = (id: string) =>
  Object.fromEntries(dowser.messages.counts(id).dropped.map(({ why, people }) => [why, people]))

test('who is in the segment comes in once, who wants nothing or is left out does not; what is sent is known as events', async () => {
  fill(
    folder.dir,
    [ride('ann'), ride('bob'), ride('cid'), ride('dan')],
    [
      { person: 'ann', properties: { first_name: 'Ann' } },
      { person: 'bob', properties: { opted_out: true } },
      { person: 'cid', properties: { staff: true } },
    ],
  )
  dowser = await openReady(folder.dir)
  const staff: RuleGroup = {
    hold: 'all',
    of: [{ kind: 'profile', where: { property: { of: 'person', name: 'staff' }, op: 'is true' } }],
  }
  const to = place()
  const id = message({
    ...{ segment: riders(), notAmong: riders(staff, 'Staff'), destination: to },
    variants: [{ name: 'A', title: '', text: 'Hello {first name, or "there"}', link: '', picture: '' }],
  })
  await dowser.messages.start(id)
  await sent(id, 2)
  expect(sentTo(id)).toEqual(['ann', 'dan'])
  expect(dowser.messages.counts(id)).toMatchObject({
    ...{ entered: 2, sent: 2, waiting: 0 },
    keptOut: [
      { why: 'not among', people: 1 },
      { why: 'opted out', people: 1 },
    ],
  })
  const { newest, twice, messages } = (await dowser.destinations.state(to))!
  expect({ twice, messages }).toEqual({ twice: 0, messages: 2 })
  expect(newest.map(({ properties }) => properties.text).sort()).toEqual(['Hello Ann', 'Hello there'])
  // The looks that follow bring nobody in twice; somebody new comes in.
  await arrive([ride('eve', START + HOUR)])
  goTo(START + 2 * HOUR)
  await sent(id, 3)
  await until(async () => {
    const { result } = await dowser.run({
      ...{ kind: 'trend', every: 'day', range: { last: 3, unit: 'day' }, show: { form: 'lines', as: 'number' } },
      series: [{ event: { names: ['Message sent'] }, measure: 'people' }],
    } as never)
    return (result as unknown as { lines: { all: { total: number } }[] }).lines[0].all.total === 3
  }, 'three people sent to')
})

describe('when it is sent', () => {
  test('after the wait, in the hours of the day, unless they did something first', async () => {
    fill(folder.dir, [ride('ann'), ride('bob')])
    dowser = await openReady(folder.dir)
    const id = message({
      ...{ segment: riders(), destination: place(), wait: 2, hours: { from: 16, to: 20 } },
      unless: { event: { names: ['Pass'] } },
    })
    await dowser.messages.start(id)
    await until(() => dowser.messages.counts(id).waiting === 2, 'two waiting')
    // They came in at 12; two hours later it is 14, and the hours begin at 16.
    expect(dowser.messages.lines(id, 9).map(({ dueMs }) => dueMs)).toEqual([START + 4 * HOUR, START + 4 * HOUR])
    await arrive([{ id: 'p', person: 'bob', event: 'Pass', time: START + HOUR, properties: {} }])
    goTo(START + 4 * HOUR)
    await sent(id, 1)
    expect(sentTo(id)).toEqual(['ann'])
    expect(reasons(id)).toEqual({ 'did Pass first': 1 })
  })

  test('an event brings people in, each time anew only after so many days and by a new time', async () => {
    fill(folder.dir, [ride('ann', START - DAY), ride('bob', START)])
    dowser = await openReady(folder.dir)
    const id = message({
      ...{ segment: '', destination: place(), again: 3 },
      trigger: { kind: 'event', event: { event: { names: ['Ride'] } } },
    })
    await dowser.messages.start(id)
    // What was done before it was started brings nobody in; bob's was at that very moment.
    await sent(id, 1)
    await arrive([ride('ann', START + HOUR), ride('bob', START + DAY)])
    goTo(START + DAY)
    await sent(id, 2)
    expect(sentTo(id)).toEqual(['ann', 'bob'])
    await arrive([ride('bob', START + 3 * DAY + HOUR)])
    goTo(START + 4 * DAY)
    await sent(id, 3)
    expect(sentTo(id)).toEqual(['ann', 'bob', 'bob'])
  })

  test('nobody is sent more than the cap allows over all messages; it lets them in later', async () => {
    fill(folder.dir, [ride('ann')])
    dowser = await openReady(folder.dir)
    const [segment, destination] = [riders(), place()]
    const first = message({ segment, destination, name: 'First' })
    await dowser.messages.start(first)
    await sent(first, 1)
    const second = message({ segment, destination, name: 'Second', cap: { most: 1, days: 2 } })
    await dowser.messages.start(second)
    await until(() => dowser.messages.counts(second).keptOut.length > 0, 'the cap')
    expect(dowser.messages.counts(second)).toMatchObject({ entered: 0, keptOut: [{ why: 'capped', people: 1 }] })
    goTo(START + 2 * DAY)
    await sent(second, 1)
    expect(dowser.messages.counts(second).keptOut).toEqual([])
  })
})

describe('between decision and sending', () => {
  test('who opts out, is not there any more, or lacks what the text needs is not sent it', async () => {
    fill(
      folder.dir,
      [ride('ann'), ride('bob'), ride('cid')],
      [
        { person: 'ann', properties: { name: 'Ann' } },
        { person: 'bob', properties: { name: 'Bob' } },
      ],
    )
    dowser = await openReady(folder.dir)
    const id = message({
      ...{ segment: riders(), destination: place(), wait: 1 },
      variants: [{ name: 'A', title: '', text: 'Hello {name}', link: '', picture: '' }],
    })
    await dowser.messages.start(id)
    await until(() => dowser.messages.counts(id).waiting === 3, 'three waiting')
    await arrive([], [{ person: 'ann', properties: { opted_out: true } }])
    goTo(START + HOUR)
    await sent(id, 1)
    expect(sentTo(id)).toEqual(['bob'])
    expect(reasons(id)).toEqual({ 'opted out in between': 1, 'has no name': 1 })
  })

  test('two who turn out to be one are sent it once', async () => {
    const known = { id: 'k', person: 'ann', event: 'Ride', time: START, properties: {} }
    const cookie = { id: 'c', anonymous: 'cookie', event: 'Ride', time: START, properties: {} }
    fill(folder.dir, [known, cookie])
    dowser = await openReady(folder.dir)
    const id = message({ segment: riders(), destination: place(), wait: 1 })
    await dowser.messages.start(id)
    await until(() => dowser.messages.counts(id).waiting === 2, 'two waiting')
    await arrive([
      { id: 'm', person: 'ann', anonymous: 'cookie', event: 'Signed in', time: START + 60_000, properties: {} },
    ])
    goTo(START + HOUR)
    await until(() => dowser.messages.counts(id).waiting === 0, 'all settled')
    expect(sentTo(id)).toEqual(['ann'])
    expect(reasons(id)).toEqual({ 'is one with somebody who is sent it': 1 })
  })

  test('calls that fail are made again under the same keys, and nothing arrives twice', async () => {
    fill(
      folder.dir,
      Array.from({ length: 30 }, (_, i) => ride(`p${i}`)),
    )
    dowser = await openReady(folder.dir)
    const to = place(push({}, { failing: 100 }))
    const id = message({ segment: riders(), destination: to })
    await dowser.messages.start(id)
    await until(() => dowser.destinations.log(to, 9).some(({ why }) => why?.includes('503')), 'a failed call')
    dowser.destinations.save(to, 'Push', push())
    await sent(id, 30)
    expect(await dowser.destinations.state(to)).toMatchObject({ messages: 30, twice: 0 })
  })

  test('killed at any moment, all are sent, and nobody twice', async () => {
    fill(
      folder.dir,
      Array.from({ length: 3000 }, (_, i) => ride(`p${i}`)),
    )
    dowser = await openReady(folder.dir)
    const to = place(push({ react: true }, { latencyMs: 300, failing: 10 }))
    const id = message({ segment: riders(), destination: to })
    await dowser.messages.start(id)
    const db = new Database(dowser.file)
    db.pragma('busy_timeout = 5000')
    for (let n = 0; n < 6; n++) {
      await new Promise((resolve) => setTimeout(resolve, 60 + ((n * 53) % 170)))
      dowser.threads.kill('outreach')
      await dowser.threads.outreach.ask({ kind: 'wake' }).catch(() => {})
    }
    await until(
      () => {
        db.prepare('UPDATE message_entries SET retry_ms = 0').run()
        return dowser.messages.counts(id).sent === 3000
      },
      'all being sent',
      60_000,
    )
    db.close()
    expect(await dowser.destinations.state(to)).toMatchObject({ messages: 3000, twice: 0 })
  }, 90_000)
})

test('simulated people deliver, open, press, act and opt out as events like anybody’s, and are wiped again', async () => {
  fill(
    folder.dir,
    Array.from({ length: 400 }, (_, i) => ride(`p${i}`)),
  )
  dowser = await openReady(folder.dir)
  const to = place(push({ react: true, delivered: 100, opened: 50, pressed: 50, optOut: 10, effects: [40], again: 0 }))
  const id = message({
    ...{ segment: riders(), destination: to, holdOut: 50 },
    goal: {
      event: { names: ['Pass'] },
      where: { property: { of: 'event', name: 'plan' }, op: 'is', values: ['Monthly'] },
    },
  })
  await dowser.messages.start(id)
  await until(() => dowser.messages.counts(id).sent > 0 && dowser.messages.counts(id).waiting === 0, 'being sent')
  const { sent: many } = dowser.messages.counts(id)
  goTo(START + 3 * DAY)
  const people = async (event: string, where?: object) => {
    const { result } = await dowser.run({
      ...{ kind: 'trend', every: 'day', range: { last: 7, unit: 'day' }, show: { form: 'lines', as: 'number' } },
      series: [{ event: { names: [event] }, measure: 'people', ...(where ? { where } : {}) }],
    } as never)
    return (result as unknown as { lines: { all: { total: number } }[] } | null)?.lines[0].all.total ?? 0
  }
  await until(async () => (await people('Message delivered')) === many, 'all being delivered')
  const opened = await people('Message opened')
  expect(opened).toBeGreaterThan(many * 0.4)
  expect(opened).toBeLessThan(many * 0.6)
  const monthly = { property: { of: 'event', name: 'plan' }, op: 'is', values: ['Monthly'] }
  expect(await people('Pass', monthly)).toBeGreaterThan(many * 0.3)
  expect(await people('Pass')).toBeLessThan(many * 0.5)
  const declined = await people('Messages declined')
  expect(declined).toBeGreaterThan(0)
  // Whoever opted out is not let into the next one.
  const next = message({
    segment: dowser.messages.get(id).definition.segment,
    destination: to,
    name: 'Next',
    holdOut: 0,
  })
  await dowser.messages.start(next)
  await until(() => dowser.messages.counts(next).sent === 400 - declined, 'the others being sent it')
  expect(await dowser.wipeSimulated()).toBeGreaterThan(0)
  expect(await people('Message delivered')).toBe(0)
  expect(await people('Message sent')).toBe(400)
})

test('a split that moves: weights of the day from those whose time is over, the hold-out untouched', async () => {
  fill(
    folder.dir,
    Array.from({ length: 200 }, (_, i) => ride(`p${i}`)),
  )
  dowser = await openReady(folder.dir)
  const [A, B] = ['A', 'B'].map((name) => ({ name, title: '', text: 'x', link: '', picture: '' }))
  const id = message({
    ...{ segment: riders(), destination: place(), holdOut: 20, within: { count: 1, unit: 'day' } },
    ...{ variants: [A!, B!], split: { kind: 'adaptive' } },
  })
  await dowser.messages.start(id)
  await until(() => dowser.messages.counts(id).entered === 200, 'all coming in')
  expect(dowser.messages.shares(id)).toMatchObject([{ day: '2026-10-05', shares: [0.5, 0.5] }])
  const lines = dowser.messages.lines(id, 1000)
  // Everybody of A does it within the day.
  const did = lines.filter(({ variant }) => variant === 0)
  await arrive(
    did.map(({ person }) => ({ id: `g${person}`, person, event: 'Pass', time: START + HOUR, properties: {} })),
  )
  goTo(START + 36 * HOUR + 1)
  await until(() => dowser.messages.shares(id).length === 2, 'the next day’s shares')
  expect(dowser.messages.shares(id)[1]).toEqual({
    ...{ day: '2026-10-07', shares: [0.95, 0.05] },
    tried: [
      { did: did.length, over: did.length },
      { did: 0, over: lines.filter(({ variant }) => variant === 1).length },
    ],
  })
})

test('once is once: paused and gone on with, it lets nobody further in; a test copy goes to nobody who wants none', async () => {
  fill(folder.dir, [ride('ann'), ride('bob')], [{ person: 'bob', properties: { opted_out: true } }])
  dowser = await openReady(folder.dir)
  const to = place()
  const id = message({ segment: riders(), destination: to, trigger: { kind: 'once' }, wait: 1 })
  await dowser.messages.start(id)
  await until(() => dowser.messages.counts(id).waiting === 1, 'one waiting')
  await dowser.messages.pause(id)
  await arrive([ride('cid', START + HOUR)])
  await dowser.messages.start(id)
  goTo(START + 2 * HOUR)
  await until(() => dowser.messages.get(id).state === 'ended', 'its end')
  expect(dowser.messages.lines(id, 9).map(({ person }) => person)).toEqual(['ann'])
  const { definition } = dowser.messages.get(id)
  await expect(dowser.messages.testCopy(definition, 0, 'bob')).rejects.toThrow('wants no messages')
  expect(await dowser.messages.testCopy(definition, 0, 'ann')).toMatchObject({ taken: true })
  expect(await dowser.destinations.state(to)).toMatchObject({ messages: 1, twice: 0 })
})

test('one that cannot be started says why; a segment that is deleted stops it', async () => {
  fill(folder.dir, [ride('ann')])
  dowser = await openReady(folder.dir)
  const segment = riders()
  const id = message({ segment, destination: '' })
  await expect(dowser.messages.start(id)).rejects.toThrow('Choose the channel')
  dowser.messages.save(id, { ...dowser.messages.get(id).definition, destination: place() }, 2)
  await dowser.messages.start(id)
  await sent(id, 1)
  dowser.segments.remove(segment, 3)
  await until(() => dowser.messages.get(id).state === 'paused', 'standing still')
  expect(dowser.messages.get(id).why).toContain('segment was deleted')
})
