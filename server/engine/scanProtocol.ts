import type { AnyMark } from '../../core/questions/study.js'
import type { ScanKind } from '../../core/scanners.js'
import type { FoldRequest } from '../../core/log/fold.js'
import type { EventLog, PersonRange } from '../../core/log/log.js'
import type { MadeColumn } from '../../core/made/columns.js'
import type { Ping } from '../pool/serve.js'

/** A run of people of one of the state's blocks, or pieces of work, which count as so many people. */
export interface ScanChunk {
  log: number
  range: PersonRange
  weight?: number
}

/** What a scanning thread is asked; it keeps states of the column store and scans ranges of people of them. */
export type ScanRequest =
  | { kind: 'install'; version: number; logs: EventLog[] }
  | { kind: 'extend'; version: number; columns: readonly MadeColumn[] }
  | { kind: 'drop'; version: number }
  | {
      kind: 'scan'
      version: number
      analysis: ScanKind
      plan: unknown
      /** with marks, the people counted there are read instead of the counts */
      marks: readonly AnyMark[] | null
      chunks: ScanChunk[]
      control: Int32Array
    }
  | { kind: 'fold'; request: FoldRequest }
  | Ping

/** Entries of the shared control array of a scan. */
export const CONTROL = { nextChunk: 0, cancelled: 1, peopleDone: 2 } as const
