import { groupId } from '../../questions/groupId.js'
import type { FunnelPlan } from './shape.js'
import { bindGrouped, groupFinder, mergeFound } from '../../groups/grouped.js'
import type { GroupReader } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { finderOf, type Attempt, type Finder } from './attempts.js'
import { JumpBuilder, mergeJumps } from './jump.js'
import { observerOf, mergeLooks } from './look.js'
import type { FunnelPart } from './plan.js'
import { markTest } from './select.js'
import { joinTallies, TallyBuilder } from './tally.js'
import type { FunnelMark } from './marks.js'

/**
 * Counts each person's deepest attempt, or every attempt (how numbers are counted, 6). A person's rows are consecutive
 * and in order (time, then arrival). A step filled exactly `windowMs` after the entry counts. Entries lie in the
 * query's range; later steps may fall after it, up to now.
 */
export function scanFunnel(log: EventLog, people: PersonRange, plan: FunnelPlan): FunnelPart {
  if (plan.pass === 'cuts' || plan.pass === 'rank') return findGroups(log, people, plan)
  if (plan.pass === 'jump') {
    const jump = new JumpBuilder(log, plan)
    const visit: VisitPerson = (finder, person) =>
      finder.inBuckets(plan.grid, (_bucket, attempt) => jump.add(attempt, person))
    eachPerson(log, people, plan, visit, (index) => jump.mayBegin(index))
    return { pass: 'jump', tally: jump.done() }
  }
  const all = plan.keys.length
  // Looked at bucket by bucket only where that is drawn, or may be told of: see `planJump`.
  const overTime = plan.groupsOverTime || (!plan.split && plan.rules.order !== 'any order')
  const spans = plan.spans.map((_span, at) =>
    Array.from(
      { length: all + 1 },
      (_, group) => new TallyBuilder(log, plan, overTime && at === 0 && (group === all || plan.groupsOverTime)),
    ),
  )
  const observer = observerOf(log, plan)
  eachPerson(log, people, plan, (finder, person, index, groupsOf) => {
    for (let at = 0; at < spans.length; at++) {
      const tallies = spans[at]
      const { from, until } = plan.spans[at]
      finder.attempts(from, until, (attempt) => {
        tallies[all].add(attempt, finder)
        if (at === 0) observer?.add(attempt, index, person)
        if (!plan.split) return
        const groups = groupsOf(attempt)
        if (!groups) tallies[all - 1].add(attempt, finder)
        else for (let i = 0; i < groups.length; i++) tallies[groups.found[i]].add(attempt, finder)
      })
    }
    if (overTime)
      finder.inBuckets(plan.grid, (bucket, attempt) => {
        spans[0][all].addIn(bucket, attempt)
        if (!plan.split || !plan.groupsOverTime) return
        const groups = groupsOf(attempt)
        if (!groups) spans[0][all - 1].addIn(bucket, attempt)
        else for (let i = 0; i < groups.length; i++) spans[0][groups.found[i]].addIn(bucket, attempt)
      })
    observer?.endPerson(index, person)
  })
  return {
    pass: 'count',
    spans: spans.map((tallies) => tallies.map((tally) => tally.done())),
    look: observer?.done() ?? null,
  }
}

export function mergeFunnel(a: FunnelPart, b: FunnelPart): FunnelPart {
  if (a.pass === 'jump' && b.pass === 'jump') return { pass: 'jump', tally: mergeJumps(a.tally, b.tally) }
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      spans: a.spans.map((tallies, at) => tallies.map((tally, i) => joinTallies(tally, b.spans[at][i]))),
      look: a.look && mergeLooks(a.look, b.look!),
    }
  if (a.pass === 'jump' || a.pass === 'count' || b.pass === 'jump' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** The people one of whose counted attempts is where a mark says, ascending by the workspace's number. */
export function selectFunnel(
  log: EventLog,
  people: PersonRange,
  plan: FunnelPlan,
  marks: readonly FunnelMark[],
): Uint32Array {
  const tests = marks.flatMap((mark) => markTest(log, plan, mark) ?? [])
  const found: number[] = []
  eachPerson(log, people, plan, (finder, person, index, groupsOf) => {
    for (const { span, within, group, holds, chosen } of tests) {
      let counted = false
      const { from, until } = within ?? plan.spans[span]
      finder.attempts(from, until, (attempt) => {
        if (counted || !holds(attempt, finder, index, person)) return
        counted = group === null || inGroup(plan, groupsOf(attempt), group)
      })
      if (!counted && !chosen?.(index)?.holds) continue
      found.push(person)
      break
    }
  })
  return Uint32Array.from(found)
}

function inGroup(plan: FunnelPlan, groups: GroupReader | null, wanted: string): boolean {
  if (!groups) return plan.unreached && groupId(plan.keys.at(-1)) === wanted
  for (let i = 0; i < groups.length; i++) if (groupId(plan.keys[groups.found[i]]) === wanted) return true
  return false
}

/** The row at which a person came to be counted: the step that was reached, or the last before they were lost. */
export function momentOfFunnel(
  log: EventLog,
  index: number,
  plan: FunnelPlan,
  marks: readonly FunnelMark[],
): number | null {
  let moment: number | null = null
  const tests = marks.flatMap((mark) => markTest(log, plan, mark) ?? [])
  eachPerson(log, { from: index, to: index + 1 }, plan, (finder, person) => {
    for (const { span, within, holds, chosen, rowOf } of tests) {
      if (moment !== null) return
      const { from, until } = within ?? plan.spans[span]
      finder.attempts(from, until, (attempt) => {
        if (holds(attempt, finder, index, person) && moment === null) moment = rowOf(attempt)
      })
      const found = chosen?.(index)
      if (found?.holds && moment === null) moment = rowOf(found.attempt)
    }
  })
  return moment
}

/** The groups of an attempt; null where it did not get to the step that they are read at. */
type GroupsOf = (attempt: Attempt) => GroupReader | null
type VisitPerson = (finder: Finder, person: number, index: number, groupsOf: GroupsOf) => void

/** Visits everybody who may have an entry. */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: FunnelPlan,
  visit: VisitPerson,
  isWanted?: (index: number) => boolean,
): void {
  const { hidden } = log
  const { among } = plan
  const finder = finderOf(log, plan)
  const read = plan.pass === 'count' ? bindGrouped(log, plan.split) : null
  let person = 0
  const groupsOf = ({ rows }: Attempt): GroupReader | null => {
    const row = rows[plan.readAt]
    return row < 0 ? null : read!(row, person)
  }
  for (let index = people.from; index < people.to; index++) {
    person = log.person[index]
    if (hidden?.[index] === 1 || (among && among[person] !== 1) || isWanted?.(index) === false) continue
    if (finder.gather(index)) visit(finder, person, index, groupsOf)
  }
}

/** Looks for the groups of the counted attempts, in the time asked about. */
function findGroups(log: EventLog, people: PersonRange, plan: FunnelPlan): FunnelPart {
  const finder = groupFinder(log, plan)
  const { from, until } = plan.spans[0]
  eachPerson(log, people, plan, (attempts, person) =>
    attempts.attempts(from, until, ({ rows }) => {
      if (rows[plan.readAt] >= 0) finder.meet(rows[plan.readAt], person)
    }),
  )
  return finder.found()
}
