import { own } from '../names.js'

/** What is wrong with a definition, as data: where, what kind of fault, what was found. `faultWords` words it. */
export interface Fault {
  /** where in the definition, e.g. `['series', 0, 'where']` */
  path: (string | number)[]
  code:
    | 'unreadable'
    | 'invalid'
    | 'unknown_event'
    | 'unknown_property'
    | 'wrong_operator'
    | 'bad_pattern'
    | 'too_many_buckets'
    | 'too_deep'
    | 'no_property'
    | 'not_by_hour'
    | 'name_twice'
    | 'bad_formula'
    | 'unknown_segment'
    | 'circle'
    | 'no_event'
  /** what was found there, as the reader would know it */
  got?: string
  /** what would have been taken */
  want?: string
}

/**
 * Says a fault in words: what is wrong there, and what to do.
 */
export function faultWords(fault: Fault): string {
  const got = fault.got === undefined ? '' : `“${fault.got}”`
  switch (fault.code) {
    case 'unreadable':
      return `The definition in the address could not be read${fault.want ? ` (${fault.want})` : ''}. The usual question is shown instead.`
    case 'invalid':
      return `${placeWords(fault.path)}: ${fault.want ?? 'not a value that can be used here'}.`
    case 'unknown_event':
      // The place of an event in a question that is asked before there is any.
      if (fault.got === '…') return 'No event has arrived yet. Bring in a file, or send some; then choose one here.'
      return `No event ${got} has ever arrived.${fault.want ? ` Did you mean “${fault.want}”?` : ' Choose another event.'}`
    case 'unknown_property':
      return `No property ${got} is known.${fault.want ? ` Did you mean “${fault.want}”?` : ' Choose another property.'}`
    case 'wrong_operator':
      return `${got} does not go with this property: ${fault.want ?? 'choose another comparison'}.`
    case 'bad_pattern':
      return `The pattern ${got} is not a regular expression: ${fault.want ?? 'it cannot be read'}.`
    case 'too_many_buckets':
      return `That would be ${fault.got} points. Choose a longer unit or a shorter time (at most ${fault.want}).`
    case 'no_property':
      return `The ${fault.got} is of a property, and none is chosen. Choose one.`
    case 'not_by_hour':
      return `${got} counts whole days, so it cannot be asked for each hour. Ask for each day or longer.`
    case 'name_twice':
      return `Two series are called ${got}. Give each its own short name.`
    case 'bad_formula':
      return `Formula: ${fault.want ?? 'it cannot be read.'}`
    case 'unknown_segment':
      return `The segment ${got} is no longer there. Bring it back under People, Segments, or choose another.`
    case 'circle':
      return `The segments go round in a circle: ${fault.got}. Take one of them out of another’s rule.`
    case 'no_event':
      return `The ${fault.got} is of an event, and none is chosen. Choose one.`
    case 'too_deep':
      return `The people are chosen through more than ${fault.want} studies, one inside the other. Save one as its own study first.`
  }
}

/** What the parts of a definition are called where something is wrong with them. */
const PLACES: Record<string, string> = {
  kind: 'Kind of study',
  series: 'Event',
  steps: 'Step',
  start: 'Event',
  back: 'Return event',
  every: 'Each',
  range: 'Time',
  period: 'Days counted in',
  interval: 'Interval',
  breakdowns: 'For each',
  rows: 'Rows',
  column: 'Columns',
  formulas: 'Formula',
  compare: 'Compared with',
  smooth: 'Smoothed over',
  among: 'Among',
  window: 'Within',
  order: 'Order of the steps',
  first: 'First time ever',
  same: 'The same all the way',
  forbidden: 'Must not happen',
  readAt: 'Step at which groups are read',
  target: 'Target',
  count: 'What is counted',
  by: 'Calendar or clock',
  brackets: 'Brackets of days',
  upTo: 'How many periods',
  measure: 'Measure',
  cumulated: 'Added up so far',
  core: 'Threshold',
  sides: 'Segments',
  figure: 'Figure',
  show: 'Chart',
  rule: 'Rule',
  of: 'Condition',
  hold: 'Group',
}

function placeWords(path: readonly (string | number)[]): string {
  if (path.length === 0) return 'The definition'
  const [head, index] = path
  if (head === 'steps' && typeof index === 'number') return `Step ${index + 1}`
  if (head === 'series' && typeof index === 'number' && index > 0) return `Series ${index + 1}`
  return own(PLACES, String(head)) ?? `“${head}”`
}

/** The name nearest to a misspelt one, or undefined where none is near (edit distance up to a third of its length). */
export function nearest(name: string, known: readonly string[]): string | undefined {
  let best: string | undefined
  let least = Math.max(1, Math.floor(name.length / 3)) + 1
  for (const candidate of known) {
    if (Math.abs(candidate.length - name.length) >= least) continue
    const distance = editDistance(name.toLowerCase(), candidate.toLowerCase(), least)
    if (distance < least) {
      least = distance
      best = candidate
    }
  }
  return best
}

function editDistance(a: string, b: string, limit: number): number {
  let previous = Array.from({ length: b.length + 1 }, (_, i) => i)
  for (let i = 1; i <= a.length; i++) {
    const current = [i]
    for (let j = 1; j <= b.length; j++) {
      const swap = previous[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1)
      current[j] = Math.min(previous[j] + 1, current[j - 1] + 1, swap)
    }
    if (Math.min(...current) >= limit) return limit
    previous = current
  }
  return previous[b.length]
}
