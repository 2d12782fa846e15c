import type { PeopleRef } from '../../core/analyses/people.js'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { peopleParams } from '../address/address.js'
import { kindOf } from '../analyses/words.js'

/** What a selection counts beside people, and can be listed itself; null where it is nothing else. */
export const listsOf = (ref: PeopleRef) => ('study' in ref && kindOf(asQuestion(ref.study).kind).lists) || null

/** Where that list stands. */
export function listAddress(ref: PeopleRef): string | null {
  const what = listsOf(ref)
  return what && `/people/${what}?${peopleParams(ref)}`
}
