import { sessionUnits, usualSessions, type SessionsQuestion, type SessionUnit } from '../analyses/sessions/question.js'
import { usualTrend, type TrendQuestion } from '../analyses/trend/question.js'
import type { Condition, EventPick } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import { DEPTHS, POSITION } from '../sessions/depth.js'
import type { Said, SaidOfSessions } from './said.js'

/**
 * A study of sessions, or of the place of an event in them.
 * @param picks  the events that were named; none = all sessions
 * @param people conditions on people that stand by themselves
 */
export function buildSessions(
  said: Said,
  asked: SaidOfSessions,
  picks: readonly EventPick[],
  people: readonly Condition[],
  splits: readonly Split[],
): SessionsQuestion | TrendQuestion | null {
  const [first] = picks
  const among =
    people.length > 0
      ? { among: { rule: { hold: 'all' as const, of: people.map((where) => ({ kind: 'profile' as const, where })) } } }
      : {}
  const range = said.range ? { range: said.range } : {}
  if (asked.depth) {
    // Of anything at all it would be told of how long sessions are.
    if (!first || 'activity' in first.event) return null
    const usual = usualTrend('')
    return {
      ...{ ...usual, series: [{ ...usual.series[0], ...first }], ...range, ...among },
      ...(said.every ? { every: said.every } : {}),
      breakdowns: [{ by: POSITION, keep: 10, cuts: { at: DEPTHS } }, ...splits].slice(0, 3),
      show: { form: 'bars', as: 'number' },
    }
  }
  const usual = usualSessions()
  const every = sessionUnits.includes(said.every as SessionUnit) ? { every: said.every as SessionUnit } : {}
  return {
    ...{ ...usual, measure: asked.measure ?? usual.measure, ...every, ...range, ...among },
    ...(first ? { holds: first } : {}),
    ...(said.compare ? { compare: said.compare } : {}),
    ...(splits.length > 0 ? { breakdowns: splits.slice(0, 2) } : {}),
    show: {
      form: asked.ways ? 'ways' : asked.over === undefined ? 'over time' : 'lengths',
      ...(asked.over === undefined ? {} : { over: asked.over }),
    },
  }
}
