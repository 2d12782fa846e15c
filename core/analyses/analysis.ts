import type { z } from 'zod'
import type { EventLog, PersonRange } from '../log/log.js'
import type { Schema } from '../log/schema.js'
import type { Fault } from '../questions/faults.js'
import type { Mark } from '../questions/parts.js'
import type { SidesColumn } from '../segments/sides.js'
import type { Finding, Words } from '../words/words.js'
import type { Calendar } from '../time/range.js'

/** What the plan of a query needs beside its definition. Now, zone and settings are arguments: core asks no clock. */
export interface QueryContext {
  schema: Schema
  calendar: Calendar
  /** epoch ms; the query sees events up to and including this moment */
  now: number
  /** the segments side by side that the question breaks down by, by their keys */
  sides?: ReadonlyMap<string, SidesColumn> | undefined
  /** what segments are called, by id */
  segmentNames?: Readonly<Record<string, string>> | undefined
  /** by the workspace's number of a person, 1 = belongs to the people asked among; null = everybody */
  among: Uint8Array | null
}

/**
 * A kind of study. A query runs `plan`, then `scan` over ranges of people that cover everybody once, `merge` in order
 * of people, and while `next` gives a further plan, another scan with that; then `finish`.
 */
export interface Analysis<Question, Plan, Part, Result> {
  kind: string
  schema: z.ZodType<Question>
  /** a definition that is right as it stands, around one event */
  usual(event: string): Question
  /** (unknown) → question, or every fault at once */
  parse(input: unknown): { question: Question; faults: Fault[] }
  /** names as codes, filters as lookup tables; once a query; can be sent to a worker. Faults go to the list. */
  plan(question: Question, context: QueryContext, faults: Fault[]): Plan
  /** pure; typed arrays and plain objects only */
  scan(log: EventLog, people: PersonRange, plan: Plan): Part
  /** associative */
  merge(a: Part, b: Part): Part
  /** the plan of a further pass, or null when the part is ready to be finished */
  next(part: Part, plan: Plan, question: Question, context: QueryContext): Plan | null
  /** rates, intervals, percentiles, what is still open; `earlier` are what the passes before the last one found */
  finish(part: Part, plan: Plan, question: Question, context: QueryContext, earlier: readonly Part[]): Result
  /** whether the people behind marks can be read with this plan: later passes only count them, or look further */
  reads(plan: Plan, marks: readonly Mark[]): boolean
  /** the people counted in any of the marks, by the workspace's number, ascending; `plan` is one that `reads` */
  select(log: EventLog, people: PersonRange, plan: Plan, marks: readonly Mark[]): Uint32Array
  /** the row at which a person came to be counted in a mark, to look at what happened then; null where there is none */
  moment?(log: EventLog, index: number, plan: Plan, marks: readonly Mark[]): number | null
  sentence(question: Question, words: Words): SentencePart[]
  findings(result: Result, question: Question, words: Words): Reading
}

/** A piece of a question's sentence. A piece with a token can be changed; `path` ties it to faults. */
export interface SentencePart {
  text: string
  token?: string
  tone?: 'water' | 'hazel' | 'brick' | 'plain'
  path?: string
  /** begins a line of its own: a series or formula of the question */
  line?: 'series' | 'formula'
}

/** A sentence as plain text. */
export function sentenceText(parts: readonly SentencePart[]): string {
  return parts
    .map(({ text, line }, index) => `${line ? (parts[index - 1]?.text === ':' ? ' ' : '; ') : ''}${text}`)
    .join('')
}

/** *What this says*: findings, cautions, and where to look next. */
export interface Reading {
  findings: Finding[]
  cautions: Finding[]
}
