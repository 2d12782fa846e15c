import type { DuckDBConnection } from '@duckdb/node-api'
import type { RuleGroup } from '../core/segments/rule.js'
import type { Dowser } from '../server/index.js'

/** A rule of three conditions: two on different events in different windows, one on the profile. */
const RULE: RuleGroup = {
  hold: 'all',
  of: [
    {
      ...{ kind: 'did', event: { names: ['Ride completed'] } },
      count: { measure: 'days', test: { op: '≥', number: 8 } },
      window: { before: [31, 60] },
    },
    { kind: 'did', event: { names: ['App opened'] }, not: true, window: { last: 14 } },
    {
      kind: 'profile',
      where: { property: { of: 'person', name: 'rider_kind' }, op: 'is', values: ['commuter', 'student'] },
    },
  ],
}

const START = Date.UTC(2026, 0, 1)
const SUMMER = `CASE WHEN time >= ${Date.UTC(2026, 2, 29, 1)} AND time < ${Date.UTC(2026, 9, 25, 1)} THEN 3600000 ELSE 0 END`
/** The local day of an event, counted from 1 January. */
const DAY = `((time + ${SUMMER} - ${START}) // 86400000)`
const TODAY = `(SELECT ${DAY} FROM events ORDER BY time DESC LIMIT 1)`

const COUNT_SQL = `
  WITH now AS MATERIALIZED (SELECT ${TODAY} AS today),
  acts AS (
    SELECT person, type, kind, ${DAY} AS day FROM events, now
    WHERE type IN ('Ride completed', 'App opened') AND kind IN ('commuter', 'student') AND ${DAY} > today - 60
  )
  SELECT count(*) AS n FROM (
    SELECT person FROM acts, now GROUP BY person
    HAVING count(DISTINCT day) FILTER (type = 'Ride completed' AND day <= today - 30) >= 8
       AND count(*) FILTER (type = 'App opened' AND day > today - 14) = 0
  )`

/** As of the end of each week, Monday to Sunday, from the first one to the one that is still open. */
const SIZE_SQL = `
  WITH now AS MATERIALIZED (SELECT ${TODAY} AS today),
  weeks AS (SELECT w, least(w * 7 + 3, today) AS last_day FROM now, range(0, 60) r(w) WHERE w * 7 - 3 <= today),
  acts AS MATERIALIZED (
    SELECT DISTINCT person, type, ${DAY} AS day FROM events
    WHERE type IN ('Ride completed', 'App opened') AND kind IN ('commuter', 'student')
  ),
  held AS (
    SELECT w, person FROM weeks JOIN acts ON day BETWEEN last_day - 59 AND last_day
    GROUP BY w, last_day, person
    HAVING count(*) FILTER (type = 'Ride completed' AND day <= last_day - 30) >= 8
       AND count(*) FILTER (type = 'App opened' AND day > last_day - 14) = 0
  )
  SELECT w, count(person) AS n FROM weeks LEFT JOIN held USING (w) GROUP BY w ORDER BY w`

/** Counts a segment of three conditions, and its size week by week, beside the same in SQL of DuckDB. */
export async function segmentCosts(
  dowser: Dowser,
  duck: DuckDBConnection,
  time: (work: () => Promise<unknown>) => Promise<number>,
  say: (line: string) => void,
): Promise<Record<string, unknown>[]> {
  let asked = 0
  // A field that no plan reads makes it a rule that has not been asked before.
  const fresh = () => ({ ...RULE, asked: asked++ }) as RuleGroup
  const count = async () => {
    const reply = await dowser.segments.count(fresh())
    if ('faults' in reply) throw new Error(JSON.stringify(reply.faults))
    return reply.members
  }
  const now = async () => {
    const reply = await dowser.people({ rule: fresh() }, { offset: 0, limit: 0 })
    if ('faults' in reply) throw new Error(JSON.stringify(reply.faults))
    return reply.count
  }
  const size = async () => {
    const reply = await dowser.segments.size(fresh(), 'week', null)
    if ('faults' in reply) throw new Error(JSON.stringify(reply.faults))
    return reply.points.map(({ members }) => members)
  }
  const numbers = async (sql: string) => (await duck.runAndReadAll(sql)).getRowObjectsJson().map(({ n }) => Number(n))
  const rows: Record<string, unknown>[] = []
  const compare = async (name: string, mine: () => Promise<unknown>, sql: string) => {
    const [ours, theirs] = [await mine(), await numbers(sql)]
    const equal = JSON.stringify([ours].flat()) === JSON.stringify(theirs)
    const dowserMs = await time(mine)
    const duckdbMs = await time(() => duck.runAndReadAll(sql))
    say(
      `${name}: Dowser ${dowserMs.toFixed(1)} ms, DuckDB ${duckdbMs.toFixed(1)} ms, ${(duckdbMs / dowserMs).toFixed(1)} × as fast, answers ${equal ? 'equal' : 'DIFFERENT'}`,
    )
    if (!equal) say(`${JSON.stringify(ours)} / ${JSON.stringify(theirs)}`)
    const times = Number((duckdbMs / dowserMs).toFixed(1))
    rows.push({ name, dowserMs: Number(dowserMs.toFixed(1)), duckdbMs: Number(duckdbMs.toFixed(1)), times, equal })
    return dowserMs
  }
  const one = await compare('Segment: three conditions, how many now', now, COUNT_SQL)
  await compare('Segment: the same as its page asks: each condition too, and a week ago', count, COUNT_SQL)
  const weeks = (await size()).length
  const all = await compare(`Segment: its size as of the end of each of ${weeks} weeks`, size, SIZE_SQL)
  say(`${weeks} weeks cost ${(all / one).toFixed(1)} × one count`)
  rows.push({ name: `size over ${weeks} weeks ÷ one count`, times: Number((all / one).toFixed(1)) })
  return rows
}
