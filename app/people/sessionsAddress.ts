import type { PeopleRef } from '../../core/analyses/people.js'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { peopleParams } from '../address/address.js'
import { kindOf } from '../analyses/words.js'

/** Where the sessions stand that are counted in a selection; null where it is no selection of sessions. */
export function sessionsAddress(ref: PeopleRef): string | null {
  return 'study' in ref && kindOf(asQuestion(ref.study).kind).ofSessions
    ? `/people/sessions?${peopleParams(ref)}`
    : null
}
