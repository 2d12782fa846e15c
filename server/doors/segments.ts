import path from 'node:path'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { Fault } from '../../core/questions/faults.js'
import type { Value } from '../../core/log/values.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { segmentsNamed } from '../../core/segments/resolve.js'
import type { Rule, RuleGroup } from '../../core/segments/rule.js'
import type { SegmentComposition, SegmentCount, SegmentSize, SegmentWhy, SizeUnit } from '../engine/segments.js'
import type { ListColumns, ListReply } from '../ingest/lists.js'
import { segmentStore, type SegmentInput } from '../store/segments.js'
import { messageStore } from '../store/messages.js'
import { syncStore } from '../store/syncs.js'
import type { Inside } from './inside.js'

/** Why a person is in a segment or not, with what their profile says. */
export type PersonWhy = SegmentWhy & { id: string; profile: Record<string, Value> }

/** Where a segment is asked for. */
export interface SegmentUses {
  studies: { id: string; name: string }[]
  dashboards: { id: string; name: string }[]
  segments: { id: string; name: string }[]
  /** what keeps it in step with a destination */
  kept: { id: string; name: string }[]
  /** messages that go to its people, or leave them out */
  messages: { id: string; name: string }[]
}

type Faulty = { faults: Fault[] }

/** The part of the door that has to do with segments. */
export function segmentDoor({ db, ask, threads, stores }: Inside) {
  const { studies, dashboards, events, people } = stores
  const { ingest, files } = threads
  const store = segmentStore(db)
  const syncs = syncStore(db)
  const messages = messageStore(db)

  /** Segments that read this one, themselves or through others. */
  function dependents(id: string): { id: string; name: string }[] {
    const all = store.list()
    const found = new Set([id])
    for (let grown = true; grown;) {
      grown = false
      for (const segment of all) {
        if (found.has(segment.id) || segment.frozenMs !== null) continue
        if (!segmentsNamed(segment.rule).some((named) => found.has(named.segment))) continue
        found.add(segment.id)
        grown = true
      }
    }
    return all.flatMap((segment) =>
      segment.id !== id && found.has(segment.id) ? [{ id: segment.id, name: segment.name }] : [],
    )
  }

  return {
    ...store,

    count: (rule: Rule, own?: string, signal?: AbortSignal) =>
      ask<SegmentCount | Faulty>({ kind: 'segment count', rule, ...(own ? { own } : {}) }, signal),
    size: (rule: Rule, every: SizeUnit, split: PropertyRef | null, own?: string, signal?: AbortSignal) =>
      ask<SegmentSize | Faulty>({ kind: 'segment size', rule, every, split, ...(own ? { own } : {}) }, signal),
    composition: (ref: PeopleRef, beside: PeopleRef | null, property: PropertyRef | null, signal?: AbortSignal) =>
      ask<SegmentComposition | Faulty>({ kind: 'composition', ref, beside, property }, signal),

    /** Why a person is in or not, by one of their ids; null where nobody has it. */
    async why(rule: Rule, id: string, own?: string): Promise<PersonWhy | Faulty | null> {
      const found = events.findId('known', id) ?? events.findId('anonymous', id)
      if (!found) return null
      const { person } = found
      const why = await ask<SegmentWhy | Faulty | null>({ kind: 'segment why', rule, person, ...(own ? { own } : {}) })
      return why && ('faults' in why ? why : { ...why, id, profile: people.describe(person).profile })
    },

    /** Whether two ways to say who is meant mean the very same people now. */
    same: (a: PeopleRef, b: PeopleRef) => ask<boolean>({ kind: 'same people', a, b }),
    /** Keeps the people as a list. @returns the list's reply, or why they cannot be read */
    async freeze(
      ref: PeopleRef,
      segment: SegmentInput & { origin: string; rule: RuleGroup | null },
      nowMs: number,
      asOfMs: number,
    ): Promise<ListReply | Faulty> {
      const people = await ask<Uint32Array | Faulty>({ kind: 'freeze', ref })
      if ('faults' in people) return people
      const { origin, rule, ...said } = segment
      return ingest.ask<ListReply>({ kind: 'freeze', segment: said, people, rule, origin, frozenMs: asOfMs, nowMs })
    },
    lookAtList: (start: Uint8Array) => files.ask<ListColumns | { problem: string }>({ kind: 'look at list', start }),
    /** Reads a list of ids from a file, which is removed afterwards. */
    readList: (segment: SegmentInput, file: string, at: string, column: number | null, nowMs: number) =>
      ingest.ask<ListReply | { problem: string }>({
        ...{ kind: 'read list', segment, path: at, file: path.basename(file), column, nowMs },
      }),

    /** Where a segment is used: studies and dashboards that name it or another that reads it, and those others. */
    usesOf(id: string): SegmentUses {
      const others = dependents(id)
      const ids = new Set([id, ...others.map((segment) => segment.id)])
      const names = (definition: unknown) => segmentsNamed(definition).some(({ segment }) => ids.has(segment))
      const using = studies.list().filter(({ question }) => names(question))
      const studyIds = new Set(using.map((study) => study.id))
      return {
        studies: using.map(({ id: own, name }) => ({ id: own, name })),
        dashboards: dashboards
          .list()
          .filter((board) => {
            const { among, cards } = dashboards.get(board.id)
            return names(among) || cards.some(({ study }) => study !== null && studyIds.has(study))
          })
          .map(({ id: own, name }) => ({ id: own, name })),
        segments: others,
        messages: messages
          .list()
          .flatMap(({ id: own, definition, state }) =>
            state !== 'ended' && (ids.has(definition.segment) || ids.has(definition.notAmong))
              ? [{ id: own, name: definition.name }]
              : [],
          ),
        kept: syncs
          .list()
          .flatMap(({ id: own, definition, state }) =>
            ids.has(definition.segment) && state !== 'ended' ? [{ id: own, name: definition.name }] : [],
          ),
      }
    },
  }
}
