import { mkdirSync } from 'node:fs'
import path from 'node:path'
import type { PeopleRef } from '../core/analyses/people.js'
import type { Question, Result } from '../core/analyses/registry.js'
import { restOf } from '../core/analyses/rest.js'
import type { Fault } from '../core/questions/faults.js'
import type { PropertyRef } from '../core/questions/parts.js'
import type { Derived } from '../core/made/definitions.js'
import type { MadePreview, RuleCount } from '../core/made/preview.js'
import { checkerOf } from '../core/plan/check.js'
import type { Problem as QualityProblem } from '../core/plan/quality.js'
import type { Catalog, CatalogDetail } from './engine/catalog.js'
import type { PersonEvents, PersonSession } from './engine/lookups.js'
import { planToJsonSchema } from '../core/plan/jsonSchema.js'
import type { Words } from '../core/words/words.js'
import { mender } from './mend.js'
import { planCsv, readPlanFile } from './planFiles.js'
import { simulator } from './simulator.js'
import type { AsideChoice } from './store/setAside.js'
import { setAsideStore } from './store/setAside.js'
import { annotationStore } from './store/annotations.js'
import { catalogStore } from './store/catalog.js'
import { eventStore, type LiveFilter, type StoredEvent } from './store/events.js'
import { mendingStore } from './store/mending.js'
import { planStore } from './store/plan.js'
import { usesOfEvent, usesOfProperty } from './uses.js'
import { violationWords } from './ingest/doorway.js'
import type { PeopleReply, PeopleSort, Neighbours, PersonSummary, RunReply } from './engine/engine.worker.js'
import type { EventPolicy } from './ingest/afterwards.js'
import type { BodyForm } from './ingest/body.js'
import type { ImportPlan } from './ingest/importPlan.js'
import type { Preview, TableStart } from './ingest/preview.js'
import type { IngestReply, IngestRequest } from './ingest/ingest.worker.js'
import { removeOrphans } from './ingest/orphans.js'
import { rejectedCsv } from './ingest/rejected.js'
import { roomOn } from './ingest/room.js'
import { makeLogger, type Logger } from './logger.js'
import { CallError } from './pool/calls.js'
import { questionDesk } from './questions/questions.js'
import { segmentDoor } from './segmentDoor.js'
import type { Settings } from './settings.js'
import { keyStore, linkStore } from './store/access.js'
import { dashboardStore } from './store/dashboards.js'
import { openDatabase } from './store/database.js'
import { exporter } from './export/exporter.js'
import type { ExportFormat } from './export/formats.js'
import type { Exportable } from './export/tables.js'
import { makeCounters } from './watch/counters.js'
import { openThreads, type Health } from './threads.js'
import { workspaceFile } from './store/home.js'
import { importStore } from './store/imports.js'
import { momentNoteStore } from './store/momentNotes.js'
import { peopleStore, type PersonProfile } from './store/people.js'
import { settingsStore } from './store/settings.js'
import { studyStore } from './store/studies.js'
import { writingTurn } from './store/writing.js'

export interface PersonRow extends PersonProfile {
  events: number
  lastMs: number
}

/** The one door to the server for pages and API: definitions in SQLite, and questions to the engine's thread. */
export function openDowser(settings: Settings, logger: Logger = makeLogger('silent')) {
  const file = workspaceFile(settings.dataDir, Date.now())
  const uploads = path.join(settings.dataDir, 'imports')
  mkdirSync(uploads, { recursive: true })
  const db = openDatabase(file)
  // Whoever saves waits for other writers before, without holding this thread; then it is a batch's time at most.
  db.pragma('busy_timeout = 250')
  const toWrite = writingTurn(db)
  const stores = {
    settings: settingsStore(db),
    studies: studyStore(db),
    dashboards: dashboardStore(db),
    links: linkStore(db),
    keys: keyStore(db),
    imports: importStore(db),
    annotations: annotationStore(db),
    momentNotes: momentNoteStore(db),
  }
  const people = peopleStore(db)
  const catalog = catalogStore(db)
  const plan = planStore(db)
  const mending = mendingStore(db)
  const events = eventStore(db)
  const aside = setAsideStore(db)
  const simulated = simulator(
    stores.keys,
    () => `http://${settings.host === '0.0.0.0' ? '127.0.0.1' : settings.host}:${settings.port}`,
  )
  // Imports of pages that a stop or a crash interrupted go on by themselves; one from the command line, whose file is
  // its owner's, waits for its --resume.
  const waitingFiles = stores.imports.unfinished().flatMap(({ path: place }) => place ?? [])
  const orphans = removeOrphans(uploads, new Set(waitingFiles))
  if (orphans > 0) logger.warn({ files: orphans }, 'files that a stop had left behind are removed')
  const importing = new Set<string>()
  /** by import: how many threads have died over it */
  const importDeaths = new Map<string, number>()
  function runImport(id: string): void {
    if (importing.has(id)) return
    importing.add(id)
    void threads.ingest
      .ask({ kind: 'import', id })
      .then(
        () => threads.accepted(),
        (error: Error) => {
          logger.error({ import: id, error: error.message }, 'an import stopped')
          if (error instanceof CallError && error.died) importDeaths.set(id, (importDeaths.get(id) ?? 0) + 1)
        },
      )
      .finally(() => importing.delete(id))
  }
  const counters = makeCounters()
  const threads = openThreads({
    ...{ file, settings, logger },
    onIngestStart: () => {
      importing.clear()
      for (const { id, path: place } of stores.imports.unfinished()) {
        if (!place?.startsWith(uploads)) continue
        if ((importDeaths.get(id) ?? 0) < 2) runImport(id)
        else
          void toWrite()
            .then(() => stores.imports.finish(id, 'failed', IMPORT_GIVEN_UP))
            .catch(() => {})
      }
    },
  })
  const { engine, ingest } = threads
  const desk = questionDesk({
    ...{ engine, threads: settings.threads, limitMs: settings.questionMs, events: () => threads.events },
    answered: (kind, ms, how) => {
      counters.question(kind, ms, how)
      threads.answered(ms)
    },
  })
  const { ask } = desk
  const exports = exporter(file, uploads)
  const room = roomOn(settings.dataDir, settings.freeBytes)
  const keysUsed = new Map<string, number>()

  const run = (question: Question, signal?: AbortSignal) => ask<RunReply>({ kind: 'run', question }, signal)

  const segments = segmentDoor({
    ...{ db, ask, studies: stores.studies, dashboards: stores.dashboards, events, people },
    write: <T>(request: IngestRequest) => ingest.ask<T>(request),
    look: (start: Uint8Array) => threads.files.ask({ kind: 'look at list', start }),
  })
  const preview = (definition: Derived) => ask<MadePreview>({ kind: 'preview made', definition })
  const definitions = () => ({ studies: stores.studies, dashboards: stores.dashboards, mending: mending.get() })

  /** Waits until the engine knows what has been written. While it is being started it reads that by itself. */
  async function known(): Promise<void> {
    if (threads.loaded) await engine.ask({ kind: 'refresh' }).catch(() => {})
  }

  /** A change that other threads read from the file: they are told at once, and the page waits until they know. */
  async function told<T>(change: T | Promise<T>): Promise<T> {
    const result = await change
    await known()
    return result
  }

  const describe = ({ person, events, lastMs }: { person: number; events: number; lastMs: number }): PersonRow => ({
    ...people.describe(person),
    events,
    lastMs,
  })

  return {
    ...stores,
    file,
    uploads,

    /** Answers a study's question with the very numbers that the API gives. */
    run,

    /**
     * Answers what is sound of a question with faults; what depended on its faulty parts goes with them, round by round.
     * @returns null where nothing can be answered
     */
    async runRest(
      question: Question,
      faults: readonly Fault[],
      signal?: AbortSignal,
    ): Promise<{ question: Question; result: Result } | null> {
      let rest = restOf(question, faults)
      while (rest) {
        const reply = await run(rest, signal)
        if (reply.result) return { question: rest, result: reply.result }
        rest = restOf(rest, reply.faults)
      }
      return null
    },

    /** A page of the people that are meant. */
    async people(
      ref: PeopleRef,
      page: { offset: number; limit: number; sort?: PeopleSort },
      signal?: AbortSignal,
    ): Promise<{ count: number; people: PersonRow[] } | { faults: Fault[] }> {
      const reply = await ask<PeopleReply>({ kind: 'people', ref, ...page }, signal)
      return 'faults' in reply ? reply : { count: reply.count, people: reply.page.map(describe) }
    },
    profileNames: people.propertyNames,
    /** People one of whose ids holds a text, those whose begins with it first. */
    peopleWithId: (text: string, limit: number) =>
      ask<PersonSummary[]>({ kind: 'summaries', people: people.find(text, limit) }).then((found) =>
        found.map(describe),
      ),
    segments,

    catalog: () => ask<Catalog>({ kind: 'catalog' }),
    catalogDetail: () => ask<CatalogDetail>({ kind: 'catalog detail' }),
    /** what is said of events and properties, the tracking plan, and what is made of them */
    said: catalog,
    plan: {
      ...plan,
      readFile: readPlanFile,
      csv: () => planCsv(plan.get().events),
      jsonSchema: () => planToJsonSchema(plan.get().events),
    },
    mending: {
      ...mender(mending, catalog, preview),
      get: mending.get,
      removeDerived: mending.removeDerived,
      removeCombined: mending.removeCombined,
    },
    told,
    /** What sentences need to know at a moment: the year, and what events and properties are called. */
    wordsAt(ms: number): Words {
      const { zone, currency } = stores.settings.get()
      const thisYear = Number(new Intl.DateTimeFormat('en', { timeZone: zone, year: 'numeric' }).format(ms))
      return {
        ...{ thisYear, zone, labels: catalog.labels(mending.get()), currency },
        ...{ annotations: stores.annotations.list(), segments: segments.names() },
      }
    },
    usesOfEvent: (name: string) => usesOfEvent(name, definitions()),
    usesOfProperty: (ref: { of: 'event' | 'person'; name: string }) => usesOfProperty(ref, definitions()),
    previewDerived: preview,
    countRules: (definition: Derived) => ask<RuleCount[]>({ kind: 'count rules', definition }),

    /** What has come that does not fit the plan. */
    problems: () => ask<QualityProblem[]>({ kind: 'problems' }),
    aside,
    /** Events as they came, by arrival number. */
    eventsBySeq: (seqs: readonly number[]): StoredEvent[] => events.bySeqs(seqs),
    async newestOfEvent(event: string, limit: number): Promise<StoredEvent[]> {
      return events.bySeqs(await ask<number[]>({ kind: 'newest of event', event, limit }))
    },
    /** Moves all events with a problem out of the numbers. @returns how many */
    async setProblemAside(
      problem: { rule: QualityProblem['rule']; event: string; property: string | null },
      reason: string,
      policy?: EventPolicy,
    ): Promise<number> {
      const seqs = await ask<number[]>({ kind: 'all of problem', ...problem })
      const { rule, property } = problem
      const moved = await ingest.ask<number>({
        ...{ kind: 'set aside', seqs, rule, property, reason, nowMs: Date.now() },
        ...(policy ? { policy } : {}),
      })
      await known()
      return moved
    },
    letIn: (choice: AsideChoice, atReceipt: boolean, policy?: EventPolicy) =>
      told(
        ingest.ask<{ accepted: number; duplicates: number }>({
          ...{ kind: 'let in', choice, atReceipt, nowMs: Date.now() },
          ...(policy ? { policy } : {}),
        }),
      ),
    discardAside: (choice: AsideChoice) => ingest.ask<number>({ kind: 'discard', choice }),

    /** The last events, each with the plan's verdict on it; newest first. */
    live(filter: LiveFilter, limit: number): LiveEvent[] {
      const checker = checkerOf(plan.get(), mending.get())
      return events.newest(filter, limit).map((event) => ({
        ...event,
        verdict: checker.check(event.event, event.properties).map((each) => violationWords(each, event.event)),
      }))
    },

    /** One person by an id; null where nobody has it. */
    async person(
      space: 'known' | 'anonymous',
      value: string,
      page: { event: string | null; offset: number; limit: number },
    ) {
      const found = events.findId(space, value)
      if (!found) return null
      const { person } = found
      const summary = await ask<PersonEvents>({ kind: 'person', person, ...page })
      const shown = new Map(events.bySeqs(summary.page.map(({ seq }) => seq)).map((event) => [event.seq, event]))
      const all = await ask<PersonEvents>({ kind: 'person', person, event: null, offset: 0, limit: 20_000 })
      const seen = all.page.flatMap(({ seq }) => events.seenWith(seq) ?? [])
      const ids = events.idsOf(person).map((id) => ({ ...id, ...useOf(id.id, seen), cutFrom: events.cutFrom(id.id) }))
      const rows = summary.page.flatMap((row) => (shown.has(row.seq) ? [{ ...row, event: shown.get(row.seq)! }] : []))
      return { ...people.describe(person), ...summary, page: rows, ids }
    },
    /**
     * One session of a person with its events and the notes on them: by its number, the one that holds an event by its
     * id, the one in which they came to be counted among `of`, or the last. null where nobody has the id, or they have no event yet.
     */
    async session(
      space: 'known' | 'anonymous',
      value: string,
      which: { session: number | null; eventId: string | null; of: PeopleRef | null },
    ) {
      const found = events.findId(space, value)
      if (!found) return null
      const { person } = found
      const asked = which.eventId === null ? null : events.seqOf(which.eventId)
      // From a list of people who were counted somewhere: where that was.
      const counted =
        which.of && which.session === null && asked === null
          ? await ask<number | null>({ kind: 'moment', ref: which.of, person })
          : null
      const seq = asked ?? counted
      const reply = await ask<PersonSession | null>({ kind: 'session', person, session: which.session, seq })
      if (!reply) return null
      const shown = events.bySeqs(reply.seqs)
      return {
        ...people.describe(person),
        ...{ session: reply.session, sessions: reply.sessions, events: shown },
        /** arrival number of the event that was asked for, or at which they were counted */
        at: seq,
        notes: stores.momentNotes.on(shown.map(({ id }) => id)),
      }
    },
    /** Who stands before and after somebody in a list of people. */
    async neighbours(ref: PeopleRef, person: number, sort?: PeopleSort) {
      const found = await ask<Neighbours | null>({ kind: 'neighbours', ref, person, ...(sort ? { sort } : {}) })
      if (!found) return null
      const describeId = (number: number | null) => {
        if (number === null) return null
        const { id, anonymous } = people.describe(number)
        return { id, anonymous }
      }
      return { ...found, before: describeId(found.before), after: describeId(found.after) }
    },
    simulator: simulated,
    unmerge: (id: number) => told(ingest.ask<number | null>({ kind: 'unmerge', id })),
    remerge: (id: number) => told(ingest.ask<number>({ kind: 'remerge', id })),
    values: (property: PropertyRef, search: string, limit: number) =>
      ask<{ value: string | number | boolean; count: number }[]>({ kind: 'values', property, search, limit }),
    progress: desk.progress,
    /** About how long a question will take, ms. */
    costMs: desk.estimateMs,
    status: threads.status,
    /** state of the data; a larger number than before means that answers may differ */
    version: () => threads.version,
    /** What a file seems to be, by its first bytes; files of a known shape are read as the last one was. */
    async preview(bytes: Uint8Array): Promise<Preview> {
      const { zone } = stores.settings.get()
      return stores.imports.remembered(await threads.files.ask<Preview>({ kind: 'preview', bytes, zone }))
    },
    async previewTable(table: TableStart): Promise<Preview> {
      const { zone } = stores.settings.get()
      return stores.imports.remembered(await threads.files.ask<Preview>({ kind: 'preview table', table, zone }))
    },
    threads,
    counters,
    desk,
    room,
    toWrite,
    /** Notes that a key was used, to the minute, without making anybody wait. */
    noteKeyUse({ id, usedMs }: { id: string; usedMs: number | null }): void {
      const now = Date.now()
      const before = Math.max(usedMs ?? 0, keysUsed.get(id) ?? 0)
      if (now - before < 60_000) return
      keysUsed.set(id, now)
      void toWrite().then(
        () => stores.keys.noteUse(id, now),
        () => {},
      )
    },
    /** Whether everything stands ready, and what does not. */
    async readiness(): Promise<Health & { room: { freeBytes: number; enough: boolean } }> {
      const health = await threads.health(1000)
      const free = { freeBytes: room.leftBytes(), enough: room.enough }
      return { ...health, ready: health.ready && free.enough, room: free }
    },

    /** Writes a body of events or people, whose memory is taken over; returns once they are on disk. */
    async ingest(kind: 'events' | 'people', body: Uint8Array, form: BodyForm): Promise<IngestReply> {
      // Memory that holds nothing else changes hands; a piece of a pool is copied.
      const { buffer } = body
      const owned =
        buffer instanceof ArrayBuffer && body.byteOffset === 0 && buffer.byteLength - body.byteLength < 65_536
      const transfer = owned && body.byteLength > 8192 ? [buffer] : []
      const reply = await ingest.ask<IngestReply>({ kind, body, form, receivedMs: Date.now() }, transfer)
      threads.accepted()
      return reply
    },
    startImport(job: { file: string; path: string; bytes: number; plan: ImportPlan }): string {
      const id = stores.imports.create(job, Date.now())
      runImport(id)
      return id
    },
    rejectedLines: (id: string) => rejectedCsv(stores.imports.rejects(id)),
    stopImport: (id: string) => ingest.ask({ kind: 'stop import', id }),

    /** A table on its way out: pieces of text, or of a Parquet file, to be streamed one after another. */
    async exportTable(what: Exportable, format: ExportFormat, range: { fromMs?: number; untilMs?: number }) {
      const detail = what === 'catalog' ? await ask<CatalogDetail>({ kind: 'catalog detail' }) : null
      return exports.begin({ what, format, ...range, ...(detail ? { detail } : {}) })
    },

    /** Ends the threads after what they have accepted is on disk. */
    async close(): Promise<void> {
      simulated.stop()
      await threads.close()
      db.close()
    },
  }
}

const IMPORT_GIVEN_UP =
  'Reading this file has stopped the server’s thread twice, so it is not tried again. The lines before that were taken. Split the file, or save it in another form, and import it anew: lines already taken are not counted twice.'

export type Dowser = ReturnType<typeof openDowser>

export interface LiveEvent extends StoredEvent {
  /** in what ways it does not fit the plan; none for an event that does */
  verdict: string[]
}

/** Where and when an id was seen, among a person's events. */
function useOf(
  id: number,
  rows: readonly { known: number | null; anonymous: number | null; source: string | null; time_ms: number }[],
) {
  const seen = { events: 0, firstMs: null as number | null, lastMs: null as number | null, sources: [] as string[] }
  for (const row of rows) {
    if (row.known !== id && row.anonymous !== id) continue
    seen.events++
    seen.firstMs = Math.min(seen.firstMs ?? Infinity, row.time_ms)
    seen.lastMs = Math.max(seen.lastMs ?? -Infinity, row.time_ms)
    if (row.source !== null && !seen.sources.includes(row.source)) seen.sources.push(row.source)
  }
  return seen
}
export { CallError }
