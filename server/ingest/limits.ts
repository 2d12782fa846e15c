/** What an event or person may be at most. */
export const LIMITS = {
  nameChars: 200,
  idChars: 500,
  properties: 200,
  valueBytes: 8192,
  /** different names in a workspace: more come from something that goes into a name and should be a property */
  eventNames: 5000,
  sources: 1000,
  propertyNames: 2000,
  /** the first of 1970; a workspace may set a later one */
  earliestMs: 0,
  aheadMs: 86_400_000,
  /** the last moment that a calendar of the platform holds: 13 September 275760 */
  latestMs: 8_640_000_000_000_000,
} as const
