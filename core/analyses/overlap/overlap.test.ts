import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  eventLog,
  logOf,
  MONDAY,
  peopleIn,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { bytesOf, sidesIn, type SegmentAsked } from '../../../tests/segmentLog.js'
import { overlapFindings } from './findings.js'
import type { OverlapResult } from './finish.js'
import { partsRef, type OverlapQuestion } from './question.js'
import type { TrendQuestion } from '../trend/question.js'
import type { TrendResult } from '../trend/finish.js'

const did = (name: string) => ({ kind: 'did' as const, event: { names: [name] } })
const own = (name: string) => ({ name, rule: did(name) })
const range = { from: '2026-01-05', to: '2026-01-18' }

function ask(log: TestLog, question: OverlapQuestion, asked: SegmentAsked = {}): OverlapResult {
  return answer(log, question, { ...asked, sides: sidesIn(log, partsRef(question.sides), asked) })
}

const log = eventLog({
  app: 'app@0d ride@1d',
  both: 'app@0d web@1d ride@1d ride@2d',
  all: 'app@0d web@1d kiosk@2d ride@30d',
  web: 'web@0d',
  none: 'ride@0d',
  late: 'kiosk@80d',
})
const three: OverlapQuestion = { kind: 'overlap', sides: [own('app'), own('web'), own('kiosk')], range }

describe('parts', () => {
  test('everybody is in exactly one: that of all the segments they are in', () => {
    const result = ask(log, three)
    expect(result.regions.filter(({ people }) => people > 0)).toEqual([
      { in: [0], people: 1, figure: null },
      { in: [1], people: 1, figure: null },
      { in: [0, 1], people: 1, figure: null },
      { in: [0, 1, 2], people: 1, figure: null },
    ])
    expect(result.regions).toHaveLength(7)
    expect(result).toMatchObject({ any: 4, several: 2, everyone: 5 })
    expect(result.segments.map(({ people }) => people)).toEqual([3, 3, 1])
  })
  test('with a figure, worked out over the range for each part', () => {
    const figure = { event: { names: ['ride'] }, measure: 'events' as const }
    const figures = ask(log, { ...three, figure }).regions.map(({ in: inside, figure: value }) => [
      inside.join(),
      value,
    ])
    expect(Object.fromEntries(figures)).toMatchObject({ '0': 1, '0,1': 2, '0,1,2': 0, '1': 0, '2': 0 })
    const bikes = ask(log, { ...three, figure: { ...figure, measure: 'distinct values', of: { of: 'source' } } })
    expect(bikes.regions.find(({ in: inside }) => inside.join() === '2')?.figure).toBe(0)
    const average = ask(log, { ...three, figure: { ...figure, measure: 'events per person' } })
    expect(average.regions.find(({ in: inside }) => inside.join() === '1')?.figure).toBeNull()
  })
  test('select their people, also with whatever else they are in', () => {
    const asked = { sides: sidesIn(log, partsRef(three.sides)) }
    expect(peopleIn(log, three, [{ kind: 'part', in: [0, 1] }], asked)).toEqual(['both'])
    expect(peopleIn(log, three, [{ kind: 'part', in: [0, 1], more: true }], asked)).toEqual(['both', 'all'])
  })
})

test('what it says: how many are in several, and which two go together', () => {
  const people = Object.fromEntries(
    Array.from({ length: 200 }, (_, i) => [
      `p${i}`,
      `${i < 100 ? 'app@0d' : 'ride@0d'}${i < 80 || i >= 190 ? ' web@1d' : ''}`,
    ]),
  )
  const many = eventLog(people)
  const said = overlapFindings(ask(many, { ...three, sides: [own('app'), own('web')] })).findings.map((finding) =>
    finding.map(({ text }) => text).join(''),
  )
  expect(said[0]).toMatch(/^80 people of the 110 people in any of them are in more than one: 72\.7/)
  expect(said[1]).toMatch(/web: 88\.9.*of them are in app as well, against 18\.2.*of the others, 4\.9× as often/)
})

const events = fc.array(
  fc.record({
    person: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
    event: fc.constantFrom('app', 'web', 'kiosk', 'ride'),
    time: fc.integer({ min: 0, max: 20 * 24 }).map((hour) => MONDAY + hour * 3_600_000),
  }),
  { minLength: 1, maxLength: 40 },
)
const known = (list: TestEvent[]) =>
  logOf([...list, ...['app', 'web', 'kiosk', 'ride'].map((event) => ({ person: 'z', event, time: MONDAY }))])
const sides = fc.subarray([own('app'), own('web'), own('kiosk'), { everybody: true as const }, own('ride')], {
  minLength: 2,
})

test('parts, their people and their figures are those of a plain reading, over any cut of the people', () => {
  fc.assert(
    fc.property(
      events,
      sides,
      fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
      (list, chosen, cuts) => {
        const random = known(list)
        const figure = { event: { names: ['ride'] }, measure: 'events' as const }
        const question: OverlapQuestion = { kind: 'overlap', sides: chosen, figure, range }
        const result = ask(random, question, { cuts })
        const asked = { sides: sidesIn(random, partsRef(chosen)) }
        const isIn = (person: string, side: (typeof chosen)[number]) =>
          'everybody' in side || random.events.some((each) => each.person === person && each.event === side.name)
        for (const { in: inside, people, figure: value } of result.regions) {
          const theirs = random.people.filter((person) =>
            chosen.every((side, place) => isIn(person, side) === inside.includes(place)),
          )
          expect(people).toBe(theirs.length)
          expect(peopleIn(random, question, [{ kind: 'part', in: inside }], asked)).toEqual(theirs)
          const rides = random.events.filter(
            ({ person, event, time }) => event === 'ride' && theirs.includes(person) && time < MONDAY + days(14),
          )
          expect(value).toBe(rides.length)
        }
      },
    ),
    { numRuns: 100 },
  )
})

test('segments side by side give each what the study gives among them alone', () => {
  fc.assert(
    fc.property(events, sides, (list, chosen) => {
      const random = known(list)
      const question: TrendQuestion = {
        ...{ kind: 'trend', series: [{ event: { names: ['ride'] }, measure: 'people' }], every: 'week', range },
        show: { form: 'lines', as: 'number' },
      }
      const by = { of: 'segments' as const, sides: chosen }
      const beside = answer<TrendResult>(
        random,
        { ...question, breakdowns: [{ by, keep: 10 }] },
        { sides: sidesIn(random, by) },
      )
      chosen.forEach((side, place) => {
        const name = 'everybody' in side ? 'everybody' : side.name
        const members = random.people.filter(
          (person) =>
            name === 'everybody' || random.events.some((each) => each.person === person && each.event === name),
        )
        const alone = answer<TrendResult>(random, question, { among: bytesOf(random, members) })
        const group = beside.lines[0].groups.find(({ key }) => key && 'side' in key && key.side === place)
        // Where nothing was counted there is no group.
        expect(group?.values ?? alone.lines[0].all.values.map(() => 0)).toEqual(alone.lines[0].all.values)
      })
    }),
    { numRuns: 100 },
  )
})
