import { sideName, shownSides, sideRule, sidesKey } from '../../core/segments/side.js'
import type { AnyMark } from '../../core/questions/study.js'
import type { Among, PeopleRef, RulePeople, StudyPeople } from '../../core/analyses/people.js'
import type { QueryContext } from '../../core/analyses/analysis.js'
import { passesOf } from '../../core/analyses/passes.js'
import type { ListedPlan } from '../../core/scanners.js'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { analysisOf, type Question, type Result } from '../../core/analyses/registry.js'
import { beforeItStopped, stoppedIn, type Listener, type Stopped } from '../../core/analyses/stopped.js'
import { arrivalsOf, arrivedBetween, type Arrivals } from '../../core/log/arrivals.js'
import { bitWords, hasBit, setBit, sharedBits } from '../../core/log/bits.js'
import { emptyLog } from '../../core/log/empty.js'
import { sharedUint8 } from '../../core/log/log.js'
import { scoredOf } from '../../core/analyses/likelihood/score.js'
import type { LikelihoodPlan } from '../../core/analyses/likelihood/plan.js'
import { makeReady, type MadeCache } from '../../core/made/columns.js'
import { chancesIn, scoreKey, type ScoredPeople } from '../../core/made/scores.js'
import type { PersonIds } from '../../core/log/personIds.js'
import { joinedPieces, type Pieces } from '../../core/stats/pieces.js'
import type { CostRow, CostsBy } from '../../core/costs/costs.js'
import type { Fault } from '../../core/questions/faults.js'
import type { SidesRef } from '../../core/questions/split.js'
import { planMembers, type MembersPlan, type SegmentContext, type StudyNeed } from '../../core/segments/plan.js'
import { isFrozen, resolveSegments, type SavedSegment } from '../../core/segments/resolve.js'
import type { Rule } from '../../core/segments/rule.js'
import { scanMembers, type MembersPart } from '../../core/segments/scan.js'
import { sidesColumn, type SidesColumn } from '../../core/segments/sides.js'
import type { Calendar } from '../../core/time/range.js'
import type { ByteCache } from './cache.js'
import type { Snapshot } from './keeper.js'
import type { ModelShelf } from './models.js'
import type { QueryControl, ScanPool, ScanWork } from './scanPool.js'
import { inTurns, type Lane } from './turns.js'

/** What a query is answered from. */
export interface QueryBase {
  snapshot: Snapshot
  calendar: Calendar
  now: number
  pool: ScanPool
  query: QueryControl
  /** columns of made properties, kept between questions */
  made: MadeCache
  /** made columns are put into what all questions read: one after the other */
  making: Lane
  /** what was paid for values of a property */
  costs: (by: CostsBy) => readonly CostRow[]
  /** what was learned for questions that foretell */
  models: ModelShelf
  /** what people are called in the state that is asked, and whose first values came after a moment */
  idsOf: (snapshot: Snapshot) => Promise<PersonIds>
  lateOf: (snapshot: Snapshot, after: number) => Promise<ReadonlyMap<number, Uint8Array>>
  /** what people are being scored by for this question, further out */
  scoring?: ReadonlySet<string>
  /** says what is being worked on */
  note: (what: string) => void
  segments: SegmentShelf
  /** the people whom no study counts, unless it says so; null = none */
  leftOut: Rule | null
  /** what is asked as of a moment, with the state of the data and all that it rests on */
  keyOf: (what: object, at: number) => string
}

/** The saved segments, and what is known of their members. */
export interface SegmentShelf {
  get(id: string): SavedSegment | undefined
  /** also of one that was deleted */
  nameOf(id: string): string | undefined
  /** the members of a frozen list, as bits by person */
  frozen(id: string): Uint32Array
  /** people found before by what they were asked by: as lists, and as bits */
  lists: ByteCache<Uint32Array>
  bits: ByteCache<Uint32Array>
}

export type Answer = ({ result: Result; faults: [] } | { result: null; faults: Fault[] }) & {
  /** what it asks about has stopped to arrive: since when, and what it said before; null where that is none of its time */
  stopped?: (Stopped & { before: { question: Question; result: Result } | null }) | null
}
type Faulty = { faults: Fault[] }

/** Runs a study: as many passes as its kind wants, each over everybody. */
export async function answerQuestion(question: Question, base: QueryBase): Promise<Answer> {
  const ready = await prepare(question, base)
  if ('faults' in ready) return { result: null, faults: ready.faults }
  const { plan, context, parts } = ready
  base.note(`finish of ${question.kind}`)
  const result = analysisOf(question.kind).finish(parts.at(-1), plan, question, context, parts.slice(0, -1))
  return { result, faults: [] }
}

/** As `answerQuestion`, and whether what it asks about still arrives. */
export async function answerAndListen(question: Question, base: QueryBase): Promise<Answer> {
  const answer = await answerQuestion(question, base)
  if (!answer.result) return answer
  const { snapshot, now, calendar } = base
  const stopped = stoppedIn(question, now, calendar, listenerOf(snapshot, now))
  if (!stopped) return answer
  const before = beforeItStopped(question, stopped.sinceMs, now, calendar)
  const told = before && (await answerQuestion(before, { ...base, now: stopped.sinceMs }))
  const result = told?.result ?? null
  return { ...answer, stopped: { ...stopped, before: before && result && { question: before, result } } }
}

/** What has been looked for in a state of the data. */
const listened = new WeakMap<Snapshot, Map<string, Arrivals | null>>()

function listenerOf(snapshot: Snapshot, now: number): Listener {
  const { schema, logs, newestMs } = snapshot
  let known = listened.get(snapshot)
  if (!known) listened.set(snapshot, (known = new Map()))
  const typesOf = (event: string | null) =>
    event === null ? schema.types.map((_type, code) => code) : (schema.typesNamed(event) ?? [])
  // As of the moment of the newest event and any later one it is the same.
  const as = Math.min(now, newestMs ?? now)
  return {
    since(event, ms) {
      // The newest of all answers for all, without looking at any, unless it lies after the moment asked about.
      if (event === null && newestMs !== null && newestMs <= now) return newestMs >= ms
      return ms <= as && arrivedBetween(logs, typesOf(event), ms, as)
    },
    lately(event) {
      const key = `${as} ${JSON.stringify(event)}`
      let found = known.get(key)
      if (found === undefined) known.set(key, (found = arrivalsOf(logs, typesOf(event), as)))
      return found
    },
  }
}

/** Whether anybody is left out makes other people of the same marks. */
const peopleKey = (ref: PeopleRef, { keyOf, now, leftOut }: QueryBase) =>
  `${leftOut ? '' : 'everybody '}${keyOf(ref, now)}`

/**
 * The people that are meant, ascending by number, in memory that threads share; those found before are kept while the
 * data stays as it is.
 */
export async function readPeople(ref: PeopleRef, base: QueryBase): Promise<Uint32Array | Faulty> {
  const { lists } = base.segments
  const key = peopleKey(ref, base)
  const known = lists.get(key)
  if (known) return known
  const people = await findPeople(ref, base)
  if ('faults' in people) return people
  lists.set(key, people)
  return people
}

async function findPeople(ref: PeopleRef, base: QueryBase): Promise<Uint32Array | Faulty> {
  if ('rule' in ref) return readMembers(ref, base)
  const study = asQuestion(ref.study)
  const ready = await prepare(study, base, ref.marks)
  if ('faults' in ready) return ready
  if (base.snapshot.chunks.length === 0) return new Uint32Array(0)
  base.query.people += base.snapshot.seenPeople
  return base.pool.select(base.snapshot, study.kind, ready.plan, ref.marks, base.query)
}

/** The arrival number of the event at which a person came to be counted in a study's marks; null where there is none. */
export async function momentOf(ref: PeopleRef, person: number, base: QueryBase): Promise<number | null> {
  if ('rule' in ref) return null
  const study = asQuestion(ref.study)
  const { moment } = analysisOf(study.kind)
  const ready = moment && (await prepare(study, base, ref.marks))
  if (!ready || 'faults' in ready) return null
  for (const log of base.snapshot.logs) {
    const index = log.person.indexOf(person)
    if (index < 0 || log.hidden?.[index] === 1) continue
    const row = moment(log, index, ready.plan, ref.marks)
    return row === null ? null : log.arrival[row]!
  }
  return null
}

/** What is counted in a study's marks beside people, as its kind lists it, with the plan that was used; nothing of a kind that lists nothing. */
export async function listedIn(
  { study, marks }: StudyPeople,
  base: QueryBase,
): Promise<{ list: Float64Array; plan: unknown } | Faulty> {
  const question = asQuestion(study)
  const ready = await prepare(question, base, marks)
  if ('faults' in ready) return ready
  const { plan } = ready
  if (!analysisOf(question.kind).listed || base.snapshot.chunks.length === 0) return { list: new Float64Array(0), plan }
  base.query.people += base.snapshot.seenPeople
  const asked: ListedPlan = { kind: question.kind, plan, marks }
  return { list: joinedPieces((await base.pool.scan(base.snapshot, 'list', asked, base.query)) as Pieces), plan }
}

async function readMembers({ rule, at, came, since }: RulePeople, base: QueryBase): Promise<Uint32Array | Faulty> {
  const until = Math.min(at ?? base.now, base.now)
  const moments = came ? [...new Set([Math.min(since!, until), until])] : [until]
  const planned = await planRule(rule, Float64Array.from(moments), base)
  if ('faults' in planned) return planned
  if (base.snapshot.chunks.length === 0 || (came && moments.length === 1)) return new Uint32Array(0)
  const listed = !came ? { at: 0, not: null } : came === 'in' ? { at: 1, not: 0 } : { at: 0, not: 1 }
  base.query.people += base.snapshot.seenPeople
  return base.pool.select(base.snapshot, 'members', { ...planned.plan, listed }, [], base.query)
}

/**
 * Plans a rule, with the segments it names looked up and the people of studies in it counted as of each moment.
 * @param moments epoch ms, ascending, each once
 * @param own id of the segment whose rule it is
 */
export async function planRule(
  rule: Rule,
  moments: Float64Array,
  base: QueryBase,
  parts: readonly (string | number)[][] = [],
  own?: string,
): Promise<{ plan: MembersPlan } | Faulty> {
  const { snapshot, calendar, segments } = base
  const { used, faults } = resolveSegments(rule, segments.get, segments.nameOf, own)
  if (faults.length > 0) return { faults }
  await makeColumns([rule, ...rulesOf(used)], base)
  const counted = new Map<string, Uint32Array[]>()
  const context: SegmentContext = {
    ...{
      schema: snapshot.schema.asMade(),
      calendar,
      firstMs: snapshot.oldestMs ?? base.now,
      segments: used,
      frozen: segments.frozen,
    },
    counted: (condition, asked) => counted.get(needKey({ condition, moments: asked })) ?? null,
  }
  for (;;) {
    const { plan, faults: found, needs } = planMembers(rule, moments, context, parts)
    if (found.length > 0) return { faults: found }
    if (needs.length === 0) return { plan }
    for (const need of needs) {
      const sets = await countStudy(need, base)
      if ('faults' in sets) return sets
      counted.set(needKey(need), sets)
    }
  }
}

function needKey({ condition: { study, marks }, moments }: StudyNeed): string {
  return JSON.stringify([study, marks, moments.length, moments[0], moments.at(-1)])
}

/** The people of a study's marks as of each moment. */
async function countStudy({ condition, moments }: StudyNeed, base: QueryBase): Promise<Uint32Array[] | Faulty> {
  const sets: Uint32Array[] = []
  for (const now of moments) {
    const { study, marks } = condition
    const people = await readPeople({ study, marks }, { ...base, now })
    if ('faults' in people) return people
    sets.push(bitsOf(people, base.snapshot.people))
  }
  return sets
}

function bitsOf(people: Uint32Array, size: number): Uint32Array {
  const bits = sharedBits(size)
  for (const person of people) setBit(bits, person)
  return bits
}

/** Counts the members of a planned rule. */
export async function countMembers(plan: MembersPlan, { snapshot, pool, query }: QueryBase): Promise<MembersPart> {
  query.people += snapshot.seenPeople
  if (snapshot.chunks.length === 0) return scanMembers(emptyLog(), { from: 0, to: 0 }, plan)
  return (await pool.scan(snapshot, 'members', plan, query)) as MembersPart
}

/** The people that are meant, as bits; those found before are kept while the data stays as it is. */
export async function peopleBits(ref: PeopleRef, base: QueryBase): Promise<Uint32Array | Faulty> {
  const { snapshot, segments } = base
  const key = peopleKey(ref, base)
  const known = segments.bits.get(key)
  if (known) return known
  const people = await readPeople(ref, base)
  if ('faults' in people) return people
  const bits = bitsOf(people, snapshot.people)
  segments.bits.set(key, bits)
  return bits
}

/** @param marks only so far that their people can be read, without counting them before */
async function prepare(
  question: Question,
  base: QueryBase,
  marks: readonly AnyMark[] | null = null,
): Promise<Faulty | { plan: unknown; parts: unknown[]; context: QueryContext }> {
  const { snapshot, pool, query, calendar, now, segments } = base
  const { used, faults: unresolved } = resolveSegments(question, segments.get, segments.nameOf)
  // Whatever is wrong is gathered to the end, and told at once.
  const faults = [...unresolved]
  const among = question.among && unresolved.length === 0 ? await membersOf(question.among, base) : null
  if (among && 'faults' in among) {
    const at = 'study' in question.among! ? ['among', 'study'] : ['among', 'rule']
    faults.push(...among.faults.map((fault) => ({ ...fault, path: [...at, ...fault.path] })))
  }
  const sides = await sidesOf(question, base, faults)
  const analysis = analysisOf(question.kind)
  const segmentNames = Object.fromEntries([...used.values()].map(({ id, name }) => [id, name]))
  const members = among && 'faults' in among ? null : await withoutLeftOut(question, among, base)
  await makeColumns([question, ...(analysis.ofAnything ? [ANYTHING] : []), ...rulesOf(used)], base)
  const schema = snapshot.schema.asMade()
  const context: QueryContext = {
    ...{ schema, calendar, now, among: members, sides, segmentNames, costs: base.costs },
    model: (asked) => base.models.of(asked, now),
    ...(await namesOf(question, base)),
  }
  base.note(`plan of ${question.kind}`)
  const first = analysis.plan(question, context, faults)
  if (faults.length > 0) return { faults }
  const passes = passesOf(question, first, context, marks)
  const { passes: expected = 1 } = analysis
  query.people += expected * snapshot.seenPeople
  for (let at = passes.next(), pass = 1; ; pass++) {
    if (at.done) {
      const learned = analysis.learned?.(at.value.plan)
      if (learned) base.models.keep(question, learned)
      return { ...at.value, context }
    }
    if (pass > expected) query.people += snapshot.seenPeople
    const part =
      snapshot.chunks.length === 0
        ? analysis.scan(emptyLog(), { from: 0, to: 0 }, at.value)
        : await pool.scan(worked(snapshot, analysis.pieces?.(at.value) ?? null), question.kind, at.value, query)
    base.note(`next pass of ${question.kind}`)
    at = passes.next(part)
  }
}

/** A state as a pass goes over it: its people, or pieces of work that count as much as all of them. */
function worked(snapshot: Snapshot, pieces: number | null): ScanWork {
  if (pieces === null) return snapshot
  const weight = Math.round(snapshot.seenPeople / Math.max(1, pieces))
  const chunks = Array.from({ length: pieces }, (_, from) => ({ log: 0, range: { from, to: from + 1 }, weight }))
  return { version: snapshot.version, chunks }
}

/** What a kind wants to know of people beside their events. */
async function namesOf(question: Question, base: QueryBase): Promise<Pick<QueryContext, 'ids' | 'late'>> {
  const wanted = analysisOf(question.kind).wantsIds?.(question, base.now)
  if (!wanted) return {}
  const { snapshot, models, now } = base
  const ids = await base.idsOf(snapshot)
  const kept = models.of(question, now)
  // A model that was trained lately looks at nobody as they were before.
  return kept && kept.trainedAt > wanted.cameAfter
    ? { ids }
    : { ids, late: await base.lateOf(snapshot, wanted.cameAfter) }
}

function rulesOf(used: ReadonlyMap<string, SavedSegment>): Rule[] {
  return [...used.values()].flatMap((segment) => (isFrozen(segment) ? [] : [segment.rule]))
}

/** Chooses every type of event. */
const ANYTHING = { event: { activity: true } }

/** Columns of made properties that any of the definitions reads. */
export async function makeColumns(definitions: unknown, base: QueryBase): Promise<void> {
  const { snapshot, calendar, now, made, making, pool, note } = base
  const { logs, people, schema, newestMs } = snapshot
  const scored = await scoredFor(definitions, base)
  await making.run(async () => {
    const steps = makeReady(definitions, { schema, logs, people, calendar, now, newestMs, scored }, made)
    pool.extend(snapshot, await inTurns(steps, () => note('making columns')))
  })
}

/** People scored last in a state of the data, by what they are scored by: as of which moment, and by which model. */
const scoredBefore = new WeakMap<Snapshot, Map<string, { as: string; scored: ScoredPeople | null }>>()

/** Scores the people for every chance that the definitions read; one that is asked about itself has none. */
async function scoredFor(definitions: unknown, base: QueryBase): Promise<Map<string, ScoredPeople | null>> {
  const { snapshot, now, models, scoring = new Set() } = base
  const found = new Map<string, ScoredPeople | null>()
  for (const recipe of chancesIn(definitions, snapshot.schema)) {
    const key = scoreKey(recipe)
    if (scoring.has(key)) continue
    const question = asQuestion(recipe.study)
    let known = scoredBefore.get(snapshot)
    if (!known) scoredBefore.set(snapshot, (known = new Map()))
    // A first asking trains the model that the next one is asked of.
    const as = () => `${Math.floor(now / ANEW_MS)} ${models.of(question, now)?.trainedAt ?? 'none'}`
    let last = known.get(key)
    if (last?.as !== as()) {
      const ready = await prepare(question, { ...base, scoring: new Set([...scoring, key]) }, EVERYONE)
      const scored = 'faults' in ready ? null : scoredOf(ready.plan as LikelihoodPlan)
      known.set(key, (last = { as: as(), scored }))
    }
    found.set(key, last.scored)
  }
  return found
}

/** In the same data people are scored anew at most so often: the clock alone moves few of them. */
const ANEW_MS = 60_000
const EVERYONE = [{ kind: 'likely', from: 0, to: 100 }]

/** Those asked among but whom the workspace leaves out of every study; null = everybody. */
async function withoutLeftOut(
  question: Question,
  among: Uint8Array | null,
  base: QueryBase,
): Promise<Uint8Array | null> {
  if (!base.leftOut || question.among?.everybody) return among
  // Studies in the very rule that says who is left out count everybody.
  const bits = await peopleBits({ rule: base.leftOut }, { ...base, leftOut: null })
  // A segment that is gone leaves nobody out: the page of the workspace says so.
  if ('faults' in bits) return among
  // Those asked among are made for this question alone.
  const members = among ?? sharedUint8(base.snapshot.people).fill(1)
  for (let person = 0; person < members.length; person++)
    if (person >>> 5 < bits.length && hasBit(bits, person)) members[person] = 0
  return members
}

/** Who is asked among: a byte for each person. */
async function membersOf(ref: Among, base: QueryBase): Promise<Uint8Array | Faulty> {
  const bits = await peopleBits(ref, base)
  if ('faults' in bits) return bits
  const { people } = base.snapshot
  const members = sharedUint8(people)
  for (let word = 0; word < bitWords(people); word++)
    for (let left = bits[word]!; left !== 0; left &= left - 1) members[word * 32 + 31 - Math.clz32(left & -left)] = 1
  return members
}

/**
 * Who is in which of the segments side by side, for each breakdown by them.
 * @param faults once there are any nobody is counted any more: the rest is only planned, to tell what else is wrong
 */
async function sidesOf(question: Question, base: QueryBase, faults: Fault[]): Promise<Map<string, SidesColumn>> {
  const found = new Map<string, SidesColumn>()
  const { people } = base.snapshot
  for (const { by, path } of sidesIn(question)) {
    const members: Uint32Array[] = []
    const sides = shownSides(by)
    for (const [index, side] of sides.entries()) {
      const bits = faults.length > 0 ? sharedBits(people) : await peopleBits({ rule: sideRule(side) }, base)
      if ('faults' in bits)
        faults.push(
          ...bits.faults.map((fault) => ({
            ...fault,
            path: [...path, 'sides', Math.min(index, by.sides.length - 1), ...fault.path],
          })),
        )
      members.push('faults' in bits ? sharedBits(people) : bits)
    }
    const names = sides.map((side) => sideName(side, (id) => base.segments.nameOf(id) ?? id))
    found.set(sidesKey(by), sidesColumn(members, names, people, by.parts))
  }
  return found
}

/** The breakdowns by segments of a question, with their places. */
function sidesIn(question: Question): { by: SidesRef; path: (string | number)[] }[] {
  return analysisOf(question.kind)
    .splits(question)
    .flatMap(({ by, path }) => (by.of === 'segments' ? [{ by, path }] : []))
}
