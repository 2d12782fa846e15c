import { tippingComparison } from './tippingComparison.js'
import { creditOf } from '../core/analyses/attribution/credit.js'
import type { AttributionQuestion } from '../core/analyses/attribution/question.js'
import type { PathsQuestion } from '../core/analyses/paths/question.js'
import type { FunnelQuestion } from '../core/analyses/funnel/question.js'
import type { Question, Result } from '../core/analyses/registry.js'

type Row = Record<string, string | number | null>

export interface Comparison {
  name: string
  question: Question
  /** over events(person, type, time, seq), sorted by person, time, seq */
  sql: string
  equal(result: Result, rows: Row[]): boolean
}

const RANGE = { from: '2026-01-05', to: '2026-11-22' }
const show = { form: 'lines', as: 'number' } as const
const did = (name: string) => ({ event: { names: [name] } })
const FROM = Date.UTC(2026, 0, 5)
const UNTIL = `(SELECT MAX(time) + 1 FROM events)`
/**
 * The local week of an event. DuckDB gets the offsets of the year's two clock changes as numbers: asking its zone rules
 * for each event is three times slower, and would flatter us.
 */
const SUMMER = `CASE WHEN time >= ${Date.UTC(2026, 2, 29, 1)} AND time < ${Date.UTC(2026, 9, 25, 1)} THEN 3600000 ELSE 0 END`
const WEEK = `(time + ${SUMMER} - ${FROM}) // 604800000`

/** 26 whole weeks, the first of which begins at this moment. */
const WEEKS = { from: '2026-05-25', to: '2026-11-22' }
const WEEKS_FROM = Date.UTC(2026, 4, 24, 23)
const FIRST_WEEK = 20
const week = (time: string) => `(${WEEK.replaceAll('time', time)})`

/** Who came back in which week after their first start: by kind, week of the start, and how many weeks later. */
const RETENTION = `
  WITH s AS (
    SELECT person, any_value(kind) AS kind, min(struct_pack(t := time, s := seq)) AS first FROM events
    WHERE type = 'App opened' AND time >= ${WEEKS_FROM} AND time < ${UNTIL} GROUP BY person
  ), r AS (
    SELECT DISTINCT e.person, s.kind, ${week('s.first.t')} AS c, ${week('e.time')} - ${week('s.first.t')} AS k
    FROM events e JOIN s ON e.person = s.person
    WHERE e.type = 'Ride completed' AND (e.time > s.first.t OR (e.time = s.first.t AND e.seq > s.first.s))
  )
  SELECT kind::VARCHAR AS kind, c, k, count(*) AS n FROM r GROUP BY kind, c, k
  UNION ALL SELECT kind::VARCHAR, ${week('first.t')} AS c, -1, count(*) FROM s GROUP BY kind, c`

function retentionEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'retention') return false
  const ours = result.groups.flatMap(({ key, started, cells }) => {
    const name = key && 'value' in key ? String(key.value) : '…'
    return [
      ...started.map((n, c) => [name, c, -1, n]),
      ...cells.flatMap((row, c) => row.map(({ returned }, k) => [name, c, k, returned])),
    ].filter(([, , , n]) => n !== 0)
  })
  const theirs = rows.map(({ kind, c, k, n }) => [String(kind), Number(c) - FIRST_WEEK, Number(k), Number(n)])
  return JSON.stringify(ours.map(String).sort()) === JSON.stringify(theirs.map(String).sort())
}

/** On how many days of each month: person-months with exactly so many. */
const HABIT = `
  WITH days AS (
    SELECT DISTINCT person, (time + ${SUMMER} - ${Date.UTC(2026, 0, 1)}) // 86400000 AS day FROM events
    WHERE type = 'Ride completed' AND time >= ${Date.UTC(2026, 3, 30, 23)} AND time < ${Date.UTC(2026, 10, 1)}
  ), months AS (
    SELECT person, month(DATE '2026-01-01' + day::INTEGER) AS m, count(*) AS d FROM days GROUP BY person, m
  )
  SELECT m, d, count(*) AS n FROM months GROUP BY m, d`

function habitEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'habit') return false
  const ours = result.all.periods.flatMap((exactly, p) =>
    exactly.flatMap((n, d) => (n > 0 ? [`${p + 5} ${d + 1} ${n}`] : [])),
  )
  const theirs = rows.map(({ m, d, n }) => `${m} ${d} ${n}`)
  return JSON.stringify(ours.sort()) === JSON.stringify(theirs.sort())
}

/** New, retained and revived of each week, and who was not seen in the next; counted from weeks before the data begins. */
const GROWTH = `
  WITH active AS (
    SELECT DISTINCT person, (time + ${SUMMER} - ${FROM - 4 * 604_800_000}) // 604800000 - 4 AS w FROM events
    WHERE type = 'Ride completed' AND time < ${UNTIL}
  ), beside AS (
    SELECT w, lag(w) OVER person AS before, lead(w) OVER person AS after FROM active
    WINDOW person AS (PARTITION BY person ORDER BY w)
  )
  SELECT w, count(*) FILTER (before IS NULL) AS fresh, count(*) FILTER (before = w - 1) AS kept,
    count(*) FILTER (before < w - 1) AS revived, count(*) FILTER (after IS NULL OR after > w + 1) AS lost
  FROM beside GROUP BY w ORDER BY w`

function growthEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'growth') return false
  const of = (w: number) => rows.find((row) => Number(row.w) === w)
  const seenBefore = (w: number) => rows.reduce((sum, row) => (Number(row.w) < w ? sum + Number(row.fresh) : sum), 0)
  return result.steps.every(({ people }, i) => {
    const w = FIRST_WEEK + i
    const [now, before] = [of(w), of(w - 1)]
    if (!now || !before) return false
    const [kept, revived, lapsed] = [Number(now.kept), Number(now.revived), Number(before.lost)]
    const idle = seenBefore(w) - kept - revived - lapsed
    return (
      people.new === Number(now.fresh) &&
      people.retained === kept &&
      people.revived === revived &&
      people.lapsed === lapsed &&
      people.idle === idle
    )
  })
}

function trendEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'trend') return false
  const counts = rows.map(({ n }) => Number(n))
  return JSON.stringify(result.lines[0].all.values) === JSON.stringify(counts)
}

const DAY_MS = 86_400_000
const afterStart = `(e.time > a.f.t OR (e.time = a.f.t AND e.seq > a.f.s))`
const beforeStart = `(e.time < a.f.t OR (e.time = a.f.t AND e.seq < a.f.s))`

/**
 * All that a stream of six steps shows, repeats in a row being one: how many people have which event at which step, from
 * which event, with the median times from the start and from the step before, and the commonest whole ways with theirs.
 * @param starts the ways: person, start `f` as { t, s }
 * @param events which events `e` lie on the way of `a`
 * @param more what else is told of the steps `s`
 */
function steps(starts: string, events: string, start: string, { backward = false, more = '' } = {}): string {
  const order = backward ? 'ORDER BY time DESC, seq DESC' : 'ORDER BY time, seq'
  return `
  WITH a AS (${starts}), w AS (
    SELECT e.person, e.type::VARCHAR AS type, e.time, e.seq, a.f.t AS start
    FROM events e JOIN a ON e.person = a.person WHERE ${events}
  ), l AS (
    SELECT *, lag(type, 1, '${start}') OVER (PARTITION BY person ${order}) AS before FROM w
  ), n AS (
    SELECT *, row_number() OVER (PARTITION BY person ${order}) AS k FROM l WHERE type <> before
  ), s AS (
    SELECT *, lag(type, 1, '') OVER (PARTITION BY person ORDER BY k) AS previous,
      abs(time - start) AS took, abs(time - lag(time, 1, start) OVER (PARTITION BY person ORDER BY k)) AS step
    FROM n WHERE k <= 6
  ), ways AS (
    SELECT string_agg(type, ' › ' ORDER BY k) AS way, max(took) AS took FROM s GROUP BY person
  )
  SELECT 'all' AS what, 0 AS k, '' AS previous, '' AS type, count(*) AS n, NULL AS m FROM a
  UNION ALL SELECT 'node', k, '', type, count(*), median(took) FROM s GROUP BY k, type
  UNION ALL SELECT 'ribbon', k, previous, type, count(*), median(step) FROM s GROUP BY k, previous, type
  UNION ALL (SELECT 'way', 0, '', way, count(*) AS n, median(took) FROM ways GROUP BY way ORDER BY n DESC LIMIT 500)
  ${more}`
}

/** The eight commonest of each step. */
const SHOWN = `SELECT type FROM (
    SELECT type, row_number() OVER (PARTITION BY k ORDER BY count(*) DESC, type) AS place FROM s GROUP BY k, type
  ) WHERE place <= 8`

/** Of the events that are shown: how long those took who went over them on their way, and all others. */
const DETOURS = `
  UNION ALL SELECT 'over', 0, '', x.type, count(*), median(a.g.t - a.f.t)
    FROM (SELECT DISTINCT person, type FROM s) x JOIN a ON a.person = x.person
    WHERE x.type IN (${SHOWN}) GROUP BY x.type
  UNION ALL SELECT 'others', 0, '', x.type, count(*), median(a.g.t - a.f.t)
    FROM (SELECT DISTINCT type FROM s WHERE type IN (${SHOWN})) x CROSS JOIN a
    WHERE NOT EXISTS (SELECT 1 FROM s WHERE s.person = a.person AND s.type = x.type) GROUP BY x.type`

const STARTS = (event: string, which: 'min' | 'max') => `
  SELECT person, ${which}(struct_pack(t := time, s := seq)) AS f FROM events
  WHERE type = '${event}' AND time >= ${FROM} AND time < ${UNTIL} GROUP BY person`

/** Those who got from one event to another within a day, with the moment that they did. */
const GOT_THERE = (start: string, end: string) => `
  SELECT a.person, any_value(a.f) AS f, min(struct_pack(t := e.time, s := e.seq)) AS g
  FROM (${STARTS(start, 'min')}) a JOIN events e ON e.person = a.person
  WHERE e.type = '${end}' AND ${afterStart} AND e.time <= a.f.t + ${DAY_MS} GROUP BY a.person`

function stepsEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'paths') return false
  const { all, ways } = result
  const of = (what: string) => rows.filter((row) => row.what === what)
  if ((all.reached ?? all.ways) !== Number(of('all')[0]!.n)) return false
  const same = (row: Row | undefined, count: number, median: number | null) =>
    row !== undefined && Number(row.n) === count && Math.abs(Number(row.m) - median!) < 1
  const eventAt = (step: number, index: number) => {
    const place = step < 0 ? null : all.steps[step]!.nodes[index]!.place
    return place === null ? '' : 'event' in place ? place.event : null
  }
  const nodesEqual = all.steps.every(({ nodes, ribbons }, step) => {
    const theirs = of('node').filter(({ k }) => Number(k) === step + 1)
    const kept = nodes.filter(({ place }) => 'event' in place)
    const rest = nodes.find(({ place }) => 'rest' in place)?.count ?? 0
    const total = theirs.reduce((sum, { n }) => sum + Number(n), 0)
    const find = (list: Row[], type: string | null) => list.find((row) => row.type === type)
    return (
      kept.length === Math.min(8, theirs.length) &&
      kept.every(({ count, median }, i) => same(find(theirs, eventAt(step, i)), count, median)) &&
      rest === total - kept.reduce((sum, { count }) => sum + count, 0) &&
      ribbons.every(({ from, to, count, median }) => {
        const [before, type] = [eventAt(step - 1, from), eventAt(step, to)]
        if (before === null || type === null) return true
        const own = of('ribbon').filter(({ k, previous }) => Number(k) === step + 1 && previous === before)
        return same(find(own, type), count, median)
      })
    )
  })
  const detoursEqual = (result.detours?.over ?? []).every(({ node, count, others, median, othersMedian }) => {
    const find = (what: string) => of(what).find((row) => row.type === node.event)
    return same(find('over'), count, median) && same(find('others'), others, othersMedian)
  })
  const told = new Map(of('way').map((row) => [row.type, row]))
  const listed = ways.filter(({ nodes, more, count }) => nodes.length > 0 && !more && count > ways.at(-1)!.count)
  return (
    nodesEqual &&
    detoursEqual &&
    listed.length > 0 &&
    // A way of six steps that went on is the same list in SQL as one that ended there.
    listed.every(({ nodes, count, median }) => {
      const way = nodes.map(({ event }) => event).join(' › ')
      return (nodes.length === 6 && result.all.reached !== null) || same(told.get(way), count, median)
    })
  )
}

const WAYS: PathsQuestion = {
  ...{ kind: 'paths', start: did('App opened'), steps: 6, window: { count: 1, unit: 'day' }, range: RANGE, keep: 8 },
  show: { form: 'stream' },
}

const HALF_YEAR = { from: '2026-05-23', to: '2026-11-22' }
const HALF_FROM = Date.UTC(2026, 4, 22, 23)
// Counted from an earlier day, for whole division cuts towards zero; 23 May is day 142 of the year.
const DAY = `((time + ${SUMMER} - ${Date.UTC(2026, 0, 1)}) // 86400000 - 142)`
/** Sessions by gaps and islands: by the day of their first event, how many, of how many people, how long. */
const SESSIONS = `
  WITH g AS (
    SELECT person, time, seq, time - lag(time) OVER (PARTITION BY person ORDER BY time, seq) AS gap FROM events
  ), n AS (
    SELECT person, time, count(*) FILTER (WHERE gap IS NULL OR gap > 1800000)
      OVER (PARTITION BY person ORDER BY time, seq ROWS UNBOUNDED PRECEDING) AS session FROM g
  ), s AS (
    SELECT person, session, min(time) AS time, max(time) - min(time) AS length, count(*) AS events FROM n
    GROUP BY person, session
  )
  SELECT ${DAY} AS d, count(*) AS n, count(DISTINCT person) AS people, sum(length) AS ms, median(length) AS median,
    count(*) FILTER (WHERE events = 1) AS single
  FROM s WHERE time >= ${HALF_FROM} AND time < ${UNTIL} GROUP BY d ORDER BY d`

function sessionsEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'sessions') return false
  const days = result.all.values.filter(({ sessions }) => sessions > 0)
  return (
    days.length === rows.length &&
    rows.every((row, i) => {
      const { sessions, people, ms, single, median, open } = days[i]
      const same = [sessions, people, ms, single].every(
        (n, at) => n === Number([row.n, row.people, row.ms, row.single][at]),
      )
      // SQL knows of no session that is still going on.
      return same && (open > 0 || Math.abs(median! - Number(row.median)) < 1)
    })
  )
}

const THREE = ['Ride completed', 'Ride unlocked', 'App opened']

/** People of three events by day, in the ten largest groups of two breakdowns by the first event, and in the rest. */
const TWO_BREAKDOWNS = `
  WITH counted AS (
    SELECT person, type, ${DAY} AS day, bike, plan FROM events
    WHERE type IN ('${THREE.join("','")}') AND time >= ${HALF_FROM} AND time < ${UNTIL}
  ), kept AS (
    SELECT bike, plan, row_number() OVER (ORDER BY count(DISTINCT person) DESC, bike::VARCHAR, plan::VARCHAR) AS place
    FROM counted WHERE type = '${THREE[0]}' GROUP BY bike, plan ORDER BY place LIMIT 10
  )
  SELECT type::VARCHAR AS type, coalesce(k.place, 0) AS place, day, count(DISTINCT person) AS n
  FROM counted c LEFT JOIN kept k ON k.bike IS NOT DISTINCT FROM c.bike AND k.plan IS NOT DISTINCT FROM c.plan
  GROUP BY type, k.place, day`

/** The same numbers, whatever the order of equally large groups: each line's people by day, as a set. */
function groupsEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'trend') return false
  const theirs = new Map<string, number[]>()
  for (const { type, place, day, n } of rows) {
    const key = `${type} ${place}`
    if (!theirs.has(key)) theirs.set(key, new Array<number>(result.buckets.length).fill(0))
    theirs.get(key)![Number(day)] = Number(n)
  }
  const ours = result.lines.flatMap((line, index) =>
    line.groups.filter(({ totalPeople }) => totalPeople > 0).map((row) => `${THREE[index]} ${row.values.join()}`),
  )
  const other = [...theirs].map(([key, values]) => `${key.slice(0, key.lastIndexOf(' '))} ${values.join()}`)
  return JSON.stringify(ours.sort()) === JSON.stringify(other.sort())
}

function closeTo(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'trend') return false
  const { values } = result.lines[0].all
  return rows.length === values.length && rows.every(({ n }, i) => Math.abs(Number(n) - values[i]!) < 1e-6)
}

/**
 * A funnel of three steps, deepest attempt for each person: for each entry the earliest later second step, and after that
 * the earliest third, by window functions that look ahead over the person's events.
 */
const FUNNEL = (steps: [string, string, string], windowMs: number) => `
  WITH relevant AS (
    SELECT person, time, type, row_number() OVER (PARTITION BY person ORDER BY time, seq) AS place
    FROM events WHERE type IN ('${steps.join("','")}')
  ), ahead AS (
    SELECT person, time, type, place,
      min(CASE WHEN type = '${steps[1]}' THEN place END) OVER next AS second_place,
      min(CASE WHEN type = '${steps[1]}' THEN time END) OVER next AS second_time
    FROM relevant
    WINDOW next AS (PARTITION BY person ORDER BY place ROWS BETWEEN 1 FOLLOWING AND UNBOUNDED FOLLOWING)
  ), third AS (
    SELECT person, place,
      min(CASE WHEN type = '${steps[2]}' THEN time END) OVER (PARTITION BY person ORDER BY place ROWS BETWEEN 1 FOLLOWING AND UNBOUNDED FOLLOWING) AS third_time
    FROM relevant
  ), attempts AS (
    SELECT e.person, 1
      + CASE WHEN e.second_time <= e.time + ${windowMs} THEN 1
          + CASE WHEN t.third_time <= e.time + ${windowMs} THEN 1 ELSE 0 END
        ELSE 0 END AS depth
    FROM ahead e LEFT JOIN third t ON t.person = e.person AND t.place = e.second_place
    WHERE e.type = '${steps[0]}' AND e.time >= ${FROM} AND e.time < ${UNTIL}
  ), deepest AS (SELECT person, max(depth) AS depth FROM attempts GROUP BY person)
  SELECT count(*) AS one, count(*) FILTER (depth >= 2) AS two, count(*) FILTER (depth >= 3) AS three FROM deepest`

/** Five steps, two with filters, each kind of rider by itself, half a year. */
export const FIVE_STEPS: FunnelQuestion = {
  kind: 'funnel',
  steps: [
    did('App opened'),
    did('Map viewed'),
    did('Dock chosen'),
    {
      ...did('Ride unlocked'),
      where: { property: { of: 'event', name: 'bike_type' }, op: 'is', values: ['pedal', 'cargo'] },
    },
    { ...did('Ride completed'), where: { property: { of: 'event', name: 'minutes' }, op: '≥', number: 8 } },
  ],
  window: { count: 7, unit: 'day' },
  range: HALF_YEAR,
  breakdowns: [{ by: { of: 'person', name: 'rider_kind' }, keep: 10 }],
}

const FIVE_TESTS = [
  `type = 'App opened'`,
  `type = 'Map viewed'`,
  `type = 'Dock chosen'`,
  `type = 'Ride unlocked' AND bike IN ('pedal', 'cargo')`,
  `type = 'Ride completed' AND minutes >= 8`,
]

const WITHIN = 7 * 86_400_000
/**
 * For each entry the next row of each step in turn, by joins that look up the nearest later row, kept as tables on the
 * way, which is three times as fast as without and as by window functions; then the deepest.
 */
const FIVE_STEPS_SQL = `
  WITH placed AS (
    SELECT person, kind, time, row_number() OVER (ORDER BY person, time, seq) AS place,
      CASE ${FIVE_TESTS.map((each, i) => `WHEN ${each} THEN ${i + 1}`).join(' ')} END AS step
    FROM events WHERE time >= ${HALF_FROM} AND (${FIVE_TESTS.map((each) => `(${each})`).join(' OR ')})
  ),
  ${[1, 2, 3, 4, 5].map((k) => `s${k} AS MATERIALIZED (SELECT person, kind, time, place FROM placed WHERE step = ${k})`).join(',')},
  a1 AS (SELECT person, kind, time AS entry, place FROM s1),
  ${[2, 3, 4, 5]
    .map(
      (k) => `a${k} AS MATERIALIZED (SELECT a.* EXCLUDE (place), n.place, n.time AS t${k} FROM a${k - 1} a
    ASOF LEFT JOIN s${k} n ON a.person = n.person AND a.place < n.place)`,
    )
    .join(',')},
  deepest AS (
    SELECT person, kind, max(1 + ${[2, 3, 4, 5].reduceRight((deeper, k) => `CASE WHEN t${k} <= entry + ${WITHIN} THEN 1 + ${deeper} ELSE 0 END`, '0')}) AS depth
    FROM a5 GROUP BY person, kind
  )
  SELECT kind::VARCHAR AS kind, ${[1, 2, 3, 4, 5].map((k) => `count(*) FILTER (depth >= ${k}) AS n${k}`).join(', ')}
  FROM deepest GROUP BY kind`

function funnelGroupsEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'funnel') return false
  const ours = result.groups.map(
    ({ key, steps }) => `${key && 'value' in key ? String(key.value) : ''} ${steps.map(({ people }) => people).join()}`,
  )
  const theirs = rows.map((row) => `${String(row.kind)} ${[1, 2, 3, 4, 5].map((k) => Number(row[`n${k}`])).join()}`)
  return JSON.stringify(ours.sort()) === JSON.stringify(theirs.sort())
}

/** What rides by kind of bike came before a pass: touches that many conversions share. */
export const CREDIT: AttributionQuestion = {
  kind: 'attribution',
  goals: [did('Pass bought')],
  range: HALF_YEAR,
  by: { of: 'event', name: 'bike_type' },
  lookBack: { count: 30, unit: 'day' },
  models: ['first', 'last', 'linear', 'decay', '40-20-40', '20-20-60'],
  show: { form: 'table' },
}

const CREDIT_SQL = `
  WITH c AS (
    SELECT person, time AS at, row_number() OVER () AS id FROM events
    WHERE type = 'Pass bought' AND time >= ${HALF_FROM} AND time < ${UNTIL}
  ), j AS (
    SELECT c.id, t.bike, row_number() OVER touched AS place, count(*) OVER (PARTITION BY c.id) AS n,
      pow(2, (t.time - c.at) / ${7 * DAY_MS}.0) AS w
    FROM c JOIN (SELECT person, time, seq, bike FROM events WHERE bike IS NOT NULL) t
      ON t.person = c.person AND t.time <= c.at AND t.time >= c.at - ${30 * DAY_MS}
    WINDOW touched AS (PARTITION BY c.id ORDER BY t.time, t.seq)
  ), shared AS (SELECT *, sum(w) OVER (PARTITION BY id) AS whole FROM j)
  SELECT bike::VARCHAR AS value, count(*) FILTER (place = 1) AS "first", count(*) FILTER (place = n) AS "last",
    sum(1.0 / n) AS linear, sum(w / whole) AS decay,
    ${[
      ['0.4', '0.2', '0.4'],
      ['0.2', '0.2', '0.6'],
    ]
      .map(
        ([first, middle, last]) => `sum(CASE WHEN n = 1 THEN 1
      WHEN n = 2 THEN (CASE WHEN place = 1 THEN ${first} ELSE ${last} END) / (${first} + ${last})
      WHEN place = 1 THEN ${first} WHEN place = n THEN ${last} ELSE ${middle} / (n - 2) END) AS m${first.slice(2)}`,
      )
      .join(', ')}
  FROM shared GROUP BY value`

function creditEqual(result: Result, rows: Row[]): boolean {
  if (result.kind !== 'attribution') return false
  const [{ all }, ...more] = result.goals
  if (more.length > 0 || rows.length !== result.values.length) return false
  return result.values.every((key, place) => {
    const row = rows.find(({ value }) => 'value' in key && key.value === value)
    return CREDIT.models.every((model, at) => {
      const ours = creditOf(all.credit[place], model)!
      const theirs = Number(row && Object.values(row)[at + 1])
      return Math.abs(ours - theirs) <= 1e-6 * Math.max(1, theirs)
    })
  })
}

export const comparisons: Comparison[] = [
  {
    name: 'Trend: people each week',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: 'people' }],
      every: 'week',
      range: RANGE,
      show,
    },
    sql: `SELECT ${WEEK} AS week, count(DISTINCT person) AS n FROM events
      WHERE type = 'Ride completed' AND time >= ${FROM} AND time < ${UNTIL} GROUP BY week ORDER BY week`,
    equal: trendEqual,
  },
  {
    name: 'Trend: events each week',
    question: {
      kind: 'trend',
      series: [{ ...did('App opened'), measure: 'events' }],
      every: 'week',
      range: RANGE,
      show,
    },
    sql: `SELECT ${WEEK} AS week, count(*) AS n FROM events
      WHERE type = 'App opened' AND time >= ${FROM} AND time < ${UNTIL} GROUP BY week ORDER BY week`,
    equal: trendEqual,
  },
  {
    name: 'Trend: people of three events each day, two breakdowns',
    question: {
      kind: 'trend',
      series: THREE.map((name) => ({ ...did(name), measure: 'people' as const })),
      every: 'day',
      range: HALF_YEAR,
      breakdowns: [
        { by: { of: 'event', name: 'bike_type' }, keep: 10 },
        { by: { of: 'person', name: 'plan' }, keep: 10 },
      ],
      show,
    },
    sql: TWO_BREAKDOWNS,
    equal: groupsEqual,
  },
  {
    name: 'Trend: 90th percentile of minutes each week',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: '90th percentile', of: { of: 'event', name: 'minutes' } }],
      every: 'week',
      range: RANGE,
      show,
    },
    sql: `SELECT ${WEEK} AS week, quantile_cont(minutes, 0.9) AS n FROM events
      WHERE type = 'Ride completed' AND time >= ${FROM} AND time < ${UNTIL} GROUP BY week ORDER BY week`,
    equal: closeTo,
  },
  {
    name: 'Trend: people in the last 28 days, each day',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: 'people in the last days', days: 28 }],
      every: 'day',
      range: HALF_YEAR,
      show,
    },
    // Each day that somebody was active counts for that day and the 27 after it.
    sql: `WITH active AS (
        SELECT DISTINCT person, ${DAY} AS day FROM events
        WHERE type = 'Ride completed' AND time >= ${HALF_FROM - 27 * 86_400_000} AND time < ${UNTIL}
      )
      SELECT d.day, count(DISTINCT person) AS n FROM range(0, (SELECT max(day) + 1 FROM active)) d(day)
      JOIN active a ON a.day BETWEEN d.day - 27 AND d.day GROUP BY d.day ORDER BY d.day`,
    equal: trendEqual,
  },
  {
    name: 'Funnel: three steps in 7 days',
    question: {
      kind: 'funnel',
      steps: [did('App opened'), did('Dock chosen'), did('Ride completed')],
      window: { count: 7, unit: 'day' },
      range: RANGE,
    },
    sql: FUNNEL(['App opened', 'Dock chosen', 'Ride completed'], 7 * 86_400_000),
    equal: (result, [row]) =>
      result.kind === 'funnel' &&
      JSON.stringify(result.all.steps.map(({ people }) => people)) ===
        JSON.stringify([row.one, row.two, row.three].map(Number)),
  },
  {
    name: 'Funnel: five steps with filters in 7 days, each kind of rider, half a year',
    question: FIVE_STEPS,
    sql: FIVE_STEPS_SQL,
    equal: funnelGroupsEqual,
  },
  {
    name: 'Retention: weekly, 26 weeks, each kind of rider',
    question: {
      kind: 'retention',
      start: did('App opened'),
      back: did('Ride completed'),
      every: 'week',
      range: WEEKS,
      breakdowns: [{ by: { of: 'person', name: 'rider_kind' }, keep: 10 }],
      show: { form: 'curve' },
    },
    sql: RETENTION,
    equal: retentionEqual,
  },
  {
    name: 'Habit: days in a month, 6 months',
    question: {
      kind: 'habit',
      start: did('Ride completed'),
      period: 'month',
      range: { from: '2026-05-01', to: '2026-10-31' },
      show: { form: 'at least' },
    },
    sql: HABIT,
    equal: habitEqual,
  },
  {
    name: 'Growth accounting: weekly, 26 weeks',
    question: {
      kind: 'growth',
      start: did('Ride completed'),
      interval: { unit: 'week' },
      range: WEEKS,
      show: { form: 'states' },
    },
    sql: GROWTH,
    equal: growthEqual,
  },
  {
    name: 'Sessions: by day, half a year',
    question: {
      ...{ kind: 'sessions', measure: 'median length', every: 'day', range: HALF_YEAR },
      show: { form: 'over time' },
    },
    sql: SESSIONS,
    equal: sessionsEqual,
  },
  {
    name: 'Attribution: six models by a property, half a year, looking back 30 days',
    question: CREDIT,
    sql: CREDIT_SQL,
    equal: creditEqual,
  },
  {
    name: 'Paths: forward, six steps of eight events, in a day',
    question: WAYS,
    sql: steps(STARTS('App opened', 'min'), `${afterStart} AND e.time <= a.f.t + ${DAY_MS}`, 'App opened'),
    equal: stepsEqual,
  },
  {
    name: 'Paths: backward, six steps of eight events, in a day',
    question: { ...WAYS, start: did('Ride completed'), backward: true },
    sql: steps(STARTS('Ride completed', 'max'), `${beforeStart} AND e.time >= a.f.t - ${DAY_MS}`, 'Ride completed', {
      backward: true,
    }),
    equal: stepsEqual,
  },
  {
    name: 'Paths: between two events, six steps of eight events, in a day',
    question: { ...WAYS, end: did('Ride completed') },
    sql: steps(
      GOT_THERE('App opened', 'Ride completed'),
      `${afterStart} AND (e.time < a.g.t OR (e.time = a.g.t AND e.seq <= a.g.s))`,
      'App opened',
      { more: DETOURS },
    ),
    equal: stepsEqual,
  },
  tippingComparison,
]
