import { asQuestion } from '../../core/analyses/asQuestion.js'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { Question } from '../../core/analyses/registry.js'
import { usualTrend } from '../../core/analyses/trend/question.js'
import type { Rule, RuleGroup } from '../../core/segments/rule.js'

/** A definition as it stands in an address: JSON, so that it can be read and changed by hand. */
export function questionParam(question: Question): string {
  return new URLSearchParams({ q: JSON.stringify(question) }).toString()
}

/** Address of an unsaved study. */
export function studyAddress(question: Question): string {
  return `/studies/new?${questionParam(question)}`
}

/** Which people, as it stands in an address. */
export function peopleParams(ref: PeopleRef): string {
  return new URLSearchParams({ people: JSON.stringify(ref) }).toString()
}

/** Some people beside others: what sets them apart. */
export function besideAddress(people: PeopleRef, beside: PeopleRef | null): string {
  return `/people?${peopleParams(people)}${beside ? `&beside=${encodeURIComponent(JSON.stringify(beside))}` : ''}`
}

/** Address of a segment that is not saved, or of a saved one with its rule changed. */
export function segmentAddress(rule: RuleGroup, id: string | null = null): string {
  const params = new URLSearchParams({ rule: JSON.stringify(rule) })
  return `/people/segments/${id ?? 'new'}?${params.toString()}`
}

/** Address of a first study of a kind, among some people. */
export function startingAddress(kind: string, people: PeopleRef): string {
  return `/studies/new?kind=${kind}&${peopleParams(people)}`
}

/** Some people as those that a study is asked among. A study's own people are asked about the same, all else unchanged. */
export function amongThem(ref: PeopleRef): Question {
  if ('study' in ref) return { ...asQuestion(ref.study), among: ref }
  return {
    ...usualTrend('…'),
    series: [{ event: { activity: true }, measure: 'people' }],
    among: ref,
  }
}

/** Everybody in a segment. */
export function inSegment(segment: string): Rule {
  return { kind: 'segment', segment }
}
