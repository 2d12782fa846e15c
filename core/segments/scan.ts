import type { AsOf } from '../filters/bind.js'
import { isMoving } from '../filters/compile.js'
import { hasBit } from '../log/bits.js'
import { addArrays, bindGroups } from '../groups/groups.js'
import type { EventLog, PersonRange } from '../log/log.js'
import { bindMembers } from './members.js'
import type { MembersPlan } from './plan.js'

/** People counted as of each of the plan's moments; joins by adding. */
export interface MembersPart {
  /** members, for each group of the split, moment by moment, then for all */
  members: Float64Array
  /** for each part that is counted by itself, moment by moment */
  alone: Float64Array
  /** everybody who had an event by then */
  everyone: Float64Array
  /** between the two moments that are listed: who came in, and who went out */
  came: Float64Array
}

/** Counts the members as of each moment (how numbers are counted, 11). */
export function scanMembers(log: EventLog, people: PersonRange, plan: MembersPlan): MembersPart {
  const many = plan.moments.length
  const groups = plan.groups?.count ?? 0
  const members = new Float64Array((groups + 1) * many)
  const alone = new Float64Array(plan.alone.length * many)
  const everyone = new Float64Array(many)
  const came = new Float64Array(2)
  const { at, not } = plan.listed
  const asOf: AsOf = { ms: plan.moments[many - 1] }
  const groupReader = plan.groups && bindGroups(plan.groups, log, -1, asOf)
  const moving = isMoving(plan.groups?.column ?? null)
  eachPerson(log, people, plan, (person, reader) => {
    count(reader.root, members, groups * many, many)
    count(reader.seen, everyone, 0, many)
    for (let part = 0; part < plan.alone.length; part++) count(reader.alone[part], alone, part * many, many)
    if (not !== null) {
      const [is, was] = [hasBit(reader.root, at), hasBit(reader.root, not)]
      if (is !== was) came[is ? 0 : 1]++
    }
    if (!groupReader) return
    if (moving)
      return eachBit(reader.root, many, (moment) => {
        asOf.ms = plan.moments[moment]
        groupReader.read(-1, -1, person)
        for (let i = 0; i < groupReader.length; i++) members[groupReader.found[i] * many + moment]++
      })
    groupReader.read(-1, -1, person)
    for (let i = 0; i < groupReader.length; i++) count(reader.root, members, groupReader.found[i] * many, many)
  })
  return { members, alone, everyone, came }
}

function count(bits: Int32Array, counts: Float64Array, at: number, many: number): void {
  if (many <= 2) {
    const left = bits[0]
    if (left & 1) counts[at]++
    if (many === 2 && left & 2) counts[at + 1]++
    return
  }
  eachBit(bits, many, (moment) => counts[at + moment]++)
}

function eachBit(bits: Int32Array, many: number, visit: (bit: number) => void): void {
  for (let word = 0; word < bits.length; word++) {
    let left = bits[word]
    while (left !== 0) {
      const bit = word * 32 + 31 - Math.clz32(left & -left)
      if (bit < many) visit(bit)
      left &= left - 1
    }
  }
}

export function mergeMembers(a: MembersPart, b: MembersPart): MembersPart {
  return {
    members: addArrays(a.members, b.members),
    alone: addArrays(a.alone, b.alone),
    everyone: addArrays(a.everyone, b.everyone),
    came: addArrays(a.came, b.came),
  }
}

/** The people who are members as of one moment and, if the plan says so, not as of another; ascending by number. */
export function selectMembers(log: EventLog, people: PersonRange, plan: MembersPlan): Uint32Array {
  const { at, not } = plan.listed
  const found: number[] = []
  eachPerson(log, people, plan, (person, { root }) => {
    if (hasBit(root, at) && (not === null || !hasBit(root, not))) found.push(person)
  })
  return Uint32Array.from(found)
}

function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: MembersPlan,
  visit: (person: number, reader: ReturnType<typeof bindMembers>) => void,
): void {
  if (people.from >= people.to) return
  const reader = bindMembers(plan, log, log.offsets[people.from])
  for (let index = people.from; index < people.to; index++) {
    if (log.hidden?.[index] === 1) continue
    reader.read(index)
    visit(log.person[index], reader)
  }
}
