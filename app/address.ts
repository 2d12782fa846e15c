import type { Question } from '../core/analyses/registry.js'
import type { PeopleRef } from '../core/analyses/people.js'
import type { Mark } from '../core/questions/parts.js'

/** A definition as it stands in an address: JSON, so that it can be read and changed by hand. */
export function questionParam(question: Question): string {
  return new URLSearchParams({ q: JSON.stringify(question) }).toString()
}

/** Address of an unsaved study. */
export function studyAddress(question: Question): string {
  return `/studies/new?${questionParam(question)}`
}

export function selectionParams(study: Question, marks: readonly Mark[]): string {
  return new URLSearchParams({ q: JSON.stringify(study), marks: JSON.stringify(marks) }).toString()
}

/** The same study among the people selected in it, all else unchanged. */
export function amongThem(study: Question, marks: readonly Mark[]): Question {
  const among: PeopleRef = { study, marks: [...marks] }
  return { ...study, among }
}
