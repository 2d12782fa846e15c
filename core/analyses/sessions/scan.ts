import { rowMatcher } from '../../filters/picks.js'
import { bindGrouped, groupFinder, isIn, mergeFound } from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId } from '../../questions/groupId.js'
import { eachSession, type SessionRows } from '../../sessions/each.js'
import { Growing } from '../../stats/pieces.js'
import { bucketAt } from '../../time/buckets.js'
import type { SessionsMark } from './marks.js'
import {
  CLUSTERED,
  FIGURE_COUNT,
  FIGURES,
  type SessionCounts,
  type SessionPeriod,
  type SessionsPart,
  type SessionsPlan,
} from './plan.js'
import { lengthAt, LENGTHS } from './question.js'

/** Visits the sessions that are asked about (how numbers are counted, 14), with the period and bucket each begins in. */
export function eachAsked(
  log: EventLog,
  people: PersonRange,
  plan: SessionsPlan,
  visit: (session: SessionRows, bucket: number, period: number) => void,
): void {
  const { time } = log
  const { periods, first, cutsPlan, now, among } = plan
  const holds = plan.holds && rowMatcher(plan.holds, log)
  const held = ({ start, end, person }: SessionRows) => {
    for (let row = start; row < end; row++) if (holds!.of[log.type[row]] !== 0 && holds!.holds(row, person)) return true
    return false
  }
  eachSession(log, people, cutsPlan, now, among, (session) => {
    if (first && session.number > 1) return
    const at = time[session.start]
    for (let period = 0; period < periods.length; period++) {
      const { grid } = periods[period]
      if (at < grid.from || at >= grid.until) continue
      if (holds !== null && !held(session)) return
      visit(session, bucketAt(grid, at), period)
    }
  })
}

export function scanSessions(log: EventLog, people: PersonRange, plan: SessionsPlan): SessionsPart {
  if (plan.pass !== 'count') {
    const finder = groupFinder(log, plan)
    const own = { ...plan, periods: plan.periods.slice(0, 1) }
    eachAsked(log, people, own, ({ start, person }) => finder.meet(start, person))
    return finder.found()
  }
  const counters = plan.periods.map((period) => counter(log, plan, period))
  eachAsked(log, people, plan, (session, bucket, period) => counters[period].add(session, bucket))
  return { pass: 'count', counts: counters.map((each) => each.done()) }
}

/** Counts the sessions of one period. */
function counter(log: EventLog, plan: SessionsPlan, { buckets }: SessionPeriod) {
  const { time, type } = log
  const { currentOf, overMs } = plan
  const many = buckets.length
  const all = plan.keys.length
  const types = plan.names.length
  const wide = LENGTHS.length + 1
  const figures = new Float64Array((all + 1) * (many + 1) * FIGURE_COUNT)
  const seen = new Uint32Array((all + 1) * (many + 1))
  const lengths = new Float64Array((all + 1) * wide)
  const over = new Float64Array(all + 1)
  const [lengthOf, lengthMs] = [new Growing(), new Growing()]
  const paired = () => new Float64Array(types * (types + 1))
  const [entries, exits] = [paired(), paired()]
  const [entryMs, exitMs] = [new Float64Array(types), new Float64Array(types)]
  const [entryOver, exitOver] = [new Float64Array(types), new Float64Array(types)]
  const groupsOf = bindGrouped(log, plan.split)
  const perPerson = new PeopleSums(all + 1)
  const tally = (at: number, person: number, ms: number, events: number, open: boolean) => {
    const place = at * FIGURE_COUNT
    figures[place + FIGURES.sessions]++
    figures[place + FIGURES.ms] += ms
    figures[place + FIGURES.events] += events
    if (open) figures[place + FIGURES.open]++
    if (events === 1) figures[place + FIGURES.single]++
    // People come one after another; numbers begin with 1.
    if (seen[at] === person) return
    seen[at] = person
    figures[place + FIGURES.people]++
  }
  const add = (group: number, bucket: number, person: number, ms: number, events: number, open: boolean) => {
    tally(group * (many + 1) + bucket, person, ms, events, open)
    tally(group * (many + 1) + many, person, ms, events, open)
    lengths[group * wide + lengthAt(ms)]++
    if (ms > overMs) over[group]++
    if (open) return
    perPerson.add(group, person, Math.round(ms / 1000))
    lengthOf.push(group * many + bucket)
    lengthMs.push(ms)
  }
  // A type that came after the plan was made is none that has a name yet.
  const typeAt = (row: number) => currentOf[type[row]] ?? 0
  const one = ({ start, end, person, open }: SessionRows, bucket: number): void => {
    const ms = time[end - 1] - time[start]
    const groups = groupsOf?.(start, person)
    if (groups) for (let g = 0; g < groups.length; g++) add(groups.found[g], bucket, person, ms, end - start, open)
    add(all, bucket, person, ms, end - start, open)
    const [entry, exit] = [typeAt(start), typeAt(end - 1)]
    entries[entry * (types + 1) + (end - start > 1 ? typeAt(start + 1) : types)]++
    exits[exit * (types + 1) + (end - start > 1 ? typeAt(end - 2) : types)]++
    if (open) return
    entryMs[entry] += ms
    entryOver[entry]++
    exitMs[exit] += ms
    exitOver[exit]++
  }
  const done = (): SessionCounts => ({
    ...{
      figures,
      lengths,
      over,
      entries,
      exits,
      entryMs,
      exitMs,
      entryOver,
      exitOver,
      clusters: perPerson.done(),
    },
    ...{ lengthOf: [lengthOf.done()], length: [lengthMs.done()] },
  })
  return { add: one, done }
}

export function mergeSessions(a: SessionsPart, b: SessionsPart): SessionsPart {
  if (a.pass === 'count' && b.pass === 'count')
    return { pass: 'count', counts: a.counts.map((own, period) => mergeCounts(own, b.counts[period])) }
  if (a.pass === 'count' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** Into the first, which is taken over. */
function mergeCounts(a: SessionCounts, b: SessionCounts): SessionCounts {
  const sum = (name: Exclude<keyof SessionCounts, 'lengthOf' | 'length'>) => addArrays(a[name], b[name])
  a.lengthOf.push(...b.lengthOf)
  a.length.push(...b.length)
  return {
    ...{ lengthOf: a.lengthOf, length: a.length, clusters: sum('clusters') },
    ...{ figures: sum('figures'), lengths: sum('lengths'), over: sum('over') },
    ...{ entries: sum('entries'), exits: sum('exits'), entryMs: sum('entryMs'), exitMs: sum('exitMs') },
    ...{ entryOver: sum('entryOver'), exitOver: sum('exitOver') },
  }
}

/** Adds up people by group, each when their last session has come. */
class PeopleSums {
  private readonly sums: Float64Array
  private readonly person: Uint32Array
  private readonly n: Float64Array
  private readonly y: Float64Array

  constructor(private readonly groups: number) {
    this.sums = new Float64Array(groups * CLUSTERED.length)
    this.person = new Uint32Array(groups)
    this.n = new Float64Array(groups)
    this.y = new Float64Array(groups)
  }

  add(group: number, person: number, seconds: number): void {
    if (this.person[group] !== person) {
      this.flush(group)
      this.person[group] = person
    }
    this.n[group]++
    this.y[group] += seconds
  }

  private flush(group: number): void {
    const [n, y] = [this.n[group], this.y[group]]
    if (n === 0) return
    const own = [1, n, y, n * n, n * y, y * y]
    own.forEach((value, i) => (this.sums[group * CLUSTERED.length + i] += value))
    this.n[group] = this.y[group] = 0
  }

  done(): Float64Array {
    for (let group = 0; group < this.groups; group++) this.flush(group)
    return this.sums
  }
}

/** Whether a session is counted in a mark. */
export function testsOf(log: EventLog, plan: SessionsPlan, marks: readonly SessionsMark[]) {
  const { time, type } = log
  const groupsOf = bindGrouped(log, plan.split)
  const codeOf = (name: string) => plan.names.indexOf(name)
  return marks.flatMap((mark) => {
    const { length, over, single } = mark
    const asked = mark.before ? 1 : 0
    if (asked >= plan.periods.length) return []
    const { buckets } = plan.periods[asked]
    const bucket = mark.bucket === undefined ? null : buckets.findIndex(({ key }) => key === mark.bucket)
    const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
    const entry = mark.entry === undefined ? null : codeOf(mark.entry)
    const exit = mark.exit === undefined ? null : codeOf(mark.exit)
    if (bucket === -1 || group === -1 || entry === -1 || exit === -1) return []
    return [
      ({ start, end, person }: SessionRows, at: number, period: number): boolean => {
        if (period !== asked) return false
        if (bucket !== null && at !== bucket) return false
        if (single && end - start !== 1) return false
        const ms = time[end - 1] - time[start]
        if (length !== undefined && lengthAt(ms) !== length) return false
        if (over !== undefined && !(ms > over * 60_000)) return false
        if (entry !== null && plan.currentOf[type[start]] !== entry) return false
        if (exit !== null && plan.currentOf[type[end - 1]] !== exit) return false
        return group === null || isIn(groupsOf?.(start, person) ?? null, group)
      },
    ]
  })
}

/** The people one of whose sessions is counted in any of the marks, ascending by the workspace's number. */
export function selectSessions(
  log: EventLog,
  people: PersonRange,
  plan: SessionsPlan,
  marks: readonly SessionsMark[],
): Uint32Array {
  const tests = testsOf(log, plan, marks)
  const found: number[] = []
  eachAsked(log, people, plan, (session, bucket, period) => {
    if (found.at(-1) !== session.person && tests.some((holds) => holds(session, bucket, period)))
      found.push(session.person)
  })
  return Uint32Array.from(found).sort()
}

/** The first event of the first session that a person is counted for. */
export function momentOfSessions(
  log: EventLog,
  index: number,
  plan: SessionsPlan,
  marks: readonly SessionsMark[],
): number | null {
  const tests = testsOf(log, plan, marks)
  let moment: number | null = null
  eachAsked(log, { from: index, to: index + 1 }, { ...plan, among: null }, (session, bucket, period) => {
    if (moment === null && tests.some((holds) => holds(session, bucket, period))) moment = session.start
  })
  return moment
}
