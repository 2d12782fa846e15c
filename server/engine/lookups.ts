import { makeReady, type MadeBase, type MadeCache, type MadeColumn } from '../../core/made/columns.js'
import { derivedSchema, type Derived } from '../../core/made/definitions.js'
import { countRules, previewMade, type MadePreview, type RulesCaught } from '../../core/made/preview.js'
import { cutter, planCuts } from '../../core/sessions/cuts.js'
import { sessionFigures, type SessionFigures } from '../../core/sessions/each.js'
import type { SessionCuts } from '../../core/sessions/settings.js'
import { inputsOf } from '../../core/made/refs.js'
import { findProblems, type Problem, type QualityContext } from '../../core/plan/quality.js'
import type { EventPick, PropertyRef } from '../../core/questions/parts.js'
import { didBetween, type DidBetween } from '../../core/log/didBetween.js'
import { didWithin, type Moments } from '../../core/log/didWithin.js'
import type { EventLog } from '../../core/log/log.js'
import { personIndex } from '../../core/log/personIndex.js'
import type { Db } from '../store/database.js'
import { mendingStore } from '../store/mending.js'
import { planStore } from '../store/plan.js'
import { settingsStore } from '../store/settings.js'
import { commonValues, type ValueCount } from './catalog.js'
import { inTurns, type Lane } from './turns.js'

/** What pages ask of the data as it stands, beside studies. */
export type LookupRequest =
  | { kind: 'values'; property: PropertyRef; search: string; limit: number }
  | { kind: 'problems' }
  | { kind: 'preview made'; definition: Derived }
  | { kind: 'count rules'; definition: Derived }
  | { kind: 'newest of event'; event: string; limit: number }
  | { kind: 'all of event'; event: string }
  | { kind: 'all of person'; person: number }
  | { kind: 'all of problem'; rule: Problem['rule']; event: string; property: string | null }
  | { kind: 'person'; person: number; event: string | null; offset: number; limit: number }
  /** one of a person's sessions: by its number from 1, the one that holds an event, or the last */
  | { kind: 'session'; person: number; session: number | null; seq: number | null }
  /** what sessions would be, cut like this */
  | { kind: 'session figures'; cuts: SessionCuts }
  /** who did something after a moment, up to another, and when last; epoch ms */
  | { kind: 'did between'; pick: EventPick; fromMs: number; untilMs: number }
  /** whether each did something within so long of a moment of their own */
  | { kind: 'did within'; pick: EventPick; moments: Moments; withinMs: number }

export interface PersonEvents {
  /** events of the person up to now, and of them those asked for */
  events: number
  matching: number
  firstMs: number | null
  lastMs: number | null
  sessions: number
  /** by event type, the commonest first */
  types: { event: string; events: number }[]
  /** events in each of the last 26 weeks (7 × 24 h) up to now, oldest first */
  weeks: number[]
  /** newest first; `session` counts from 1, the person's first */
  page: { seq: number; timeMs: number; session: number }[]
}

const WEEK_MS = 7 * 86_400_000
const PERSON_WEEKS = 26

/** One session of a person, with all their sessions told of. */
export interface PersonSession {
  /** number from 1, the person's first */
  session: number
  sessions: { events: number; firstMs: number; lastMs: number }[]
  /** arrival numbers of the session's events, in order */
  seqs: number[]
}

export function lookups(
  db: Db,
  cache: MadeCache,
  making: Lane,
  extend: (logs: MadeBase['logs'], columns: MadeColumn[]) => void,
  note: (what: string) => void,
) {
  let rules: { base: MadeBase['logs']; counts: Map<string, RulesCaught> } | null = null
  let problems: { base: MadeBase['logs']; now: number; found: Problem[] } | null = null

  async function ready(definition: unknown, base: MadeBase): Promise<void> {
    const types = base.schema.types.map((_type, code) => code)
    await making.run(async () => {
      const noted = () => note('making columns')
      extend(base.logs, await inTurns(makeReady(definition, base, cache, types), noted))
    })
  }

  /** A formula's names are properties as well, which looking through the definition does not find. */
  function readyFor(definition: Derived, base: MadeBase): Promise<void> {
    return ready([definition, ...inputsOf(definition.recipe, definition.of)], base)
  }

  function planContext({ schema, now }: MadeBase): QualityContext {
    const { versionProperty } = settingsStore(db).get()
    return { schema, now, versionProperty, plan: planStore(db).get(), mending: mendingStore(db).get() }
  }

  /** Every event is looked at, so it is done once for a rule set and a state of the data. */
  async function ruleCounts(definition: Derived, base: MadeBase): Promise<RulesCaught> {
    const { recipe } = definition
    if (recipe.kind !== 'rules') throw new RangeError(`only rules have rows: ${recipe.kind}`)
    if (rules?.base !== base.logs) rules = { base: base.logs, counts: new Map() }
    const key = `${base.now} ${JSON.stringify(recipe)}`
    const { counts } = rules
    let found = counts.get(key)
    if (!found) {
      await readyFor(definition, base)
      counts.set(key, (found = await inTurns(countRules(recipe, base), () => note('counting rules'))))
    }
    return found
  }

  async function allProblems(base: MadeBase): Promise<Problem[]> {
    if (problems?.base === base.logs && problems.now === base.now) return problems.found
    const found = await inTurns(findProblems(base.logs, planContext(base)), () => note('quality'))
    problems = { base: base.logs, now: base.now, found }
    return found
  }

  return async (request: LookupRequest, base: MadeBase): Promise<unknown> => {
    note(request.kind)
    switch (request.kind) {
      case 'values':
        await ready(request.property, base)
        return (await inTurns(
          commonValues(base.schema.asMade(), base.logs, request.property, request.search, request.limit),
          () => note('values'),
        )) satisfies ValueCount[]
      case 'problems':
        return allProblems(base)
      case 'preview made': {
        const definition = derivedSchema.parse(request.definition)
        await readyFor(definition, base)
        return (await inTurns(previewMade(definition, base), () => note('preview'))) satisfies MadePreview
      }
      case 'count rules':
        return ruleCounts(request.definition, base)
      case 'newest of event':
        return newestOf(request.event, request.limit, base)
      case 'all of event':
        return allOfEvent(request.event, base)
      case 'all of person': {
        const place = findPerson(base.logs, request.person)
        return place ? [...place.log.arrival.subarray(place.from, place.to)] : []
      }
      case 'all of problem': {
        const { rule, event, property } = request
        const context = { ...planContext(base), samples: Infinity }
        const found = await inTurns(findProblems(base.logs, context), () => note('quality'))
        return (
          found.find((each) => each.rule === rule && each.event === event && each.property === property)?.samples ?? []
        )
      }
      case 'person':
        return personEvents(request, base)
      case 'session':
        return personSession(request, base)
      case 'session figures': {
        const steps = sessionFigures(base.logs, planCuts(request.cuts, base.schema), base.now)
        return (await inTurns(steps, () => note('session figures'))) satisfies SessionFigures
      }
      case 'did within': {
        await ready(request.pick, base)
        const steps = didWithin(request.pick, request.moments, request.withinMs, base)
        return (await inTurns(steps, () => note('who did something'))) satisfies Uint8Array
      }
      case 'did between': {
        await ready(request.pick, base)
        const steps = didBetween(request.pick, request, base)
        return (await inTurns(steps, () => note('who did something'))) satisfies DidBetween
      }
    }
  }
}

/** Arrival numbers of all events of one name, those to come as well. */
function allOfEvent(event: string, { schema, logs }: MadeBase): number[] {
  const all: number[] = []
  for (const type of schema.typesNamed(event) ?? [])
    for (const log of logs)
      for (const row of log.rowsOfType[type] ?? [])
        if (!log.hidden?.[personIndex(log, row)]) all.push(log.arrival[row]!)
  return all
}

/** Arrival numbers of the events of one name that came last. */
function newestOf(event: string, limit: number, { schema, logs, now }: MadeBase): number[] {
  const newest: number[] = []
  for (const type of schema.typesNamed(event) ?? [])
    for (const log of logs)
      for (const row of log.rowsOfType[type] ?? []) {
        const arrival = log.arrival[row]
        if (newest.length === limit && arrival <= newest[limit - 1]!) continue
        if (log.time[row]! > now || (log.hidden && log.hidden[personIndex(log, row)])) continue
        newest.push(arrival!)
        newest.sort((a, b) => b - a)
        newest.length = Math.min(newest.length, limit)
      }
  return newest
}

function personEvents(
  { person, event, offset, limit }: Extract<LookupRequest, { kind: 'person' }>,
  { schema, logs, now, calendar }: MadeBase,
): PersonEvents {
  const found: PersonEvents = {
    ...{ events: 0, matching: 0, firstMs: null, lastMs: null, sessions: 0, types: [], page: [] },
    weeks: new Array<number>(PERSON_WEEKS).fill(0),
  }
  const place = findPerson(logs, person)
  if (!place) return found
  const { log, from, to } = place
  const wanted = event === null ? null : new Set(schema.typesNamed(event) ?? [])
  const types = new Map<number, number>()
  const matching: PersonEvents['page'] = []
  const begins = cutter(log, planCuts(calendar.sessions, schema))
  for (let row = from; row < to && log.time[row]! <= now; row++) {
    const at = log.time[row]!
    if (row === from || begins(row)) found.sessions++
    found.events++
    found.firstMs ??= at
    found.lastMs = at
    types.set(log.type[row]!, (types.get(log.type[row]!) ?? 0) + 1)
    const week = PERSON_WEEKS - 1 - Math.floor((now - at) / WEEK_MS)
    if (week >= 0) found.weeks[week]!++
    if (!wanted || wanted.has(log.type[row]!))
      matching.push({ seq: log.arrival[row]!, timeMs: at, session: found.sessions })
  }
  found.matching = matching.length
  found.types = [...types]
    .sort((a, b) => b[1] - a[1])
    .map(([type, events]) => ({ event: schema.types[type]!.name, events }))
  found.page = matching.reverse().slice(offset, offset + limit)
  return found
}

/** null where the person has no event up to now. */
function personSession(
  { person, session, seq }: Extract<LookupRequest, { kind: 'session' }>,
  { schema, logs, now, calendar }: MadeBase,
): PersonSession | null {
  const place = findPerson(logs, person)
  if (!place) return null
  const { log, from, to } = place
  const begins = cutter(log, planCuts(calendar.sessions, schema))
  const sessions: PersonSession['sessions'] = []
  const starts: number[] = []
  let wanted = session
  let row = from
  for (; row < to && log.time[row]! <= now; row++) {
    const at = log.time[row]!
    if (row === from || begins(row)) {
      sessions.push({ events: 0, firstMs: at, lastMs: at })
      starts.push(row)
    }
    const own = sessions.at(-1)!
    own.events++
    own.lastMs = at
    if (seq !== null && log.arrival[row] === seq) wanted = sessions.length
  }
  if (sessions.length === 0) return null
  const number = Math.min(Math.max(wanted ?? sessions.length, 1), sessions.length)
  const start = starts[number - 1]!
  return { session: number, sessions, seqs: [...log.arrival.subarray(start, start + sessions[number - 1]!.events)] }
}

export function findPerson(
  logs: readonly EventLog[],
  person: number,
): { log: EventLog; from: number; to: number } | null {
  for (const log of logs) {
    const index = indexOf(log.person, person)
    if (index >= 0 && !log.hidden?.[index]) return { log, from: log.offsets[index]!, to: log.offsets[index + 1]! }
  }
  return null
}

function indexOf(sorted: Uint32Array, value: number): number {
  let low = 0
  let high = sorted.length - 1
  while (low <= high) {
    const middle = (low + high) >> 1
    if (sorted[middle] === value) return middle
    if (sorted[middle]! < value) low = middle + 1
    else high = middle - 1
  }
  return -1
}
