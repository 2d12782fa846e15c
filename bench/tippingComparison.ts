import type { Question, Result } from '../core/analyses/registry.js'

const DAY = 86_400_000
const [FROM, UNTIL] = [Date.UTC(2026, 1, 1), Date.UTC(2026, 7, 31, 23)]

/** Of those who signed up: who had three rides in seven days, and who was back in the fourth week after, to the millisecond. */
const question: Question = {
  kind: 'tipping',
  start: { event: { names: ['Signed up'] } },
  range: { from: '2026-02-01', to: '2026-08-31' },
  days: 7,
  goal: { event: { names: ['App opened'] } },
  outcome: { unit: 'week', period: 4, by: 'clock' },
  show: { form: 'strips' },
}

const sql = `
  WITH s AS (
    SELECT person, min(struct_pack(t := time, s := seq)) AS first FROM events WHERE type = 'Signed up' GROUP BY person
  ), b AS (SELECT * FROM s WHERE first.t >= ${FROM} AND first.t < ${UNTIL}
  ), e AS (
    SELECT b.person,
      count(*) FILTER (WHERE e.type = 'Ride completed' AND e.time <= b.first.t + ${7 * DAY}) AS rides,
      count(*) FILTER (WHERE e.type = 'App opened' AND e.time >= b.first.t + ${28 * DAY} AND e.time < b.first.t + ${35 * DAY}) > 0 AS came
    FROM events e JOIN b ON e.person = b.person
    WHERE e.type IN ('Ride completed', 'App opened') AND (e.time > b.first.t OR (e.time = b.first.t AND e.seq > b.first.s))
    GROUP BY b.person
  )
  SELECT (SELECT count(*) FROM b) AS base, count(*) FILTER (WHERE came) AS came,
    count(*) FILTER (WHERE rides >= 3) AS did, count(*) FILTER (WHERE rides >= 3 AND came) AS both FROM e`

function equal(result: Result, [row]: Record<string, unknown>[]): boolean {
  if (result.kind !== 'tipping') return false
  const rides = result.behaviours.find(({ event, by }) => event === 'Ride completed' && by === undefined)
  const at = rides?.counts.find(({ times }) => times === 3)
  const ours = [result.base, result.came, at?.people ?? 0, at?.came ?? 0]
  return JSON.stringify(ours) === JSON.stringify([row.base, row.came, row.did, row.both].map(Number))
}

export const tippingComparison = {
  name: 'Tipping point: all events at 20 counts; DuckDB one event at one count',
  ...{ question, sql, equal },
}
