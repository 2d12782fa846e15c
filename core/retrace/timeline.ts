/** Laying out one person's session as a line to walk along. */

/** A pause longer than this is shortened to `SHORT_MS` where pauses are shortened. */
export const LONG_PAUSE_MS = 30_000
const SHORT_MS = 15_000

export interface TimelineStop {
  /** epoch ms of the event */
  timeMs: number
  /** real time since the stop before; 0 for the first */
  pauseMs: number
  /** the pause before it is drawn shorter than it was */
  shortened: boolean
  /** ms along the line from its start, with pauses as they are drawn */
  along: number
}

export interface Timeline {
  stops: TimelineStop[]
  /** ms that the whole line is long as drawn */
  length: number
}

/**
 * The events of a session as stops along a line. To scale every pause is as long as it was; shortened, one of more than
 * half a minute takes as much as a quarter of one, so that what was done is not crowded by what was not.
 * @param times epoch ms, ascending
 */
export function timelineOf(times: readonly number[], shorten: boolean): Timeline {
  let along = 0
  const stops = times.map((timeMs, index): TimelineStop => {
    const pauseMs = index === 0 ? 0 : timeMs - times[index - 1]
    const shortened = shorten && pauseMs > LONG_PAUSE_MS
    along += shortened ? SHORT_MS : pauseMs
    return { timeMs, pauseMs, shortened, along }
  })
  return { stops, length: along }
}

/** The last stop that lies at or before a place on the line; the first one before all. */
export function stopAt({ stops }: Timeline, along: number): number {
  let found = 0
  for (let index = 0; index < stops.length; index++) if (stops[index].along <= along) found = index
  return found
}

const REFUSALS =
  /\b(error|fail\w*|refus\w*|reject\w*|declin\w*|denied|froze\w*|crash\w*|timed? ?out|abort\w*|broken|fault\w*|empty)\b/i

/** Whether an event is something going wrong, by its name or a property that says so. */
export function isRefusal(event: string, properties: Readonly<Record<string, unknown>>): boolean {
  if (REFUSALS.test(event.replace(/[_-]+/g, ' '))) return true
  const { error, failed } = properties
  return (error !== undefined && error !== false && error !== '') || failed === true
}

/** Where an event happened, as it says itself: a screen of an app or a page of a website. */
export function placeOf(
  properties: Readonly<Record<string, unknown>>,
): { kind: 'screen' | 'page'; name: string } | null {
  for (const kind of ['screen', 'page'] as const) {
    const name = properties[kind]
    if (typeof name === 'string' && name !== '') return { kind, name }
  }
  return null
}

/** What a place is probably made of, told from words in its name: what its plain drawing shows. */
export function sketchOf(name: string): 'map' | 'form' | 'list' | 'article' | 'start' {
  if (/map|nearby|location|dock/i.test(name)) return 'map'
  if (/sign|log ?in|register|card|pay|checkout|buy|form|contact|account|settings/i.test(name)) return 'form'
  if (/list|search|history|plans|price|passes|shop|results|orders/i.test(name)) return 'list'
  if (/^\/?$|home|start|welcome|index/i.test(name)) return 'start'
  return 'article'
}
