/** How a list of people is sorted: by number of events, when they were last seen, or a profile property. */
export interface PeopleSort {
  by: 'events' | 'last seen' | { profile: string }
  up?: true | undefined
}
