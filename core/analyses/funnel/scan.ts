import { groupId } from '../../questions/groupId.js'
import type { FunnelPlan } from './shape.js'
import { bindGroups, ownGroups, mergeTallies, tallyOf, type GroupReader } from '../../groups/groups.js'
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
  if (plan.pass === 'rank') return rankEntries(log, people, plan)
  if (plan.pass === 'jump') {
    const jump = new JumpBuilder(log, plan)
    const { from, until } = plan.spans[0]
    const visit: VisitPerson = (finder, person) => finder.attempts(from, until, (attempt) => jump.add(attempt, person))
    eachPerson(log, people, plan, visit, (index) => jump.mayBegin(index))
    return { pass: 'jump', tally: jump.done() }
  }
  const all = plan.keys.length
  const spans = plan.spans.map((_span, at) =>
    Array.from(
      { length: all + 1 },
      (_, group) => new TallyBuilder(log, plan, at === 0 && (group === all || plan.groupsOverTime)),
    ),
  )
  const kept = plan.groups?.count ?? 0
  const observer = observerOf(log, plan)
  eachPerson(log, people, plan, (finder, person, index, groupsOf) => {
    for (let at = 0; at < spans.length; at++) {
      const tallies = spans[at]
      const { from, until } = plan.spans[at]
      finder.attempts(from, until, (attempt) => {
        tallies[all].add(attempt, finder)
        if (at === 0) observer?.add(attempt, index, person)
        if (!plan.groups) return
        const groups = groupsOf(attempt)
        if (!groups) tallies[all - 1].add(attempt, finder)
        // Who is in none of the segments side by side is in no group.
        else
          for (let i = 0; i < groups.length; i++)
            if (groups.found[i] < kept) tallies[groups.found[i]].add(attempt, finder)
      })
    }
    observer?.endPerson(index, person)
  })
  return {
    pass: 'count',
    spans: spans.map((tallies) => tallies.map((tally) => tally.done())),
    look: observer?.done() ?? null,
  }
}

export function mergeFunnel(a: FunnelPart, b: FunnelPart): FunnelPart {
  if (a.pass === 'rank' && b.pass === 'rank') return { pass: 'rank', tally: mergeTallies(a.tally, b.tally) }
  if (a.pass === 'jump' && b.pass === 'jump') return { pass: 'jump', tally: mergeJumps(a.tally, b.tally) }
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      spans: a.spans.map((tallies, at) => tallies.map((tally, i) => joinTallies(tally, b.spans[at][i]))),
      look: a.look && mergeLooks(a.look, b.look!),
    }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
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
    for (const { span, group, holds, chosen } of tests) {
      let counted = false
      const { from, until } = plan.spans[span]
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
  for (let i = 0; i < groups.length; i++)
    if (groups.found[i] < plan.groups!.count && groupId(plan.keys[groups.found[i]]) === wanted) return true
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
    for (const { span, holds, chosen, rowOf } of tests) {
      if (moment !== null) return
      const { from, until } = plan.spans[span]
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
  const { hidden, type: types, slot: slots } = log
  const { among } = plan
  const finder = finderOf(log, plan)
  const readers: (GroupReader | null)[] = []
  let person = 0
  const groupsOf = ({ rows }: Attempt): GroupReader | null => {
    const row = rows[plan.readAt]
    if (row < 0) return null
    const reader = (readers[types[row]] ??= bindGroups(plan.groups!, log, types[row]))
    reader.read(row, slots[row], person)
    return reader
  }
  for (let index = people.from; index < people.to; index++) {
    person = log.person[index]
    if (hidden?.[index] === 1 || (among && among[person] !== 1) || isWanted?.(index) === false) continue
    if (finder.gather(index)) visit(finder, person, index, groupsOf)
  }
}

/** Visits the counted attempts of everybody in one of the times asked about. */
function eachAttempt(
  log: EventLog,
  people: PersonRange,
  plan: FunnelPlan,
  span: number,
  visit: (attempt: Attempt, person: number, groupsOf: GroupsOf) => void,
): void {
  const { from, until } = plan.spans[span]
  eachPerson(log, people, plan, (finder, person, _index, groupsOf) =>
    finder.attempts(from, until, (attempt) => visit(attempt, person, groupsOf)),
  )
}

function rankEntries(log: EventLog, people: PersonRange, shared: FunnelPlan): FunnelPart {
  const groups = ownGroups(shared.groups!)
  const fixed = groups.count
  const counts = new Array<number>(fixed).fill(0)
  eachAttempt(log, people, { ...shared, groups }, 0, (attempt, _person, groupsOf) => {
    const reader = groupsOf(attempt)
    if (!reader) return
    for (let i = 0; i < reader.length; i++) counts[reader.found[i]] = (counts[reader.found[i]] ?? 0) + 1
  })
  return { pass: 'rank', tally: tallyOf(groups, fixed, counts, counts) }
}
