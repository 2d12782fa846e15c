import type { PeopleSort } from '../engine/peopleSort.js'
import type { ListedSession } from '../../core/analyses/sessions/sessionList.js'
import type { ListedConversion } from '../../core/analyses/attribution/listed.js'
import type { SessionSort } from '../../core/sessions/listSort.js'
import type { PeopleRef, StudyPeople } from '../../core/analyses/people.js'
import type { Fault } from '../../core/questions/faults.js'
import type {
  Neighbours,
  PeopleReply,
  PersonSummary,
  SessionsReply,
  ConversionsReply,
} from '../engine/engine.worker.js'
import type { QuestionOf } from '../../core/analyses/registry.js'
import type { PersonChance } from '../engine/chances.js'
import type { PersonEvents, PersonSession } from '../engine/lookups.js'
import type { PersonProfile } from '../store/people.js'
import type { Inside } from './inside.js'

export interface PersonRow extends PersonProfile {
  events: number
  lastMs: number
}

type Told<Reply> = Exclude<Reply, { faults: Fault[] }>

export interface SessionRow extends Omit<ListedSession, 'person'> {
  person: Pick<PersonRow, 'id' | 'anonymous'>
}

export interface ConversionRow extends Omit<ListedConversion, 'person' | 'event'> {
  person: Pick<PersonRow, 'id' | 'anonymous'>
  /** id of its event */
  event: string
}

/** How likely a person is to do what a saved study asks. */
export interface StudyChance extends Omit<PersonChance, 'question'> {
  study: { id: string; name: string; question: QuestionOf<'likelihood'> }
}

/** Lists of people, and one person with their ids, events and sessions. */
export function peopleDoor({ stores, ask, threads, known }: Inside) {
  const { people, events } = stores

  const describe = ({ person, events, lastMs }: PersonSummary): PersonRow => ({
    ...people.describe(person),
    events,
    lastMs,
  })

  /** Names people as lists do, each looked up once. */
  function namer() {
    const named = new Map<number, Pick<PersonRow, 'id' | 'anonymous'>>()
    return (person: number) => {
      let found = named.get(person)
      if (!found) {
        const { id, anonymous } = people.describe(person)
        named.set(person, (found = { id, anonymous }))
      }
      return found
    }
  }

  /** An id is taken out of its person, or put back: done when questions know. */
  async function apart(kind: 'unmerge' | 'remerge', id: number): Promise<number | null> {
    const person = await threads.ingest.ask<number | null>({ kind, id })
    await known()
    return person
  }

  /** What a person is likely to do, by saved studies of it that a model is kept of. */
  async function chancesOf(person: number): Promise<StudyChance[]> {
    const saved = stores.studies
      .list()
      .flatMap(({ id, name, question }) => (question.kind === 'likelihood' ? [{ id, name, question }] : []))
    if (saved.length === 0) return []
    const questions = saved.map(({ question }) => question)
    const chances = await ask<PersonChance[]>({ kind: 'chances', person, questions })
    return chances.map(({ question, ...chance }) => ({ ...chance, study: saved[question]! }))
  }

  return {
    /** A page of the people that are meant. */
    async people(
      ref: PeopleRef,
      page: { offset: number; limit: number; sort?: PeopleSort },
      signal?: AbortSignal,
    ): Promise<{ count: number; people: PersonRow[] } | { faults: Fault[] }> {
      const reply = await ask<PeopleReply>({ kind: 'people', ref, ...page }, signal)
      return 'faults' in reply ? reply : { count: reply.count, people: reply.page.map(describe) }
    },
    /** A page of the sessions that are counted in a study's marks. */
    async sessionsOf(
      ref: StudyPeople,
      page: { offset: number; limit: number; sort: SessionSort },
      signal?: AbortSignal,
    ): Promise<{ count: number; people: number; sessions: SessionRow[] } | { faults: Fault[] }> {
      const reply = await ask<SessionsReply>({ kind: 'listed sessions', ref, ...page }, signal)
      if ('faults' in reply) return reply
      const nameOf = namer()
      const sessions = reply.page.map((session) => ({ ...session, person: nameOf(session.person) }))
      return { count: reply.count, people: reply.people, sessions }
    },
    /** A page of the conversions that are counted in a study's marks, each with the touches that earned the credit. */
    async conversionsOf(
      ref: StudyPeople,
      page: { offset: number; limit: number },
      signal?: AbortSignal,
    ): Promise<(Omit<Told<ConversionsReply>, 'page'> & { conversions: ConversionRow[] }) | { faults: Fault[] }> {
      const reply = await ask<ConversionsReply>({ kind: 'listed conversions', ref, ...page }, signal)
      if ('faults' in reply) return reply
      const nameOf = namer()
      const idOf = new Map(events.bySeqs(reply.page.map(({ event }) => event)).map(({ seq, id }) => [seq, id]))
      const { page: listed, ...all } = reply
      const conversions = listed.map((each) => ({
        ...each,
        person: nameOf(each.person),
        event: idOf.get(each.event) ?? '',
      }))
      return { ...all, conversions }
    },
    profileNames: people.propertyNames,
    /** People one of whose ids holds a text, those whose begins with it first. */
    peopleWithId: (text: string, limit: number) =>
      ask<PersonSummary[]>({ kind: 'summaries', people: people.find(text, limit) }).then((found) =>
        found.map(describe),
      ),

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
      const chances = await chancesOf(person)
      return { ...people.describe(person), ...summary, page: rows, ids, history: people.history(person), chances }
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

    unmerge: (id: number) => apart('unmerge', id),
    remerge: (id: number) => apart('remerge', id),
  }
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
