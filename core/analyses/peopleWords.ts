import type { Mark } from '../questions/parts.js'
import { bucketWords, eventWords, groupWords, rangeWords, type Words } from '../words/words.js'
import type { PeopleRef } from './people.js'

/** Who the people are, after "among": `those who did Ride completed in the week of 14 Sep`. */
export function amongWords(ref: PeopleRef, words: Words): string {
  return `those who ${peopleWords(ref, words)}`
}

/** Who the people are, as a clause: `did Ride completed in the week of 14 Sep (Plan: Day pass)`. */
export function peopleWords({ study, marks }: PeopleRef, words: Words): string {
  const shown = marks.slice(0, 3).map((mark) => markWords(study, mark, words))
  const more = marks.length - shown.length
  return [...new Set(shown), ...(more > 0 ? [`are in ${more} more selected places`] : [])].join(', or ')
}

function markWords(study: PeopleRef['study'], mark: Mark, words: Words): string {
  const group = mark.group ? ` (${groupWords(mark.group)})` : ''
  const range = rangeWords(study.range, words)
  if (study.kind === 'trend') {
    const event = eventWords(study.series[0].event, words)
    const filtered = study.series[0].where ? ', as filtered,' : ''
    if (mark.kind !== 'point' || mark.bucket === undefined)
      return `did ${event}${filtered} ${range.lead}${range.text}${group}`
    const lead = study.every === 'hour' ? 'at' : study.every === 'day' ? 'on' : 'in'
    return `did ${event}${filtered} ${lead} ${bucketWords(mark.bucket, study.every, words)}${group}`
  }
  if (mark.kind !== 'step') return `started ${range.lead}${range.text}`
  const step = study.steps[mark.step]
  const next = study.steps[mark.step + 1]
  const within = `within ${windowWords(study.window)}`
  const did = step ? `did ${eventWords(step.event, words)}` : 'got there'
  if (mark.what === 'reached')
    return `${did}${mark.step === 0 ? ` ${range.lead}${range.text}` : ` ${within} of the start`}${group}`
  if (mark.what === 'open') return `${did} and may still go on${group}`
  return `${did} and did not go on to ${next ? eventWords(next.event, words) : 'the next step'} ${within}${group}`
}

export function windowWords(window: { count: number; unit: string }): string {
  return `${window.count} ${window.unit}${window.count === 1 ? '' : 's'}`
}
