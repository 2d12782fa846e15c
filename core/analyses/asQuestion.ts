import type { StudyDefinition } from '../questions/study.js'
import type { Question } from './registry.js'

/** A study that stands inside another definition as what it is: the registry read it together with the rest. */
export function asQuestion(study: StudyDefinition): Question {
  return study as Question
}
