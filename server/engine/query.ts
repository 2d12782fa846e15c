import { depthOf, type PeopleRef } from '../../core/analyses/people.js'
import { analysisOf, type Question, type Result } from '../../core/analyses/registry.js'
import { emptyLog } from '../../core/log/empty.js'
import { sharedUint8 } from '../../core/log/log.js'
import { makeReady, type MadeCache } from '../../core/made/columns.js'
import type { LogSchema } from '../../core/log/schema.js'
import type { Fault } from '../../core/questions/faults.js'
import { MOST_DEPTH } from '../../core/questions/parts.js'
import type { Calendar } from '../../core/time/range.js'
import type { QueryContext } from '../../core/analyses/analysis.js'
import type { Snapshot } from './keeper.js'
import type { QueryControl, ScanPool } from './scanPool.js'

/** What a query is answered from. */
export interface QueryBase {
  snapshot: Snapshot
  schema: LogSchema
  calendar: Calendar
  now: number
  pool: ScanPool
  query: QueryControl
  /** columns of made properties, kept between questions */
  made: MadeCache
}

export type Answer = { result: Result; faults: [] } | { result: null; faults: Fault[] }

/** Runs a study: as many passes as its kind wants, each over everybody. */
export async function answerQuestion(question: Question, base: QueryBase): Promise<Answer> {
  const ready = await prepare(question, base)
  if ('faults' in ready) return { result: null, faults: ready.faults }
  const { plan, context, part } = ready
  return { result: analysisOf(question.kind).finish(part, plan, question, context), faults: [] }
}

/** The people counted in a study's marks, ascending by number. */
export async function readPeople(ref: PeopleRef, base: QueryBase): Promise<Uint32Array | { faults: Fault[] }> {
  const ready = await prepare(ref.study, base)
  if ('faults' in ready) return ready
  if (base.snapshot.chunks.length === 0) return new Uint32Array(0)
  return base.pool.select(base.snapshot, ref.study.kind, ready.plan, ref.marks, base.query)
}

async function prepare(
  question: Question,
  base: QueryBase,
): Promise<{ faults: Fault[] } | { plan: unknown; part: unknown; context: QueryContext }> {
  const { snapshot, pool, query, schema, calendar, now } = base
  if (depthOf(question) > MOST_DEPTH)
    return { faults: [{ path: ['among'], code: 'too_deep', want: String(MOST_DEPTH) }] }
  const among = question.among ? await membersOf(question.among, base) : null
  if (among && 'faults' in among)
    return { faults: among.faults.map((fault) => ({ ...fault, path: ['among', 'study', ...fault.path] })) }
  const analysis = analysisOf(question.kind)
  const context: QueryContext = { schema, calendar, now, among }
  const { logs, people } = snapshot
  pool.extend(snapshot, makeReady(question, { schema, logs, people, calendar, now }, base.made))
  const faults: Fault[] = []
  let plan = analysis.plan(question, context, faults)
  if (faults.length > 0) return { faults }
  for (;;) {
    query.people += snapshot.seenPeople
    const part =
      snapshot.chunks.length === 0
        ? analysis.scan(emptyLog(), { from: 0, to: 0 }, plan)
        : await pool.scan(snapshot, question.kind, plan, query)
    const next = analysis.next(part, plan, question, context)
    if (next === null) return { plan, part, context }
    plan = next
  }
}

async function membersOf(ref: PeopleRef, base: QueryBase): Promise<Uint8Array | { faults: Fault[] }> {
  const people = await readPeople(ref, base)
  if ('faults' in people) return people
  const members = sharedUint8(base.snapshot.people)
  for (const person of people) members[person] = 1
  return members
}
