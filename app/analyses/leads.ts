import type { Question } from '../../core/analyses/registry.js'
import type { Words } from '../../core/words/words.js'
import type { Catalog, EventEntry } from '../../server/engine/catalog.js'

export type Cell = string | number | null

/** A finished study behind a line. */
export interface Look {
  label: string
  question: Question
}

/** What there is to make a study of. */
export interface Near {
  catalog: Catalog
  words: Words
  /** IANA name of the workspace's time zone */
  zone: string
  /** epoch ms */
  now: number
  segments: readonly { id: string; tags: readonly string[] }[]
}

/** What leads to studies of a kind, and on from one. Worked out on the server. */
export interface Leads<Q, Result> {
  /** a first study that already shows a result; `events` are the common ones, the most frequent first */
  start(events: EventEntry[], near: Near): Q
  /** finished first studies for Home; left out: it has none of its own there */
  home?(events: EventEntry[], near: Near): Look[]
  /** the numbers as rows of cells, heads first: unrounded, times in seconds */
  table(question: Q, result: Result, words: Words): Cell[][]
  /** two to four follow-up questions, in the order an analyst works */
  next(question: Q, result: Result, near: Near): Look[]
}
