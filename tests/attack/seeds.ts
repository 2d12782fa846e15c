import { gzipSync } from 'node:zlib'
import { parquetWriteBuffer } from 'hyparquet-writer'
import type { Question } from '../../core/analyses/registry.js'

/** A request as it is meant; what an attack changes in it. */
export interface Seed {
  method: 'GET' | 'POST' | 'PUT'
  path: string
  /** parameters of the address; objects are written as JSON */
  query?: Record<string, unknown>
  /** an object is sent as JSON, or as a form where `form` says so; bytes as they are */
  body?: unknown
  form?: true
  headers?: Record<string, string>
  key?: 'write' | 'read'
  /** of a hundred requests, about so many are like this one, beside the others */
  weight?: number
}

const event = (n: number) => ({
  id: `attack-${n}`,
  person: `p${n % 50}`,
  anonymous: `a${n % 70}`,
  event: 'Ride completed',
  time: '2026-10-08T07:12:03.250Z',
  source: 'mobile app',
  properties: { minutes: 14.5, helmet: true, remarks: ['brakes'], bike_type: 'pedal', day: '2026-10-08' },
})
const where = { property: { of: 'event', name: 'bike_type' }, op: 'is', values: ['electric'] }
const plan = { of: 'person', name: 'plan' }
const range = { last: 12, unit: 'week' }
const rode = { event: { names: ['Ride completed'] } }

/** One of each kind, with most of what it can be asked. */
export const QUESTIONS: readonly { kind: string; [field: string]: unknown }[] = [
  {
    ...{ kind: 'trend', every: 'week', range, compare: { to: 'before' }, show: { form: 'lines', as: 'number' } },
    series: [
      { ...rode, where, measure: 'people', name: 'a' },
      { ...rode, measure: 'sum', of: { of: 'event', name: 'minutes' } },
    ],
    formulas: [{ formula: 'a / b', unit: 'percent' }],
    breakdowns: [{ by: plan, keep: 5 }],
  },
  {
    ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range, breakdowns: [{ by: plan, keep: 3 }] },
    steps: [{ event: { names: ['App opened'] } }, { event: { names: ['Ride unlocked'] }, where }, rode],
  },
  {
    ...{ kind: 'crosstab', series: [{ ...rode, measure: 'events' }], every: 'week', range },
    ...{ rows: [{ by: plan, keep: 5 }], column: { by: { of: 'weekday' }, keep: 7 } },
    show: { cells: 'heat', beside: 'nothing' },
  },
  { kind: 'retention', start: rode, back: rode, every: 'week', range, show: { form: 'curve' } },
  { kind: 'habit', start: rode, period: 'week', range, show: { form: 'at least' } },
  { kind: 'growth', start: rode, interval: { unit: 'week' }, range, show: { form: 'states' } },
  { kind: 'gaps', start: rode, range, show: { form: 'gaps' } },
  {
    kind: 'overlap',
    sides: ['Monthly', 'Annual'].map((value) => ({
      rule: { hold: 'all', of: [{ kind: 'profile', where: { property: plan, op: 'is', values: [value] } }] },
      name: value,
    })),
    range,
  },
]
export const RULE = {
  hold: 'all',
  of: [
    { kind: 'profile', where: { property: plan, op: 'is', values: ['Monthly'] } },
    { kind: 'did', ...rode, count: { measure: 'events', test: { op: '≥', number: 3 } } },
    { hold: 'any', of: [{ kind: 'profile', where: { property: plan, op: 'has a value' } }] },
  ],
}
const people = { study: QUESTIONS[0] as unknown as Question, marks: [{ series: 0, bucket: '2026-10-05' }] }
const csv = 'person;event;when;fare\nada;Ride;08.10.2026 07:12;2,50\nbea;Ride;09.10.2026 08:00;3,00\n'
const lines = [1, 2, 3].map((n) => JSON.stringify(event(n))).join('\n')
const JSONL = { 'content-type': 'application/x-ndjson' }
const importPlan = {
  ...{ format: 'csv', gzip: false, encoding: 'utf-8', delimiter: ';', header: ['person', 'event', 'when', 'fare'] },
  columns: [{ role: 'person' }, { role: 'event' }, { role: 'time', format: 'day first' }, { role: 'ignore' }],
  ...{ rows: 'events', replace: false, zone: 'UTC' },
}
const derived = {
  ...{ of: 'event', name: 'speed', description: '', channels: false },
  recipe: { kind: 'arithmetic', formula: 'km / minutes' },
}

/** Parquet bytes of a small table. */
function parquet(): Buffer {
  const data = ['ada', 'bea']
  return Buffer.from(
    parquetWriteBuffer({
      columnData: [
        { name: 'person', data, type: 'STRING' },
        { name: 'event', data: ['Ride', 'Ride'], type: 'STRING' },
      ],
    }) as ArrayBuffer,
  )
}

/** Every door there is: the API, and each loader's and action's parameters. */
export function seeds(): Seed[] {
  const table = parquet()
  const mends = [
    { do: 'describe events', names: ['Ride completed'], said: { display: 'Rides' } },
    { do: 'merge event', from: 'ride_done_old', into: null },
    { do: 'plan', events: [{ name: 'Ride completed', properties: [{ name: 'minutes', kind: 'number' }] }] },
    { do: 'policy', policy: 'flag' },
    { do: 'event policy', event: 'Ride completed', policy: null },
    { do: 'let in', choice: { rule: 'clock ahead', event: 'Ride completed', property: null }, atReceipt: true },
    { do: 'discard', choice: { rule: 'refused', event: null, property: null } },
    { do: 'save derived', definition: derived },
    { do: 'save combined', definition: { name: 'Any pass', description: '', events: ['Pass bought'], properties: [] } },
    { do: 'unmerge', id: 123_456 },
    { do: 'remerge', id: 5 },
  ]
  const asking: Seed[] = QUESTIONS.flatMap((question): Seed[] => [
    { method: 'POST', path: '/api/v1/query', body: question, key: 'read', weight: 4 },
    { method: 'POST', path: '/api/v1/query/cost', body: question, key: 'read' },
    { method: 'GET', path: '/studies/new', query: { q: question } },
    { method: 'GET', path: '/ask/progress', query: { q: question } },
    { method: 'GET', path: '/download/study.json', query: { q: question } },
    { method: 'GET', path: '/download/table.csv', query: { q: question } },
  ])
  return [
    { method: 'POST', path: '/api/v1/events', body: event(1), key: 'write', weight: 12 },
    { method: 'POST', path: '/api/v1/events', body: [event(2), event(3), event(4)], key: 'write', weight: 12 },
    { method: 'POST', path: '/api/v1/events', body: Buffer.from(lines), headers: JSONL, key: 'write', weight: 6 },
    {
      ...{ method: 'POST', path: '/api/v1/events', body: gzipSync(lines), key: 'write', weight: 4 },
      headers: { ...JSONL, 'content-encoding': 'gzip' },
    },
    {
      method: 'POST',
      path: '/api/v1/events',
      body: Buffer.from('{}'),
      key: 'write',
      headers: { 'ce-specversion': '1.0', 'ce-type': 'Ride', 'ce-id': 'x', 'ce-source': 's', 'ce-subject': 'ada' },
    },
    {
      method: 'POST',
      path: '/api/v1/people',
      body: { person: 'p1', properties: { plan: 'Annual', age: 7 } },
      key: 'write',
      weight: 6,
    },
    ...asking,
    { method: 'POST', path: '/api/v1/segments/count', body: RULE, key: 'read', weight: 4 },
    { method: 'GET', path: '/api/v1/segments/regulars/people', query: { offset: 0, limit: 10 }, key: 'read' },
    { method: 'GET', path: '/api/v1/studies/new', key: 'read' },
    { method: 'GET', path: '/api/v1/catalog/export', query: { format: 'csv' }, key: 'read' },
    {
      method: 'GET',
      path: '/api/v1/events/export',
      query: { format: 'jsonl', from: '2026-11-21', until: '2026-11-22' },
      key: 'read',
    },
    { method: 'GET', path: '/' },
    { method: 'GET', path: '/people', query: { people, sort: { by: 'events' }, columns: ['plan'], page: 1 } },
    { method: 'GET', path: '/people', query: { rule: RULE } },
    { method: 'GET', path: '/people/segments/new', query: { rule: RULE } },
    { method: 'GET', path: '/people/segments' },
    { method: 'GET', path: '/people/known/rider-1', query: { event: 'Ride completed', page: 1 } },
    { method: 'GET', path: '/people/known/rider-1/retrace', query: { session: 1, of: people } },
    { method: 'GET', path: '/people/retrace', query: { of: people } },
    { method: 'GET', path: '/catalog/events/Ride completed' },
    { method: 'GET', path: '/catalog/live', query: { event: 'Ride completed', source: 'mobile app', person: 'x' } },
    { method: 'GET', path: '/catalog/quality' },
    { method: 'GET', path: '/catalog/derived', query: { of: 'event', name: 'speed' } },
    { method: 'GET', path: '/catalog/combined', query: { name: 'x' } },
    { method: 'GET', path: '/catalog/plan', query: { event: 'Ride completed' } },
    { method: 'GET', path: '/ask/values', query: { property: { of: 'event', name: 'bike_type' }, search: 'e' } },
    { method: 'GET', path: '/ask/segment', query: { rule: RULE, size: 'week', property: plan } },
    { method: 'GET', path: '/ask/selection', query: { people } },
    { method: 'GET', path: '/ask/usage', query: { q: QUESTIONS[6] } },
    { method: 'GET', path: '/ask/links', query: { kind: 'study', target: 'new' } },
    { method: 'GET', path: '/ask/version' },
    { method: 'GET', path: '/download/people.csv', query: { people } },
    { method: 'GET', path: '/download/rejected/none' },
    { method: 'GET', path: '/download/unknown/none' },
    { method: 'GET', path: '/shared/none' },
    { method: 'GET', path: '/import/none' },
    { method: 'GET', path: '/dashboards/none' },
    ...mends.map((body): Seed => ({ method: 'POST', path: '/ask/mend', body })),
    { method: 'POST', path: '/ask/preview', body: derived },
    {
      method: 'POST',
      path: '/studies',
      form: true,
      body: { intent: 'save new', q: JSON.stringify(QUESTIONS[3]), name: 'x', description: '' },
    },
    {
      method: 'POST',
      path: '/ask/annotations',
      form: true,
      body: { intent: 'save', annotation: '{"day":"2026-10-08","text":"x","tags":[],"study":null}' },
    },
    {
      method: 'POST',
      path: '/ask/links',
      form: true,
      body: { intent: 'revoke', kind: 'study', target: 'new', token: 'x' },
    },
    { method: 'POST', path: '/ask/selection', form: true, body: { people: JSON.stringify(people) } },
    {
      method: 'POST',
      path: '/ask/segment',
      form: true,
      body: { intent: 'save new', name: 'x', tags: '[]', rule: JSON.stringify(RULE) },
    },
    { method: 'POST', path: '/keys', form: true, body: { intent: 'revoke', id: 'none' } },
    {
      method: 'POST',
      path: '/workspace',
      form: true,
      body: { name: 'Saltmarsh Bikes', zone: 'Europe/Lisbon', firstDayOfWeek: '1' },
    },
    { method: 'POST', path: '/dashboards', form: true, body: { name: 'x' } },
    { method: 'POST', path: '/dashboards/none', body: { intent: 'rename', name: 'x', description: '' } },
    {
      method: 'POST',
      path: '/people/known/rider-1/retrace',
      form: true,
      body: { intent: 'note', event: 'x', text: 'y' },
    },
    { method: 'POST', path: '/import/preview', body: Buffer.from(csv), weight: 2 },
    { method: 'POST', path: '/import/preview', body: gzipSync(csv), weight: 2 },
    { method: 'POST', path: '/import/preview', body: Buffer.from(lines), weight: 2 },
    {
      method: 'POST',
      path: '/import/preview',
      query: { of: 'table' },
      body: { header: ['person', 'event'], rows: [['ada', 'Ride']] },
    },
    {
      method: 'PUT',
      path: '/import/upload',
      query: { plan: importPlan, name: 'a.csv' },
      body: Buffer.from(csv),
      weight: 2,
    },
    {
      method: 'PUT',
      path: '/import/upload',
      query: { plan: { ...importPlan, gzip: true }, name: 'a.gz' },
      body: gzipSync(csv),
    },
    {
      ...{ method: 'PUT', path: '/import/upload', body: table },
      query: {
        plan: {
          ...importPlan,
          format: 'parquet',
          delimiter: undefined,
          header: ['person', 'event'],
          columns: [{ role: 'person' }, { role: 'event' }],
        },
        name: 'a.parquet',
      },
    },
    { method: 'POST', path: '/segments/look', body: Buffer.from('id\nrider-1\nrider-2\n') },
    {
      method: 'PUT',
      path: '/segments/upload',
      query: { name: 'a list', tags: [], file: 'x.csv' },
      body: Buffer.from('id\nrider-1\n'),
    },
  ]
}
