import { parseArgs } from 'node:util'
import { Random } from '../demo/random.js'

/**
 * npm run compare -- --old http://… --old-key … --new http://… --new-key …: asks two running servers the same random
 * questions over the demo's data, and says where their answers differ by a byte. For changes that must change no number.
 */
const { values } = parseArgs({
  options: {
    old: { type: 'string' },
    'old-key': { type: 'string' },
    new: { type: 'string' },
    'new-key': { type: 'string' },
    count: { type: 'string', default: '2000' },
    seed: { type: 'string', default: '1' },
  },
})
const sides = [
  { base: values.old!, key: values['old-key']! },
  { base: values.new!, key: values['new-key']! },
]
const random = new Random(Number(values.seed))
const EVENTS = [
  'App opened',
  'Ride unlocked',
  'Ride completed',
  'Card refused',
  'Pass bought',
  'Signed up',
  'Map viewed',
]
const OF_PEOPLE = ['plan', 'rider_kind', 'home_district', 'platform']
const OF_EVENTS = ['bike_type', 'minutes', 'district', 'platform']
const maybe = <T extends object>(share: number, part: () => T): T | object =>
  random.whole(0, 99) < share * 100 ? part() : {}
const range = () =>
  random.pick([
    { last: random.whole(1, 26), unit: 'week' },
    { last: random.whole(3, 90), unit: 'day' },
    { last: random.whole(1, 8), unit: 'month' },
    { from: '2026-09-01', to: '2026-10-31' },
  ])
const filter = () =>
  random.pick([
    { property: { of: 'event', name: 'bike_type' }, op: 'is', values: ['electric'] },
    { property: { of: 'event', name: 'minutes' }, op: '>', number: random.whole(1, 30) },
    { property: { of: 'person', name: 'plan' }, op: 'is not', values: ['Annual'] },
    { property: { of: 'person', name: 'rider_kind' }, op: 'has a value' },
  ])
const event = () => ({
  event: random.whole(0, 9) === 0 ? { activity: true } : { names: [random.pick(EVENTS)] },
  ...maybe(0.3, () => ({ where: filter() })),
})
const property = () =>
  random.whole(0, 1) === 0
    ? { of: 'person', name: random.pick(OF_PEOPLE) }
    : { of: 'event', name: random.pick(OF_EVENTS) }
const split = () => ({ by: property(), keep: random.whole(1, 10) })
const series = () => {
  const measure = random.pick([
    'people',
    'events',
    'events per person',
    'share of active people',
    'sum',
    'median',
    'per person',
  ])
  const needs = ['sum', 'median', 'per person'].includes(measure)
  return { ...event(), measure, ...(needs ? { of: { of: 'event', name: 'minutes' } } : {}) }
}
const list = <T>(least: number, most: number, make: () => T) => Array.from({ length: random.whole(least, most) }, make)
const among = () => ({
  among: {
    study: { kind: 'trend', series: [{ ...event(), measure: 'people' }], every: 'week', range: range() },
    marks: [{ kind: 'point' }],
  },
})

const kinds: (() => object)[] = [
  () => ({
    ...{ kind: 'trend', series: list(1, 3, series), every: random.pick(['day', 'week', 'month']), range: range() },
    ...maybe(0.5, () => ({ breakdowns: list(1, 2, split) })),
    ...maybe(0.3, () => ({ compare: { to: random.pick(['before', 'month']) } })),
  }),
  () => ({
    ...{ kind: 'funnel', steps: list(2, 4, event), range: range() },
    window: { count: random.whole(1, 14), unit: 'day' },
    ...maybe(0.4, () => ({ breakdowns: [split()] })),
    ...maybe(0.2, () => ({ order: random.pick(['back to back', 'any order']) })),
    ...maybe(0.2, () => ({ count: 'attempts' })),
    ...maybe(0.3, () => ({
      show: random.pick([{ form: 'over time' }, { form: 'time' }, { form: 'apart' }, { form: 'repeats' }]),
    })),
  }),
  () => ({
    ...{ kind: 'crosstab', series: [series()], every: 'week', range: range(), rows: list(1, 2, split) },
    ...maybe(0.5, () => ({ column: split() })),
  }),
  () => ({
    ...{ kind: 'retention', start: event(), every: random.pick(['day', 'week', 'month']), range: range() },
    ...maybe(0.5, () => ({ first: true })),
    ...maybe(0.5, () => ({ back: event() })),
    ...maybe(0.4, () => ({ breakdowns: [split()] })),
  }),
  () => ({
    ...{ kind: 'habit', start: event(), period: random.pick(['week', 'month', '4 weeks']), range: range() },
    ...maybe(0.4, () => ({ breakdowns: [split()] })),
  }),
  () => ({ kind: 'growth', start: event(), interval: random.pick([{ unit: 'week' }, { days: 14 }]), range: range() }),
  () => ({ kind: 'gaps', start: event(), range: range() }),
]

let differing = 0
let answered = 0
const most = Number(values.count)
for (let number = 1; number <= most; number++) {
  const question = { ...random.pick(kinds)(), ...maybe(0.2, among) }
  const replies = await Promise.all(
    sides.map(async ({ base, key }) => {
      const headers = { Authorization: `Bearer ${key}`, 'Content-Type': 'application/json' }
      const reply = await fetch(`${base}/api/v1/query`, { method: 'POST', headers, body: JSON.stringify(question) })
      const { result, error } = (await reply.json()) as { result?: unknown; error?: unknown }
      return { status: reply.status, text: JSON.stringify(result ?? error) }
    }),
  )
  if (replies[0].status === 200) answered++
  if (replies[0].status !== replies[1].status || replies[0].text !== replies[1].text) {
    differing++
    console.log(`differs: ${JSON.stringify(question)}`)
  }
  if (number % 200 === 0) console.log(`${number} asked, ${answered} answered, ${differing} differ`)
}
console.log(`${most} asked, ${answered} answered, ${differing} differ`)
process.exitCode = differing > 0 ? 1 : 0
