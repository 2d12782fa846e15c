/** An event as the slow references read it: one person's are given in order of time, then arrival. */
export interface TestEventLike {
  person: string
  event: string
  time: number
  properties?: Readonly<Record<string, unknown>>
}
