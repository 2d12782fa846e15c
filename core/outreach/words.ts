import { joinWords } from '../words/format.js'
import type { SentencePart } from '../words/sentence.js'
import type { Change } from './destination.js'
import type { Schedule } from './schedule.js'
import type { Sync } from './sync.js'

/** What a sentence calls the things that a definition names by ids. */
export interface OutreachNames {
  segment: (id: string) => string
  destination: (id: string) => string
  property: (name: string) => string
}

/** `every 6 hours`, `daily at 02:30`. */
export function scheduleWords(schedule: Schedule): string {
  switch (schedule.kind) {
    case 'once':
      return 'once'
    case 'hours':
      return schedule.every === 1 ? 'every hour' : `every ${schedule.every} hours`
    case 'daily':
      return `daily at ${schedule.at}`
    case 'each change':
      return 'at each change'
  }
}

/** "Keep *Lapsed riders* in step with *Mail*, *daily at 02:30*, with *first name and plan*." */
export function syncSentence(sync: Sync, names: OutreachNames): SentencePart[] {
  const { segment, destination, properties, schedule, onlyNew, until } = sync
  const isOnce = schedule.kind === 'once'
  const unset = (text: string, id: string) => (id === '' ? { text, tone: 'brick' as const } : { text })
  return [
    { text: isOnce ? 'Send ' : 'Keep ' },
    { ...unset(segment === '' ? 'a segment' : names.segment(segment), segment), token: 'segment', path: 'segment' },
    { text: isOnce ? ' to ' : ' in step with ' },
    {
      ...unset(destination === '' ? 'a destination' : names.destination(destination), destination),
      token: 'destination',
      path: 'destination',
    },
    { text: ', ' },
    { text: scheduleWords(schedule), token: 'schedule', tone: 'hazel', path: 'schedule' },
    { text: ', with ' },
    {
      text: properties.length === 0 ? 'ids alone' : joinWords(properties.map(names.property), 'and'),
      token: 'properties',
      tone: 'hazel',
      path: 'properties',
    },
    ...(onlyNew
      ? [{ text: ', ' }, { text: 'only those who come in from now on', token: 'onlyNew', path: 'onlyNew' }]
      : []),
    ...(until ? [{ text: ', until ' }, { text: until, token: 'until', tone: 'hazel' as const, path: 'until' }] : []),
    { text: '.' },
  ]
}

export const CHANGE_WORDS: Readonly<Record<Change, string>> = {
  add: 'added',
  update: 'brought up to date',
  remove: 'taken out',
}
