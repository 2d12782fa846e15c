import { saidPeopleWords } from '../core/analyses/peopleWords.js'
import { existsSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { OverlapResult } from '../core/analyses/overlap/finish.js'
import type { Question } from '../core/analyses/registry.js'
import type { TrendQuestion } from '../core/analyses/trend/question.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import type { PeopleRef } from '../core/analyses/people.js'
import type { Rule, RuleGroup } from '../core/segments/rule.js'
import type { Dowser } from '../server/index.js'
import { fill, newFolder, openReady } from './workspace.js'

/** Segments through the server's doors and threads: counted, kept, uploaded, used, deleted. */
let folder: ReturnType<typeof newFolder>
let dowser: Dowser

const MONDAY = Date.UTC(2026, 8, 7)
const DAY = 86_400_000
let sent = 0
const did = (person: string, event: string, day: number, properties: object = {}, more: object = {}) => ({
  ...{ id: `e${sent++}`, person, event, time: MONDAY + day * DAY + 3_600_000, properties },
  ...more,
})
const rode = (more: object = {}): Rule => ({ kind: 'did', event: { names: ['Ride'] }, ...more }) as Rule
const group = (...of: Rule[]): RuleGroup => ({ hold: 'all', of })
const saved = (name: string, rule: RuleGroup) => dowser.segments.create({ name, description: '', tags: [], rule }, 1)
const countOf = async (rule: Rule) => {
  const reply = await dowser.segments.count(rule)
  if ('faults' in reply) throw new Error(JSON.stringify(reply.faults))
  return reply
}
const namesOf = async (ref: PeopleRef) => {
  const reply = await dowser.people(ref, { offset: 0, limit: 100 })
  if ('faults' in reply) throw new Error(JSON.stringify(reply.faults))
  return reply.people.map(({ id }) => id).sort()
}
const rides: TrendQuestion = {
  ...{ kind: 'trend', series: [{ event: { names: ['Ride'] }, measure: 'people' }], every: 'week' },
  ...{ range: { from: '2026-09-07', to: '2026-10-04' }, show: { form: 'lines', as: 'number' } },
}
const resultOf = async <R>(question: Question) => {
  const reply = await dowser.run(question)
  if (!reply.result) throw new Error(JSON.stringify(reply.faults))
  return reply.result as R
}

beforeAll(async () => {
  folder = newFolder()
  fill(
    folder.dir,
    [
      ...[0, 1, 8, 20].map((day) => did('ada', 'Ride', day, { minutes: 10 })),
      ...[0, 15].map((day) => did('bea', 'Ride', day, { minutes: 30 })),
      did('cai', 'Ride', 22, { minutes: 5 }),
      did('dot', 'Look', 3),
      { ...did('', 'Look', 4), person: undefined, anonymous: 'device-1' },
      did('eve', 'Look', 27),
    ],
    [
      { person: 'ada', properties: { plan: 'Annual', age: 40 } },
      { person: 'bea', properties: { plan: 'Monthly', age: 30 } },
      { person: 'dot', properties: { plan: 'Annual' } },
    ],
  )
  dowser = await openReady(folder.dir)
})
afterAll(async () => {
  await dowser.close()
  folder.remove()
})

describe('counting', () => {
  test('the whole, and each condition and group by itself', async () => {
    const annual: Rule = {
      kind: 'profile',
      where: { property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] },
    }
    const rule = group(rode(), { hold: 'any', of: [annual, rode({ window: { last: 7 } })] })
    const { members, everyone, parts } = await countOf(rule)
    expect([members, everyone]).toEqual([2, 6])
    expect(Object.fromEntries(parts.map(({ path: place, people }) => [place.join('.'), people]))).toEqual({
      'of.0': 3,
      'of.1.of.0': 2,
      'of.1.of.1': 1,
      'of.1': 3,
    })
  })
  test('who came in and went out in a week, as numbers and as people', async () => {
    const rule = group(rode({ window: { last: 7 } }))
    const { week } = await countOf(rule)
    expect([week.in, week.out]).toEqual([1, 2])
    expect(await namesOf({ rule, came: 'in', since: week.since })).toEqual(['cai'])
    expect(await namesOf({ rule, came: 'out', since: week.since })).toEqual(['ada', 'bea'])
  })
  test('size over time is the count as of each end, back to the first event', async () => {
    const rule = group(rode({ window: { last: 14 } }))
    for (const every of ['day', 'week', 'month'] as const) {
      const size = await dowser.segments.size(rule, every, null)
      if ('faults' in size) throw new Error('faults')
      expect(size.points[0]!.key).toBe(every === 'month' ? '2026-09-01' : '2026-09-07')
      for (const { at, members } of size.points) expect(await namesOf({ rule, at })).toHaveLength(members)
    }
  })
  test('size split by a profile property adds up to the whole', async () => {
    const size = await dowser.segments.size(group(rode()), 'week', { of: 'person', name: 'plan' })
    if ('faults' in size) throw new Error('faults')
    expect(size.groups.map(({ key }) => key)).toEqual([
      { value: 'Annual' },
      { value: 'Monthly' },
      { value: null },
      { rest: true },
    ])
    size.points.forEach(({ members }, i) =>
      expect(size.groups.reduce((sum, each) => sum + each.members[i]!, 0)).toBe(members),
    )
  })
  test('why somebody is in, with their own values, and when they came in or went out', async () => {
    const rule = group(
      rode({ count: { measure: 'days', test: { op: '≥', number: 3 } } }),
      rode({ not: true, window: { last: 7 } }),
    )
    const ada = await dowser.segments.why(rule, 'ada')
    expect(ada).toMatchObject({
      member: true,
      conditions: [
        { holds: true, value: 4, lastMs: MONDAY + 20 * DAY + 3_600_000 },
        { holds: true, value: 0 },
      ],
      change: { came: 'in' },
    })
    expect(await dowser.segments.why(rule, 'bea')).toMatchObject({
      member: false,
      conditions: [{ holds: false, value: 2 }, { holds: true }],
      change: null,
    })
    expect(await dowser.segments.why(rule, 'nobody')).toBeNull()
  })
  test('who they are beside everyone', async () => {
    const reply = await dowser.segments.composition({ rule: group(rode()) }, null, { of: 'person', name: 'plan' })
    if ('faults' in reply) throw new Error('faults')
    expect(reply.of).toMatchObject({ members: 3, everyone: 6 })
    expect(reply.of!.rows.map(({ key, members, everyone }) => [key, members, everyone])).toEqual([
      [{ value: null }, 1, 3],
      [{ value: 'Annual' }, 1, 2],
      [{ value: 'Monthly' }, 1, 1],
    ])
  })
  test('who they are beside others: nobody else is counted, and who is on both sides is one of them', async () => {
    const looked: Rule = { kind: 'did', event: { names: ['Look'] } }
    const beside = { rule: { hold: 'any' as const, of: [looked, rode({ where: undefined })] } }
    const once = { rule: group(rode({ count: { measure: 'times', test: { op: 'between', numbers: [1, 2] } } })) }
    const reply = await dowser.segments.composition(once, { rule: looked }, { of: 'person', name: 'plan' })
    const both = await dowser.segments.composition(once, beside, { of: 'person', name: 'plan' })
    if ('faults' in reply || 'faults' in both) throw new Error('faults')
    // Two who rode at most twice, three who looked; ada did neither.
    expect(reply.of).toMatchObject({ members: 2, everyone: 5 })
    expect(both.of).toMatchObject({ members: 2, everyone: 6 })
    for (const { members, everyone, share, usual } of reply.of!.rows) {
      expect(share).toBe(members / 2)
      expect(usual).toBe((everyone - members) / 3)
    }
  })
  test('a short rule is said condition by condition', () => {
    const words = { thisYear: 2026 }
    const looked: Rule = { kind: 'did', event: { names: ['Look'] } }
    const rule: RuleGroup = { hold: 'all', of: [rode(), { hold: 'none', of: [looked] }] }
    expect(saidPeopleWords({ rule }, words)).toBe('who did Ride, but not those who did Look')
    expect(saidPeopleWords({ rule: group(rode(), looked) }, words)).toBe('who did Ride, and who did Look')
    expect(saidPeopleWords({ rule: group(rode(), looked, rule) }, words)).toBe('for whom 4 conditions hold')
  })
  test('a comparison that goes with no value of the property is marked, not silently nobody', async () => {
    const wrong: Rule = { kind: 'profile', where: { property: { of: 'person', name: 'plan' }, op: '=', number: 5 } }
    expect(await dowser.segments.count(group(rode(), wrong))).toMatchObject({
      faults: [{ code: 'wrong_operator', path: ['of', 1, 'where'], want: 'it holds text' }],
    })
  })
})

describe('kept as lists', () => {
  test('a frozen copy keeps its members while the rule goes on', async () => {
    const rule = group(rode({ window: { last: 7 } }))
    const list = await dowser.segments.freeze(
      { rule },
      { name: 'Rode lately', description: '', tags: [], origin: 'people who rode', rule },
      5,
      6,
    )
    if ('faults' in list) throw new Error('faults')
    expect(list.members).toBe(1)
    expect(dowser.segments.get(list.id)).toMatchObject({ frozenMs: 6, origin: 'people who rode' })
    const ref = { rule: { kind: 'segment', segment: list.id } } as const
    expect(await namesOf(ref)).toEqual(['cai'])
    // Somebody else rides, and cai turns out to be a device that was known before.
    const body = [did('dot', 'Ride', 28), did('cai', 'Look', 28, {}, { anonymous: 'device-1' })]
    await dowser.ingest('events', Buffer.from(JSON.stringify(body)), { lines: false, gzip: false, limit: 1e6 })
    await dowser.told(null)
    expect((await countOf(rule)).members).toBe(2)
    expect(await namesOf(ref)).toEqual(['cai'])
  })

  const upload = (text: string | Buffer, column: number | null = null, name = `List ${sent++}`) => {
    const file = path.join(folder.dir, `upload-${sent++}`)
    writeFileSync(file, text)
    return dowser.segments
      .readList({ name, description: '', tags: [] }, 'ids.csv', file, column, 9)
      .finally(() => expect(existsSync(file)).toBe(false))
  }
  test('uploaded: known and anonymous ids, unknown ones counted, repeated ones once', async () => {
    const reply = await upload('id\nada\nnobody\ndevice-1\n ada \n\ncai\n')
    // device-1 and cai are one person by now.
    expect(reply).toMatchObject({ members: 2, unknown: 1, repeated: 2, lines: 5, remark: null })
    const { id } = reply as { id: string }
    expect(await namesOf({ rule: { kind: 'segment', segment: id } })).toEqual(['ada', 'cai'])
    expect(dowser.segments.unknown(id, 10)).toEqual([{ line: 3, value: 'nobody' }])
  })
  test('uploaded without a heading, or with the ids in one of several columns', async () => {
    expect(await upload('ada\nbea\n')).toMatchObject({ members: 2, unknown: 0, lines: 2 })
    expect(await upload('town;rider\nOslo;ada\nRome;bea\n')).toMatchObject({ members: 2, unknown: 0 })
    expect(await upload('a;b\nada;bea\nada;cai\n', 0)).toMatchObject({ members: 1, repeated: 1 })
  })
  test('what is no list is refused in words, and nothing is made', async () => {
    const before = dowser.segments.list().length
    expect(await upload('')).toMatchObject({ problem: expect.stringContaining('empty') as string })
    expect(await upload(Buffer.from([0x89, 0x50, 0, 0, 0, 1, 2, 3, 10, 0]))).toHaveProperty('problem')
    expect(await upload('{"id":1}\n{"id":2}\n')).toMatchObject({ problem: expect.stringContaining('CSV') as string })
    expect(dowser.segments.list()).toHaveLength(before)
  })
  test('another encoding is read, and said', async () => {
    expect(await upload(Buffer.from('id\nada\nZo\xeb\n', 'latin1'))).toMatchObject({
      members: 1,
      unknown: 1,
      remark: expect.stringContaining('Windows-1252') as string,
    })
  })
  test('a name that is taken is refused', async () => {
    await upload('ada\nbea', null, 'Taken')
    await expect(upload('ada\nbea', null, 'taken')).rejects.toThrow('already a segment called “taken”')
  })
})

describe('used', () => {
  test('people are read anew when the clock or the week is another', async () => {
    // Two notes, a day apart in one zone and on one day in another.
    const own = newFolder()
    const note = (hour: string) => ({ id: hour, person: 'q', event: 'Note', time: Date.parse(hour) })
    fill(own.dir, [note('2026-03-18T23:30:00Z'), note('2026-03-19T00:30:00Z')])
    const other = await openReady(own.dir, { DOWSER_THREADS: '1' })
    const twice: Rule = {
      ...{ kind: 'did', event: { names: ['Note'] } },
      count: { measure: 'days', test: { op: '≥', number: 2 } },
    }
    const notes: TrendQuestion = {
      ...rides,
      series: [{ event: { names: ['Note'] }, measure: 'people' }],
      range: { from: '2026-03-18', to: '2026-03-19' },
      among: { rule: twice },
    }
    const people = async () => ((await other.run(notes)).result as TrendResult).lines[0].all.total
    expect(await people()).toBe(1)
    other.settings.set({ zone: 'Asia/Tokyo' })
    expect(await people()).toBe(0)
    other.settings.set({ zone: 'UTC' })
    expect(await people()).toBe(1)
    await other.close()
    own.remove()
  })

  test('among them and not among them add up; side by side each is what it is alone', async () => {
    const id = saved('Riders of two days', group(rode({ count: { measure: 'days', test: { op: '≥', number: 2 } } })))
    const among = (not?: true): Question => ({
      ...rides,
      among: { rule: { kind: 'segment', segment: id, ...(not ? { not } : {}) } },
    })
    const total = async (question: Question) => (await resultOf<TrendResult>(question)).lines[0]!.all.totalPeople
    const [all, inside, outside] = [await total(rides), await total(among()), await total(among(true))]
    expect([all, inside, outside]).toEqual([3, 2, 1])
    const sides = [{ segment: id }, { segment: id, not: true as const }, { everybody: true as const }]
    const beside = await resultOf<TrendResult>({ ...rides, breakdowns: [{ by: { of: 'segments', sides }, keep: 10 }] })
    expect(
      beside.lines[0]!.groups.map(({ key, totalPeople }) => [key && 'side' in key && key.name, totalPeople]),
    ).toEqual([
      ['Riders of two days', inside],
      ['Not in Riders of two days', outside],
      ['Everybody', all],
    ])
    const funnel: Question = {
      ...{ kind: 'funnel', steps: [{ event: { names: ['Ride'] } }], window: { count: 7, unit: 'day' } },
      ...{ range: rides.range, breakdowns: [{ by: { of: 'segments', sides: sides.slice(0, 2) }, keep: 10 }] },
    }
    const rows = (await resultOf<{ groups: { steps: { people: number }[] }[] }>(funnel)).groups
    expect(rows.map(({ steps }) => steps[0]!.people)).toEqual([inside, outside])
    const parts = await resultOf<OverlapResult>({ kind: 'overlap', sides: sides.slice(0, 2), range: rides.range })
    expect(parts.regions.map(({ people }) => people)).toEqual([2, parts.everyone - 2, 0])
  })
  test('a selection is saved as a rule for exactly its people', async () => {
    const ref: PeopleRef = { study: rides, marks: [{ kind: 'point', bucket: '2026-09-07' }] }
    expect(
      await dowser.segments.same(ref, { rule: group(rode({ window: { from: '2026-09-07', to: '2026-09-13' } })) }),
    ).toBe(true)
    expect(await dowser.segments.same(ref, { rule: group(rode()) })).toBe(false)
  })
  test('a circle is named; a segment cannot read itself', async () => {
    const first = saved('First', group(rode()))
    const second = saved('Second', group({ kind: 'segment', segment: first }))
    const circle = group({ kind: 'segment', segment: second })
    expect(await dowser.segments.count(circle, first)).toMatchObject({
      faults: [{ code: 'circle', got: 'First → Second → First' }],
    })
  })
  test('deleted while in use: told where, marked by name, and well again when it is brought back', async () => {
    const id = saved('Going', group(rode()))
    const question: Question = { ...rides, among: { rule: { kind: 'segment', segment: id } } }
    const study = dowser.studies.create({ name: 'Theirs', description: '', question }, 1)
    const other = saved('Built on it', group({ kind: 'segment', segment: id, not: true }))
    expect(dowser.segments.usesOf(id)).toMatchObject({
      studies: [{ id: study, name: 'Theirs' }],
      segments: [{ id: other, name: 'Built on it' }],
    })
    dowser.segments.remove(id, 7)
    expect((await dowser.run(question)).faults).toMatchObject([
      { code: 'unknown_segment', got: 'Going', path: ['among', 'rule', 'segment'] },
    ])
    expect(dowser.wordsAt(MONDAY).segments![id]).toBe('Going')
    dowser.segments.bringBack(id)
    expect((await resultOf<TrendResult>(question)).lines[0]!.all.totalPeople).toBe(3)
  })
  test('gone, beside other mistakes: all are told at once, and what can be is answered', async () => {
    const of = { of: 'segments' as const, sides: [{ segment: 'never was' }] }
    const question: Question = {
      ...rides,
      series: [...rides.series, { event: { names: ['Rode'] }, measure: 'people' }],
      breakdowns: [
        { by: of, keep: 10 },
        { by: { of: 'person', name: 'plam' }, keep: 10 },
      ],
    }
    const reply = await dowser.run(question)
    expect(reply.faults.map(({ code, path, want }) => ({ code, path, want }))).toEqual([
      { code: 'unknown_segment', path: ['breakdowns', 0, 'by', 'sides', 0, 'segment'], want: undefined },
      { code: 'unknown_event', path: ['series', 1, 'event'], want: 'Ride' },
      { code: 'unknown_property', path: ['breakdowns', 1, 'by'], want: 'plan' },
    ])
    expect(reply.result).toBeNull()
    const rest = await dowser.runRest(question, reply.faults)
    expect(rest!.question).toEqual(rides)
    expect((rest!.result as TrendResult).lines[0]!.all.totalPeople).toBe(3)
    // Nobody is asked about others than those that were meant; and what else is wrong is told all the same.
    const nobody = { ...question, among: { rule: { kind: 'segment' as const, segment: 'never was' } } }
    const { faults } = await dowser.run(nobody)
    expect(faults.map(({ path }) => path[0]).sort()).toEqual(['among', 'breakdowns', 'breakdowns', 'series'])
    expect(await dowser.runRest(nobody, faults)).toBeNull()
    const table = await dowser.run({
      ...{ kind: 'crosstab', series: question.series, every: 'week', range: rides.range, rows: [{ by: of, keep: 10 }] },
      show: { cells: 'bars', beside: 'trend' },
    })
    expect(table.faults.map(({ code }) => code)).toEqual(['unknown_segment', 'unknown_event'])
  })
  test('an answer is worked out anew when the segment it is among has changed', async () => {
    const id = saved('Changing', group(rode()))
    const question: Question = { ...rides, among: { rule: { kind: 'segment', segment: id } } }
    expect((await resultOf<TrendResult>(question)).lines[0]!.all.totalPeople).toBe(3)
    const rule = group(rode({ count: { measure: 'times', test: { op: '≥', number: 3 } } }))
    dowser.segments.save(id, { name: 'Changing', description: '', tags: [], rule }, 8)
    expect((await resultOf<TrendResult>(question)).lines[0]!.all.totalPeople).toBe(1)
    expect(dowser.segments.history(id)).toHaveLength(2)
  })
})

describe('one person', () => {
  test('a session by its number, by an event of it, and the one in which they were counted', async () => {
    const which = { session: null, eventId: null, of: null }
    const last = await dowser.session('known', 'ada', which)
    expect(last).toMatchObject({ session: 4, sessions: { length: 4 }, at: null })
    expect((await dowser.session('known', 'ada', { ...which, session: 2 }))!.events.map(({ event }) => event)).toEqual([
      'Ride',
    ])
    const first = await dowser.session('known', 'ada', { ...which, eventId: 'e0' })
    expect(first).toMatchObject({ session: 1, events: [{ id: 'e0' }] })
    const of: PeopleRef = { study: rides, marks: [{ kind: 'point', bucket: '2026-09-14' }] }
    expect(await dowser.session('known', 'ada', { ...which, of })).toMatchObject({ session: 3 })
    expect(await dowser.session('known', 'nobody', which)).toBeNull()
  })
  test('the next of a list, in the list’s order', async () => {
    const ref = { rule: group(rode({ window: { from: '2026-09-07', to: '2026-10-04' } })) }
    const page = await dowser.people(ref, { offset: 0, limit: 10, sort: { by: { profile: 'age' }, up: true } })
    if ('faults' in page) throw new Error('faults')
    expect(page.people.map(({ id }) => id)).toEqual(['bea', 'ada', 'cai'])
    const sort = { by: { profile: 'age' }, up: true as const }
    expect(await dowser.neighbours(ref, page.people[1]!.person, sort)).toMatchObject({
      ...{ before: { id: 'bea' }, after: { id: 'cai' }, place: 2, count: 3 },
    })
  })
  test('notes on a moment', async () => {
    const id = dowser.momentNotes.add('e0', 'Here it began', 3)
    const which = { session: null, eventId: 'e0', of: null }
    expect((await dowser.session('known', 'ada', which))!.notes).toMatchObject([
      { text: 'Here it began', eventId: 'e0' },
    ])
    dowser.momentNotes.remove(id)
    expect((await dowser.session('known', 'ada', which))!.notes).toEqual([])
  })
})
