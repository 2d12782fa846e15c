import type { Reading } from '../../core/words/sentence.js'
import type { Look } from '../analyses/leads.js'
import type { Question, Result } from '../../core/analyses/registry.js'
import type { Words } from '../../core/words/words.js'
import type { Fault } from '../../core/questions/faults.js'

/** What a study's page shows. */
export interface StudyData {
  study: { id: string; name: string; description: string; savedMs: number } | null
  question: Question
  /** differs from what is saved */
  edited: boolean
  faults: Fault[]
  /** what could be answered of a question of which parts are wrong; null: the result is of the question */
  answered: Question | null
  result: Result | null
  reading: Reading | null
  /** where to look next */
  next: Look[]
  version: number
  now: number
  words: Words
  history: { savedMs: number; name: string; question: Question }[]
}
