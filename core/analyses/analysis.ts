import type { Reading } from '../words/sentence.js'
import type { z } from 'zod'
import type { EventLog, PersonRange } from '../log/log.js'
import type { PersonIds } from '../log/personIds.js'
import type { Schema } from '../log/schema.js'
import type { MarkParts, Parts, ReadMark } from '../ask/printedParts.js'
import type { Reader } from '../ask/reader.js'
import type { CostRow, CostsBy } from '../costs/costs.js'
import type { Fault } from '../questions/faults.js'
import type { EventPick } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import type { AnyMark, StudyDefinition } from '../questions/study.js'
import type { Pieces } from '../stats/pieces.js'
import type { SidesColumn } from '../segments/sides.js'
import type { Explain, SpokenKind } from './kind.js'
import type { Annotation, Words } from '../words/words.js'
import type { Calendar } from '../time/range.js'

/** What the plan of a query needs beside its definition. Now, zone and settings are arguments: core asks no clock. */
export interface QueryContext {
  schema: Schema
  calendar: Calendar
  /** epoch ms; the query sees events up to and including this moment */
  now: number
  /** the segments side by side that the question breaks down by, by their keys */
  sides?: ReadonlyMap<string, SidesColumn> | undefined
  /** groups that are asked for by name, by their ids: kept beside the largest */
  wanted?: ReadonlySet<string> | undefined
  /** what segments are called, by id */
  segmentNames?: Readonly<Record<string, string>> | undefined
  /** what was paid for values of a property, in the workspace's currency; left out: nothing is known of it */
  costs?: ((by: CostsBy) => readonly CostRow[]) | undefined
  /** by the workspace's number of a person, 1 = belongs to the people asked among; null = everybody */
  among: Uint8Array | null
  /** what people are called by whoever sends their events; given to kinds that want it */
  ids?: PersonIds | undefined
  /** by code of a profile property, then by person: 1 = the first value came after a moment, without a time of its own */
  late?: ReadonlyMap<number, Uint8Array> | undefined
  /** a model that is kept of a question; left out: none is */
  model?: ((question: StudyDefinition) => Learned | null) | undefined
}

/** What a kind learned of the data, to be asked again; it is plain, and each kind has its own. */
export interface Learned {
  /** epoch ms: the moment it was learned as of */
  trainedAt: number
}

/** What of a kind's question stands in those of other kinds as well. */
export interface Turn<Question> {
  /** the events it is about, in their order */
  picks(question: Question): EventPick[]
  /** a usual question about these events, or about some of them */
  about(picks: readonly EventPick[]): Question
  /** its breakdowns; left out: `breakdowns` */
  splits?(question: Question): Split[] | undefined
  /** its groups are made of people: by what is theirs, and not by an event's */
  ofPeople?: true
  /** the fields that breakdowns stand in; left out: `breakdowns` */
  splitBy?(splits: readonly Split[]): object
}

/**
 * A kind of study. A query runs `plan`, then `scan` over ranges of people that cover everybody once, `merge` in order
 * of people, and while `next` gives a further plan, another scan with that; then `finish`.
 */
export interface Analysis<
  Question extends StudyDefinition,
  Mark extends AnyMark,
  Plan,
  Part,
  Result,
> extends SpokenKind<Question, Mark> {
  explain: Explain<Question>
  schema: z.ZodType<Question>
  markSchemas: readonly z.ZodType<Mark>[]
  /** a definition that is right as it stands, around one event */
  usual(event: string): Question
  /** (unknown) → question, or every fault at once */
  parse(input: unknown): { question: Question; faults: Fault[] }
  /** it reads properties of events of every type, whatever it names */
  ofAnything?: true
  /** how it becomes a study of another kind, and another becomes one of it; left out: it is not about events */
  turn?: Turn<Question>
  /** names as codes, filters as lookup tables; once a query; can be sent to a worker. Faults go to the list. */
  plan(question: Question, context: QueryContext, faults: Fault[]): Plan
  /** pure; typed arrays and plain objects only */
  scan(log: EventLog, people: PersonRange, plan: Plan): Part
  /**
   * Of a pass that goes over pieces of work in place of people: how many there are. `scan` is given them one by one, as
   * a range, with any log of the state. Null = the pass goes over people; left out: all do.
   */
  pieces?(plan: Plan): number | null
  /** of people, what beside their events it wants to know: what they are called, and which values came after a moment */
  wantsIds?(question: Question, now: number): { cameAfter: number }
  /** what it learned, to be asked again; null where that is known already; left out: it learns nothing */
  learned?(plan: Plan): Learned | null
  /** how many passes it takes, about: what is told while one waits; left out: 1 */
  passes?: number
  /** associative */
  merge(a: Part, b: Part): Part
  /** parts may be merged in any order, so that each thread merges its own; left out: in order of people */
  anyOrder?: true
  /** the plan of a further pass, or null when the part is ready to be finished */
  next(part: Part, plan: Plan, question: Question, context: QueryContext): Plan | null
  /** rates, intervals, percentiles, what is still open; `earlier` are what the passes before the last one found */
  finish(part: Part, plan: Plan, question: Question, context: QueryContext, earlier: readonly Part[]): Result
  /** whether the people behind marks can be read with this plan: later passes only count them, or look further */
  reads(plan: Plan, marks: readonly Mark[]): boolean
  /** what a mark names beside groups, so that it is kept however small it is; left out: nothing */
  wants?(mark: Mark): string[]
  /** the people counted in any of the marks, by the workspace's number, ascending; `plan` is one that `reads` */
  select(log: EventLog, people: PersonRange, plan: Plan, marks: readonly Mark[]): Uint32Array
  /** the row at which a person came to be counted in a mark, to look at what happened then; null where there is none */
  moment?(log: EventLog, index: number, plan: Plan, marks: readonly Mark[]): number | null
  /** what is counted in any of the marks beside people, where `lists` says so: as numbers, in order of people */
  listed?(log: EventLog, people: PersonRange, plan: Plan, marks: readonly Mark[]): Pieces
  /** the dated notes that stand on its chart; left out: none do */
  notesOn?(result: Result, notes: readonly Annotation[]): Annotation[]
  /** reads what its sentence says in full */
  printed(parts: Parts): Reader<Question>
  /** reads what is printed of its marks */
  printedMarks(parts: MarkParts): Reader<ReadMark<Mark>>
  findings(result: Result, question: Question, words: Words): Reading
  /** its numbers as a program is given them, where settings of the question are applied to them last; left out: as they are */
  given?(result: Result, question: Question): Result
}
