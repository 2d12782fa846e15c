import { describe, expect, test } from 'vitest'
import { printedOf } from '../analyses/inWords.js'
import type { ValueKind } from '../log/values.js'
import type { PropertyRef } from '../questions/parts.js'
import { ask } from './ask.js'
import { complete } from './complete.js'
import { readTime } from './times.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

const event = (name: string, recent: number, properties: string[], more: Partial<KnownEvent> = {}): KnownEvent => ({
  ...{ name, words: name, description: '', synonyms: [], recent, shy: false, properties },
  ...more,
})
const property = (ref: PropertyRef, words: string, kind: ValueKind, values: string[] = []): KnownProperty => ({
  ...{ property: ref, words, description: '', synonyms: [], kind, shy: false, values },
})
const of = (of: 'event' | 'person', name: string): PropertyRef => ({ of, name })
const vocabulary: Vocabulary = {
  ...{ thisYear: 2026, today: '2026-11-22' },
  segments: [
    { id: 'r', words: 'Regulars' },
    { id: 'q', words: 'Regulars going quiet' },
    { id: 'c', words: 'Campus riders' },
  ],
  events: [
    event('App opened', 900, ['app_version']),
    event('Map viewed', 700, ['district']),
    event('Ride unlocked', 520, ['bike_type', 'district']),
    event('Ride completed', 500, ['minutes', 'fare', 'bike_type'], { synonyms: ['ride', 'trip'] }),
    event('ride_done_old', 600, ['minutes'], { shy: true }),
    event('Pass bought', 90, ['plan', 'price']),
    event('Help asked', 30, ['reason', 'wait_seconds'], { description: 'Somebody called the hotline' }),
  ],
  properties: [
    property(of('event', 'minutes'), 'Minutes', 'number'),
    property(of('event', 'fare'), 'Fare', 'number'),
    property(of('event', 'wait_seconds'), 'Wait seconds', 'number'),
    property(of('event', 'bike_type'), 'Bike type', 'text', ['pedal', 'electric', 'cargo']),
    property(of('event', 'district'), 'District', 'text', ['Quayside', 'Marsh End']),
    property(of('event', 'reason'), 'Reason', 'text', ['no bikes near me', 'ride']),
    property(of('event', 'plan'), 'Plan of the event', 'text', ['Day pass', 'Annual']),
    property(of('person', 'plan'), 'Plan', 'text', ['Day pass', 'Annual']),
    property(of('person', 'rider_kind'), 'Rider kind', 'text', ['commuter', 'student']),
    property(of('person', 'home_district'), 'Home district', 'text', ['Quayside', 'Marsh End']),
  ],
}
const labels = { events: {}, properties: { 'event plan': 'Plan of the event' } }
const readAs = (text: string) =>
  ask(text, vocabulary).map(({ question }) => question && printedOf(question, { thisYear: 2026, labels }))

describe('a plain question is understood as the sentence it becomes', () => {
  test.each([
    ['riders by district last month', 'How many people did Ride unlocked each day in October, for each District?', 1],
    [
      'what do riders do after asking for help',
      'After Help asked, what do people do next, 3 steps, within 1 day, over the last 12 weeks?',
      0,
    ],
    [
      'what did people do after a ride in October',
      'After Ride completed, what do people do next, 3 steps, within 1 day, in October?',
      0,
    ],
    [
      'how do people get to buying a pass',
      'What brings people to Pass bought, 3 steps back, within 1 day, over the last 12 weeks?',
      0,
    ],
    [
      'what happens between opening the app and the first ride',
      'Between App opened and Ride completed, what do people do, 5 steps, within 1 day, over the last 12 weeks?',
      0,
    ],
    ['average session length by week', 'How long is a session on average each week over the last 12 weeks?', 0],
    [
      'how much time do riders spend each month',
      'How much time does a person spend each month over the last 12 weeks?',
      0,
    ],
    ['sessions per rider per day', 'How many sessions does a person have each day over the last 12 weeks?', 0],
    [
      'share of sessions with one event by bike type',
      'What share of sessions has one event only each week over the last 12 weeks, for each Bike type?',
      0,
    ],
    [
      'how long do commuters stay',
      'How long is a typical session each week over the last 12 weeks, among people (all of: whose Rider kind is commuter)?',
      0,
    ],
    ['number of sessions yesterday', 'How many sessions are there each hour on 21 Nov?', 0],
    [
      'how deep into a session do people view the map',
      'How many people did Map viewed each week over the last 12 weeks, for each Position in session (cut at 1, 2, 3, 4, 6, 11 and 21)?',
      0,
    ],
    [
      'what brings students to pass bought',
      'What brings people to Pass bought, 3 steps back, within 1 day, over the last 12 weeks?',
      0,
    ],
    ['trips each month', 'How many times did people do Ride completed each month over the last 12 months?', 0],
    [
      'median minutes per electric ride each week since June, students only',
      'What is the median of Minutes in Ride completed where Bike type is electric and Rider kind is student each week since 1 Jun?',
      0,
    ],
    [
      'funnel from app opened to pass bought within 3 days',
      'How many people get from App opened to Pass bought within 3 days, starting over the last 12 weeks?',
      0,
    ],
    [
      'App opened then map viewed then ride completed within 2 hours by plan',
      'How many people get from App opened to Map viewed to Ride completed within 2 hours, starting over the last 12 weeks, for each Plan?',
      0,
    ],
    ['how many people bought a pass each day', 'How many people did Pass bought each day over the last 30 days?', 0],
    ['ryde complted by plan', 'How many people did Ride completed each week over the last 12 weeks, for each Plan?', 0],
    ['average fare', 'What is the average of Fare in Ride completed each week over the last 12 weeks?', 0],
    ['fares', 'What is the sum of Fare in Ride completed each week over the last 12 weeks?', 0],
    [
      'total minutes per person each week',
      'What is the sum per person of Minutes in Ride completed each week over the last 12 weeks?',
      0,
    ],
    [
      'ride completed over 30 minutes',
      'How many people did Ride completed where Minutes > 30 each week over the last 12 weeks?',
      0,
    ],
    [
      'help asked where wait seconds between 10 and 60',
      'How many people did Help asked where Wait seconds is between 10 and 60 each week over the last 12 weeks?',
      0,
    ],
    [
      'ride completed excluding students',
      'How many people did Ride completed where Rider kind is not student each week over the last 12 weeks?',
      0,
    ],
    [
      'ride completed by weekday and hour of day last 4 weeks',
      'How many people did Ride completed each day over the last 4 weeks, for each Day of week and each Hour of day?',
      0,
    ],
    [
      'table of ride completed by home district and plan',
      'How many people did Ride completed each week over the last 12 weeks, a row for each Home district, a column for each Plan?',
      0,
    ],
    [
      'pass bought last quarter compared with the previous period',
      'How many people did Pass bought each week from 1 Jul to 30 Sep, compared with the time just before?',
      0,
    ],
    [
      'ride completed vs pass bought each day',
      'Each day over the last 30 days: a = people who did Ride completed; b = people who did Pass bought',
      0,
    ],
    [
      'pass bought divided by app opened weekly',
      'Each week over the last 12 weeks: a (not shown) = people who did Pass bought; b (not shown) = people who did App opened; a / b',
      0,
    ],
    ['weekly active people', 'How many people did anything each week over the last 12 weeks?', 0],
    [
      'share of active people who completed a ride',
      'What share of active people did Ride completed each week over the last 12 weeks?',
      0,
    ],
    [
      'retention of pass bought to ride completed by plan',
      'Of people whose first ever Pass bought fell in a week of the last 12 weeks, what share did Ride completed in each later week, for each Plan of the event?',
      0,
    ],
    [
      'monthly retention of ride completed',
      'Of people whose first ever Ride completed fell in a month of the last 8 months, what share did it again in each later month?',
      0,
    ],
    [
      'do people come back to ride completed',
      'Of people whose first ever Ride completed fell in a week of the last 12 weeks, what share did it again in each later week?',
      0,
    ],
    [
      'days per month ride completed by plan',
      'How many days in a month do people do Ride completed over the last 7 months, for each Plan?',
      0,
    ],
    [
      '3 or more days a week ride completed',
      'How many days in a week do people do Ride completed over the last 12 weeks?',
      0,
    ],
    [
      'who lapsed ride completed',
      'Who is new, retained, revived, lapsed and idle each week over the last 12 weeks, by doing Ride completed?',
      0,
    ],
    [
      'which districts lose the most riders',
      'Who is new, retained, revived, lapsed and idle each week over the last 12 weeks, by doing Ride completed, for each Home district?',
      0,
    ],
    [
      'which home districts lose the most riders',
      'Who is new, retained, revived, lapsed and idle each week over the last 12 weeks, by doing Ride completed, for each Home district?',
      0,
    ],
    [
      'gaps between ride completed by home district',
      'How often do people naturally do Ride completed, over the last 26 weeks, for each Home district?',
      0,
    ],
    [
      'retention of ride completed by home district and day of week',
      'Of people whose first ever Ride completed fell in a week of the last 12 weeks, what share did it again in each later week, for each Home district and each Day of week?',
      0,
    ],
    [
      'quick ratio of ride completed by month',
      'Who is new, retained, revived, lapsed and idle each month over the last 12 months, by doing Ride completed?',
      0,
    ],
    ['usage interval of ride completed', 'How often do people naturally do Ride completed, over the last 26 weeks?', 0],
    [
      'rides per person each month',
      'How many times per person did people do Ride completed each month over the last 12 months?',
      0,
    ],
    [
      'minutes per person each month',
      'What is the sum per person of Minutes in Ride completed each month over the last 12 months?',
      0,
    ],
    [
      'average minutes per person',
      'What is the sum per person of Minutes in Ride completed each week over the last 12 weeks?',
      0,
    ],
    [
      'how many people ever bought a pass',
      'How many people so far did Pass bought each week over the last 12 weeks?',
      0,
    ],
    // A running total is of what adds up; of people it is those so far.
    [
      'running total of pass bought',
      'How many times did people do Pass bought each week over the last 12 weeks, as a running total?',
      0,
    ],
    [
      'running total of fares',
      'What is the sum of Fare in Ride completed each week over the last 12 weeks, as a running total?',
      0,
    ],
    ['weekly active people, cumulative', 'How many people so far did anything each week over the last 12 weeks?', 0],
    // Smoothed over days is by day, unless it comes out even in what is named.
    [
      '7 day moving average of ride completed',
      'How many people did Ride completed each day over the last 30 days, smoothed over 7 days?',
      0,
    ],
    [
      'ride completed each week smoothed over 28 days',
      'How many people did Ride completed each week over the last 12 weeks, smoothed over 4 weeks?',
      0,
    ],
    [
      'pass bought compared with the month before',
      'How many people did Pass bought each week over the last 12 weeks, compared with the same dates a month earlier?',
      0,
    ],
    ['ride completed between 3 and 9 Sept', 'How many people did Ride completed each day from 3 Sep to 9 Sep?', 0],
    [
      'ride completed at least 30 minutes',
      'How many people did Ride completed where Minutes ≥ 30 each week over the last 12 weeks?',
      0,
    ],
    [
      'ride completed where minutes at least 30',
      'How many people did Ride completed where Minutes ≥ 30 each week over the last 12 weeks?',
      0,
    ],
    ['shortest minutes', 'What is the minimum of Minutes in Ride completed each week over the last 12 weeks?', 0],
    [
      'ride completed without a bike type',
      'How many people did Ride completed where Bike type has no value each week over the last 12 weeks?',
      0,
    ],
    [
      'rolling 28 days ride completed',
      'How many people in the last 28 days did Ride completed each week over the last 12 weeks?',
      0,
    ],
    [
      'top 3 home districts for ride completed',
      'How many people did Ride completed each week over the last 12 weeks, for each Home district (the 3 largest)?',
      0,
    ],
    [
      'p90 minutes by bike type',
      'What is the 90th percentile of Minutes in Ride completed each week over the last 12 weeks, for each Bike type?',
      0,
    ],
    [
      'pass bought by plan as shares',
      'How many people did Pass bought each week over the last 12 weeks, for each Plan of the event, as shares of all?',
      0,
    ],
    [
      'how many hours a day do people open the app',
      'How many hours in a day do people do App opened over the last 12 weeks?',
      0,
    ],
    [
      'new people retention of ride completed',
      'Of people whose first ever Ride completed fell in a week of the last 12 weeks, what share did it again in each later week?',
      0,
    ],
    [
      'distinct bike types in ride completed',
      'How many different values of Bike type in Ride completed each week over the last 12 weeks?',
      0,
    ],
    [
      'rides completed / app opened',
      'Each week over the last 12 weeks: a (not shown) = times people did Ride completed; b (not shown) = times people did App opened; a / b',
      0,
    ],
    ['calls to the hotline', 'How many times did people do Help asked each week over the last 12 weeks?', 0],
  ])('%s', (text, sentence, at) => {
    // At 0: the first reading; else among the ones offered.
    if (at === 0) expect(readAs(text)[0]).toBe(sentence)
    else expect(readAs(text)).toContain(sentence)
  })
})

test('it shows how each part was understood, and marks the words it did not use', () => {
  const text = 'purple rides by plan since 8 October'
  const [{ understood, unused }] = ask(text, vocabulary)
  const said = ({ from, to }: { from: number; to: number }) => text.slice(from, to)
  expect(understood.map((part) => [said(part), part.as, part.means])).toEqual([
    ['rides', 'event', 'Ride completed'],
    ['plan', 'property', 'for each Plan'],
    ['since 8 October', 'time', 'since 8 Oct'],
  ])
  expect(unused.map(said)).toEqual(['purple'])
})

test('of what may be meant, the next best readings are offered too', () => {
  expect(readAs('rides each day')).toEqual([
    'How many times did people do Ride completed each day over the last 30 days?',
    'How many people did Ride completed each day over the last 30 days?',
    'How many times did people do Ride unlocked each day over the last 30 days?',
  ])
})

test('a value that several properties have is of one that the event carries', () => {
  expect(readAs('map viewed in Marsh End')[0]).toContain('where District is Marsh End')
  expect(readAs('pass bought in Marsh End')[0]).toContain('where Home district is Marsh End')
})

test('what cannot be made of the words is told as not used, never passed over', () => {
  const unusedOf = (text: string) => ask(text, vocabulary)[0]!.unused.map(({ from, to }) => text.slice(from, to))
  expect(unusedOf('ride completed each month smoothed over 7 days')).toEqual(['smoothed', '7', 'days'])
  expect(unusedOf('ride completed at weekends')).toEqual(['weekends'])
  expect(unusedOf('ride completed each week smoothed over 28 days')).toEqual([])
  expect(unusedOf('ride completed each week smoothed over 84 days')).toEqual([])
  expect(unusedOf('ride completed smoothed over 90 days')).toEqual(['smoothed', '90', 'days'])
  expect(unusedOf('people ever so far ride completed')).toEqual([])
})

test('“per person” counts for each, and a property whose name begins so makes groups', () => {
  const userType = property({ of: 'person', name: 'user_type' }, 'User type', 'text', ['new', 'old'])
  const first = (text: string) =>
    ask(text, { ...vocabulary, properties: [...vocabulary.properties, userType] })[0]!.question
  const groups = { breakdowns: [{ by: { of: 'person', name: 'user_type' } }] }
  const each = { series: [{ measure: 'events per person' }] }
  expect(first('rides by user type')).toMatchObject(groups)
  expect(first('rides per user')).toMatchObject(each)
  expect(first('rides per user')).not.toHaveProperty('breakdowns')
  expect(first('rides per person by user type')).toMatchObject({ ...each, ...groups })
  expect(first('rides per customer')).toMatchObject(each)
  const customer = property({ of: 'person', name: 'customer' }, 'Customer', 'text', ['A', 'B'])
  const [known] = ask('rides by customer', { ...vocabulary, properties: [...vocabulary.properties, customer] })
  expect(known.question).toMatchObject({ breakdowns: [{ by: { name: 'customer' } }] })
})

test('what names nothing that is known has no reading', () => {
  for (const text of ['', '   ', 'zebra crossing', 'the of and', '???']) expect(ask(text, vocabulary)).toEqual([])
})

test.each([
  ['last 3 months', { last: 3, unit: 'month' }],
  ['the past seven days', { last: 7, unit: 'day' }],
  ['last year', { from: '2025-01-01', to: '2025-12-31' }],
  ['last week', { from: '2026-11-09', to: '2026-11-15' }],
  ['yesterday', { from: '2026-11-21', to: '2026-11-21' }],
  ['this year', { from: '2026-01-01' }],
  // A month that is still to come was last year's.
  ['in December', { from: '2025-12-01', to: '2025-12-31' }],
  ['from June to August', { from: '2026-06-01', to: '2026-08-31' }],
  ['between 3 and 9 Sept', { from: '2026-09-03', to: '2026-09-09' }],
  ['from Sept 3rd to 9th', { from: '2026-09-03', to: '2026-09-09' }],
  ['3-9 September 2025', { from: '2025-09-03', to: '2025-09-09' }],
  // A day that is still to come was last year's.
  ['3 to 9 December', { from: '2025-12-03', to: '2025-12-09' }],
  ['between 9 and 3 Sept', null],
  ['from 28 to 31 February', null],
  ['from 3 Sept to 9 Sept', { from: '2026-09-03', to: '2026-09-09' }],
  ['since March 5th', { from: '2026-03-05' }],
  ['2026-02-01 to 2026-02-28', { from: '2026-02-01', to: '2026-02-28' }],
  ['on 31 February', null],
])('%s is a time', (text, range) => {
  expect(readTime(text.toLowerCase(), 0, '2026-11-22')?.range ?? null).toEqual(range)
})

test('what is being typed is completed by names, also by two words of one', () => {
  expect(complete('how many ride c', vocabulary)).toEqual(['how many Ride completed'])
  expect(complete('riders in mar', vocabulary)).toContain('riders in Marsh End')
  expect(complete('rides ', vocabulary)).toEqual([])
})

test('segments by their names: among whom, side by side, and how they overlap', () => {
  const first = (text: string) => ask(text, vocabulary)[0]!
  expect(first('rides each week among regulars going quiet').question).toMatchObject({
    among: { rule: { kind: 'segment', segment: 'q' } },
  })
  expect(first('rides each week, not among Regulars').question).toMatchObject({
    among: { rule: { kind: 'segment', segment: 'r', not: true } },
  })
  expect(first('rides each week, regulars vs campus riders').question).toMatchObject({
    breakdowns: [{ by: { of: 'segments', sides: [{ segment: 'r' }, { segment: 'c' }] } }],
  })
  const overlap = first('overlap of regulars and campus riders')
  expect(overlap.question).toMatchObject({ kind: 'overlap', sides: [{ segment: 'r' }, { segment: 'c' }] })
  expect(overlap.unused).toEqual([])
})

test('what brought people, by what and told by which models; the ways that lead there are asked otherwise', () => {
  const kept = {
    ...vocabulary,
    properties: [...vocabulary.properties, property(of('event', 'Channel'), 'Channel', 'text', ['Search'])],
  }
  const first = (text: string) => ask(text, kept)[0]!
  const by = { of: 'event', name: 'Channel' }
  expect(first('which channels bring passes bought, first against last touch')).toMatchObject({
    question: { kind: 'attribution', goals: [{ event: { names: ['Pass bought'] } }], by, models: ['first', 'last'] },
    unused: [],
  })
  expect(first('what channels drive passes bought, looking back 3 sessions').question).toMatchObject({
    ...{ kind: 'attribution', by, lookBack: { count: 3, unit: 'session' } },
  })
  expect(first('attribution of passes bought by time decay and 40-20-40').question).toMatchObject({
    ...{ kind: 'attribution', by, models: ['decay', '40-20-40'] },
  })
  // Where the workspace has no channels, by where events come from.
  expect(ask('first touch attribution of passes bought', vocabulary)[0]!.question).toMatchObject({
    by: { of: 'source' },
  })
  expect(first('what brings riders to passes bought').question?.kind).toBe('paths')
})

test('what makes people stay is asked of where they begin', () => {
  const events = [...vocabulary.events, event('Signed up', 40, [])]
  const first = (text: string) => ask(text, { ...vocabulary, events })[0]!
  const start = { event: { names: ['Signed up'] } }
  for (const [text, more] of [
    ['who is likely to do pass bought', { days: 14 }],
    ['how likely are riders to do pass bought in the next 30 days', { days: 30 }],
    ['which riders are most likely to do pass bought again in the next month', { days: 30, again: true }],
    ['predict who will do pass bought within the next 2 weeks', { days: 14 }],
  ] as const)
    expect([text, first(text)]).toMatchObject([
      text,
      { question: { kind: 'likelihood', goal: { event: { names: ['Pass bought'] } }, ...more }, unused: [] },
    ])
  for (const text of ['what makes riders stay', 'what keeps people coming back', 'tipping point'])
    expect([text, first(text)]).toMatchObject([
      text,
      { question: { kind: 'tipping', start, goal: { event: { activity: true } } }, unused: [] },
    ])
  expect(first('what early behaviour goes with staying: ride completed').question).toMatchObject({
    ...{ kind: 'tipping', start, goal: { event: { names: ['Ride completed'] } } },
  })
})

test('what is asked of sessions is drawn as it is asked', () => {
  const show = (text: string) => (ask(text, vocabulary)[0]!.question as { show?: object }).show
  expect(show('first thing in a session')).toEqual({ form: 'ways' })
  expect(show('sessions longer than 20 minutes')).toEqual({ form: 'lengths', over: 20 })
  // What only sounds like it is not taken for it.
  expect(ask('average fare the first time a user did a ride', vocabulary)[0]!.question?.kind).toBe('trend')
  // Of no event that is known there is no depth.
  expect(ask('how deep into a session do people search', vocabulary)).toEqual([])
})
