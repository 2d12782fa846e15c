import type { PeopleRef } from '../../core/analyses/people.js'

/** People selected on a segment's page, and others that the selection leads to. */
export interface Selected {
  people: PeopleRef
  choices: { label: string; people: PeopleRef }[]
}
