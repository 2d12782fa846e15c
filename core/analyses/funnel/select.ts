import { groupId } from '../../questions/groupId.js'
import { limitMs } from '../../questions/limits.js'
import type { FunnelPlan, LookPlan } from './shape.js'
import { own } from '../../names.js'
import type { EventLog } from '../../log/log.js'
import { bucketAt } from '../../time/buckets.js'
import type { Attempt, Finder } from './attempts.js'
import { apartRows, Chosen, endOfAfter, isLostFor, sequenceKey, sequenceOf } from './look.js'
import { isOpen, lastStep } from './tally.js'
import type { FunnelMark } from './marks.js'

/** Finds a mark's people among those with attempts. */
export interface MarkTest {
  /** which of the times asked about */
  span: number
  /** a bucket's own time, where it is a funnel of its own; left out: the whole of it */
  within?: { from: number; until: number }
  /** id of the group; null = whichever */
  group: string | null
  /** whether an attempt is counted in the mark */
  holds(attempt: Attempt, finder: Finder, index: number, person: number): boolean
  /** asked once a person's attempts have been seen, where only one of them is looked at */
  chosen?(index: number): { attempt: Attempt; holds: boolean } | null
  /** the row that a look at the person begins with */
  rowOf(attempt: Attempt): number
}

/** @returns null where a mark is none of a funnel's, or of one that was asked otherwise */
export function markTest(log: EventLog, plan: FunnelPlan, mark: FunnelMark): MarkTest | null {
  const last = (attempt: Attempt) => attempt.rows[lastStep(plan, attempt)]
  const none = { span: 0, group: null, rowOf: last }
  switch (mark.kind) {
    case 'step': {
      const span = mark.before ? 1 : 0
      const bucket = mark.bucket === undefined ? null : plan.buckets.findIndex(({ key }) => key === mark.bucket)
      if (span >= plan.spans.length || mark.step >= plan.steps.length || bucket === -1) return null
      const own = bucket === null ? null : plan.buckets[bucket]
      return {
        span,
        // Attempts that share events are followed together, whenever they begin.
        ...(own && !plan.rules.attempts
          ? { within: { from: Math.max(own.start, plan.grid.from), until: Math.min(own.end, plan.grid.until) } }
          : {}),
        group: mark.group ? groupId(mark.group) : null,
        holds: (attempt) => {
          if (bucket !== null && bucketAt(plan.grid, log.time[attempt.rows[0]]) !== bucket) return false
          if (mark.what === 'reached') return attempt.rows[mark.step] >= 0
          if (attempt.depth >= plan.required.length || lastStep(plan, attempt) !== mark.step) return false
          return mark.what === 'lost' || isOpen(log, plan, attempt) === (mark.what === 'open')
        },
        rowOf: ({ rows }) => rows[mark.step],
      }
    }
    case 'took': {
      const { from, to, least, under = Infinity } = mark
      return {
        ...none,
        group: mark.group ? groupId(mark.group) : null,
        holds({ rows }) {
          if (!(rows[from] >= 0 && rows[to] >= 0)) return false
          const took = log.time[rows[to]] - log.time[rows[from]]
          return took >= least && took < under
        },
        rowOf: ({ rows }) => rows[to],
      }
    }
    case 'repeats': {
      const { step, times, more } = mark
      const next = plan.required[plan.required.indexOf(step) + 1]
      if (plan.rules.order === 'any order' || !plan.required.includes(step) || next === undefined) return null
      return {
        ...none,
        holds({ rows }, finder) {
          if (rows[next] < 0) return false
          const done = finder.matches(step, rows[step], rows[next])
          return more ? done >= times : done === times
        },
        rowOf: ({ rows }) => rows[step],
      }
    }
    case 'after':
    case 'with':
    case 'way':
      return lookTest(log, plan, mark)
    default:
      return null
  }
}

/** Marks of a look count people by one of their attempts. */
function lookTest(
  log: EventLog,
  plan: FunnelPlan,
  mark: FunnelMark & { kind: 'after' | 'with' | 'way' },
): MarkTest | null {
  const { look } = plan
  if (!look) return null
  const chosen = new Chosen(log, plan, look)
  const test = testOf(log, plan, look, mark)
  if (!test) return null
  return {
    span: 0,
    group: null,
    holds(attempt) {
      chosen.consider(attempt)
      return false
    },
    chosen(index) {
      const attempts = chosen.take()
      if (attempts.length === 0) return null
      // Who did nothing afterwards did so after each of their losses.
      const nothing = mark.kind === 'after' && mark.event === null
      const found = attempts.find((attempt) => test(attempt, index) !== nothing)
      return { attempt: found ?? attempts[0], holds: (found === undefined) === nothing }
    },
    rowOf: (attempt) => attempt.rows[lastStep(plan, attempt)],
  }
}

type Test = (attempt: Attempt, index: number) => boolean

function testOf(
  log: EventLog,
  plan: FunnelPlan,
  look: LookPlan,
  mark: FunnelMark & { kind: 'after' | 'with' | 'way' },
): Test | null {
  if (mark.kind === 'after' && look.form === 'after') {
    const within = mark.within === 'session' ? null : limitMs(mark.within)
    const asked = { ...look, step: mark.step, withinMs: within }
    const type = mark.event === null ? null : (own(look.codes, mark.event) ?? -1)
    return (attempt, index) => {
      if (!isLostFor(log, plan, attempt, mark.step)) return false
      const start = attempt.rows[mark.step]
      const end = endOfAfter(log, plan, asked, start, index)
      return type === null ? end === start + 1 : has(log, look, type, start + 1, end)
    }
  }
  if (mark.kind === 'with' && look.form === 'apart') {
    const wanted = own(look.codes, mark.event) ?? -1
    const { property } = mark
    const columns = property === undefined ? null : look.columns.filter(({ name }) => name === property)
    return (attempt, index) => {
      if ((attempt.depth === plan.required.length) !== mark.through) return false
      const [from, to] = apartRows(log, plan, attempt, index)
      if (!columns) return has(log, look, wanted, from, to)
      for (let row = from; row < to; row++) {
        const type = log.type[row]
        if (look.counts[type] !== wanted) continue
        const found = columns.find((each) => each.type === type)
        const code = found ? (log.columns[type]?.get(found.property)?.codes?.[log.slot[row]] ?? 0) : 0
        if (code === 0) continue
        for (const each of found!.lists.get(code) ?? [code]) if (found!.values[each] === mark.value) return true
      }
      return false
    }
  }
  if (mark.kind === 'way' && look.form === 'between') {
    const wanted = mark.events.map((event) => own(look.codes, event) ?? -1)
    return (attempt, index) => {
      if (attempt.depth < plan.required.length) return false
      const sequence = sequenceOf(log, plan, look, attempt, index)
      return mark.only ? sequence.includes(wanted[0]) : sequenceKey(sequence) === wanted.join(',')
    }
  }
  return null
}

function has({ type }: EventLog, { counts }: LookPlan, wanted: number, from: number, to: number): boolean {
  for (let row = from; row < to; row++) if (counts[type[row]] === wanted) return true
  return false
}
