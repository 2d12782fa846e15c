import { sharedFloat64, sharedUint32, type EventLog, type Past, type ProfileColumn } from '../log/log.js'
import type { MadeInfo } from '../log/schema.js'
import type { Steps } from '../steps.js'
import { ColumnWriter } from './columnWriter.js'
import { isMoment, type CompiledRecipe, type Maker, type MadeValue } from './evaluate.js'

/** The touches of a block's people, each from when it holds; what is like the one before is not told again. */
export interface BlockTouches {
  /** numbers of the people that have any, and where each one's begin in the lists; one more at the end */
  person: number[]
  starts: number[]
  /** epoch ms, ascending within a person */
  since: number[]
  values: MadeValue[]
}

/** Rows that are looked at in one step. */
const STEP = 1 << 15

/**
 * Looks through everybody's events for those that carry a value.
 * @param which the first one alone, or each that is another than the one before
 * @param until epoch ms; what happens later is none yet
 */
export function* touchesIn(
  log: EventLog,
  recipe: CompiledRecipe,
  which: 'first' | 'latest',
  until: number,
): Steps<BlockTouches> {
  const found: BlockTouches = { person: [], starts: [], since: [], values: [] }
  const makers: Maker[] = log.rowsOfType.map((_rows, type) => recipe.bind(log, type))
  for (let index = 0, looked = 0; index < log.people; index++) {
    const [from, to] = [log.offsets[index], log.offsets[index + 1]]
    looked += to - from
    if (looked > STEP) {
      looked = 0
      yield
    }
    if (log.hidden?.[index]) continue
    const person = log.person[index]
    const begin = found.since.length
    for (let row = from; row < to && log.time[row] <= until; row++) {
      const value = makers[log.type[row]](row, log.slot[row], person)
      if (value === null) continue
      const known = found.since.length > begin
      if (known && isSame(value, found.values[found.values.length - 1])) continue
      found.since.push(log.time[row])
      found.values.push(value)
      if (which === 'first') break
    }
    if (found.since.length === begin) continue
    found.person.push(person)
    found.starts.push(begin)
  }
  found.starts.push(found.since.length)
  return found
}

function isSame(a: MadeValue, b: MadeValue): boolean {
  return a === b || (isMoment(a) && isMoment(b) && a.ms === b.ms) || (Array.isArray(a) && `${a}` === `${b as string[]}`)
}

/**
 * People's first or latest touch as a profile property: no value before the first one.
 * @param people one more than the largest person number
 */
export function* touchColumn(blocks: readonly BlockTouches[], people: number, info: MadeInfo): Steps<ProfileColumn> {
  const starts = sharedUint32(people + 1)
  for (const { person, starts: from } of blocks) person.forEach((each, i) => (starts[each + 1] = from[i + 1] - from[i]))
  for (let person = 0; person < people; person++) starts[person + 1] += starts[person]
  const total = starts[people]
  const past: Past = { starts, since: sharedFloat64(total), base: people }
  const writer = new ColumnWriter(people + total + 1, info.growing)
  info.growing.changing = true
  yield
  for (const { person, starts: from, since, values } of blocks)
    for (let i = 0; i < person.length; i++) {
      const own = person[i]
      for (let at = from[i], slot = starts[own]; at < from[i + 1]; at++, slot++) {
        past.since[slot] = since[at]
        writer.put(people + slot, values[at])
      }
      writer.put(own, values[from[i + 1] - 1])
      if (i % STEP === STEP - 1) yield
    }
  return { ...writer.column(), past }
}
