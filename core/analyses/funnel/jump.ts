import { SMALL } from '../../stats/small.js'
import type { FunnelPlan, JumpColumn, JumpPlan, Lost, Run } from './shape.js'
import { bindColumn } from './reading.js'
import type { ColumnRef } from '../../filters/compile.js'
import type { EventLog } from '../../log/log.js'
import type { Schema } from '../../log/schema.js'
import { benjaminiHochberg, twoProportions } from '../../stats/proportion.js'
import type { Unit } from '../../time/range.js'
import { firstFrom, type Attempt } from './attempts.js'
import { MOST_VALUES } from './look.js'
import { isOpen, type FunnelTally } from './tally.js'

/** Less of a rise is not worth a sentence. */
const LEAST_RISE = 0.05
const SURE = 0.001
/** With more buckets than this there are too many runs to look at. */
const MOST_RUN_BUCKETS = 400

/** By feature: lost and seen among those who began in the run. */
export interface JumpTally {
  counts: Float64Array
}

export function findRun({ over }: FunnelTally, plan: FunnelPlan): Run | null {
  const { required, buckets, rules } = plan
  const n = plan.steps.length
  if (!over || rules.order === 'any order' || buckets.length < 4 || buckets.length > MOST_RUN_BUCKETS) return null
  const steps = required.slice(0, -1)
  const runs = (steps.length * buckets.length * (buckets.length + 1)) / 2
  let best: (Run & { z: number }) | null = null
  for (const [i, step] of steps.entries()) {
    const next = required[i + 1]
    const seen = new Float64Array(buckets.length + 1)
    const lost = new Float64Array(buckets.length + 1)
    buckets.forEach((_bucket, b) => {
      const whole = over.reached[b * n + step] - over.open[b * n + step]
      seen[b + 1] = seen[b] + whole
      lost[b + 1] = lost[b] + whole - over.reached[b * n + next]
    })
    const [allSeen, allLost] = [seen[buckets.length], lost[buckets.length]]
    for (let from = 1; from < buckets.length; from++)
      for (let until = from + 1; until <= buckets.length; until++) {
        const inside = { part: lost[until] - lost[from], whole: seen[until] - seen[from] }
        const outside = { part: allLost - inside.part, whole: allSeen - inside.whole }
        if (inside.whole < SMALL || outside.whole < SMALL) continue
        if (inside.part / inside.whole - outside.part / outside.whole < LEAST_RISE) continue
        const test = twoProportions(inside, outside)
        if (test && (!best || test.z > best.z))
          best = { step, next, from, until, inside, outside, p: Math.min(1, test.p * runs), z: test.z }
      }
  }
  if (!best || best.p >= SURE) return null
  const { z: _z, ...run } = best
  return run
}

/** Where a step's loss rose: a plan to count, for each value that its people carried, how many were lost then and else. */
export function planJump(all: FunnelTally, plan: FunnelPlan, schema: Schema): JumpPlan | null {
  const run = findRun(all, plan)
  if (!run) return null
  const columns: JumpColumn[] = []
  let size = 0
  const add = (at: number, of: JumpColumn['of'], property: number, values: number) => {
    if (values <= 1 || values > MOST_VALUES + 1) return
    columns.push({ at, of, property, base: size, size: values })
    size += values
  }
  for (const at of plan.required.filter((step) => step <= run.step)) {
    schema.properties.forEach(({ dictionary }, property) => add(at, 'event', property, dictionary.size))
    add(at, 'source', 0, schema.sources.size)
  }
  return { ...run, columns, size }
}

export class JumpBuilder {
  private readonly counts: Float64Array
  private readonly readers: { column: JumpColumn; codeAt: (row: number, person: number) => number }[]
  private readonly from: number
  private readonly until: number
  /** by event type: 1 = may begin an attempt */
  private readonly begins: Uint8Array

  constructor(
    private readonly log: EventLog,
    private readonly plan: FunnelPlan,
  ) {
    const jump = plan.jump!
    this.counts = new Float64Array(jump.size * 2)
    this.readers = jump.columns.map((column) => {
      const ref: ColumnRef = column.of === 'source' ? { of: 'source' } : { of: column.of, code: column.property }
      return { column, codeAt: bindColumn(log, ref).code }
    })
    this.from = plan.buckets[jump.from].start
    this.until = plan.buckets[jump.until - 1].end
    this.begins = new Uint8Array(log.rowsOfType.length)
    for (const type of plan.steps[0].types) if (type < this.begins.length) this.begins[type] = 1
  }

  /** Whether a person may have begun in the run: nearly everybody did not, and need not be followed. */
  mayBegin(index: number): boolean {
    const { offsets, time, type } = this.log
    const end = offsets[index + 1]
    for (let row = firstFrom(time, offsets[index], end, this.from); row < end && time[row] < this.until; row++)
      if (this.begins[type[row]] === 1) return true
    return false
  }

  add(attempt: Attempt, person: number): void {
    const { log, plan, counts, readers } = this
    const { step, next } = plan.jump!
    const { rows } = attempt
    if (rows[step] < 0) return
    const lost = rows[next] < 0
    if (lost && isOpen(log, plan, attempt)) return
    const entered = log.time[rows[0]]
    if (entered < this.from || entered >= this.until) return
    for (const { column, codeAt } of readers) {
      const code = codeAt(rows[column.at], person)
      if (code === 0 || code >= column.size) continue
      const at = (column.base + code) * 2
      if (lost) counts[at]++
      counts[at + 1]++
    }
  }

  done(): JumpTally {
    return { counts: this.counts }
  }
}

export function mergeJumps(a: JumpTally, b: JumpTally): JumpTally {
  return { counts: a.counts.map((x, i) => x + b.counts[i]) }
}

function withoutTest<T extends { test: unknown }>({ test: _test, ...rest }: T): Omit<T, 'test'> {
  return rest
}

/** What is said of a step whose loss rose. */
export interface JumpResult {
  /** by what time the attempts are gathered */
  every: Unit
  step: number
  next: number
  /** keys of the first and last bucket of the run */
  first: string
  last: string
  /** it lasts to the end of the time asked about */
  lasting: boolean
  /** shares lost, and of how many */
  inside: Lost
  outside: Lost
  p: number
  /** the value in which it is concentrated */
  value: {
    of: JumpColumn['of']
    property: string
    at: number
    value: string | boolean
    own: Lost
    others: Lost
    /** its part of all that were lost beyond the rate outside the run */
    ofExcess: number
  } | null
}

export function finishJump({ counts }: JumpTally, plan: FunnelPlan, schema: Schema): JumpResult {
  const jump = plan.jump!
  const { step, next, from, until, inside, outside, p, columns } = jump
  const usual = outside.part / outside.whole
  const excess = inside.part - usual * inside.whole
  const found = columns.flatMap((column) => {
    const info =
      column.of === 'source' ? { name: 'source', dictionary: schema.sources } : schema.properties[column.property]
    return Array.from({ length: column.size - 1 }, (_, i) => i + 1).flatMap((code) => {
      const value = info.dictionary.values[code]
      const at = (column.base + code) * 2
      const own = { part: counts[at], whole: counts[at + 1] }
      const others = { part: inside.part - own.part, whole: inside.whole - own.whole }
      if (value === null || typeof value === 'object' || own.whole < 10) return []
      const test = twoProportions(own, others)
      if (!test || test.z <= 0) return []
      const ofExcess = (own.part - usual * own.whole) / excess
      return [{ of: column.of, property: info.name, at: column.at, value, own, others, ofExcess, test }]
    })
  })
  const adjusted = benjaminiHochberg(found.map(({ test }) => test.p))
  const best = found
    .filter(({ ofExcess }, i) => adjusted[i] < SURE && ofExcess >= 0.5)
    .sort((a, b) => b.test.z - a.test.z || b.at - a.at)[0]
  return {
    ...{ step, next, inside, outside, p, every: plan.every },
    first: plan.buckets[from].key,
    last: plan.buckets[until - 1].key,
    lasting: until === plan.buckets.length,
    value: best ? withoutTest(best) : null,
  }
}
