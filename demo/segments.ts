import type { RuleGroup } from '../core/segments/rule.js'
import type { Question } from '../core/analyses/registry.js'

/** Segments that the demo workspace ships with, and studies that use them. */

const did = (name: string) => ({ kind: 'did' as const, event: { names: [name] } })
const profile = (name: string, ...values: string[]) => ({
  kind: 'profile' as const,
  where: { property: { of: 'person' as const, name }, op: 'is' as const, values },
})
const bought = (source: string): RuleGroup => ({
  hold: 'all',
  of: [{ ...did('Pass bought'), where: { property: { of: 'source' }, op: 'is', values: [source] } }],
})

export const SEGMENTS: { id: string; name: string; description: string; tags: string[]; rule: RuleGroup }[] = [
  {
    id: 'campus-riders',
    name: 'Campus riders',
    description: 'Students, and whoever lives at College Green.',
    tags: ['who they are'],
    rule: { hold: 'any', of: [profile('rider_kind', 'student'), profile('home_district', 'College Green')] },
  },
  {
    id: 'regulars-going-quiet',
    name: 'Regulars going quiet',
    description: 'Rode on eight days or more a month ago, and not at all in the last two weeks.',
    tags: ['winning back'],
    rule: {
      hold: 'all',
      of: [
        {
          ...did('Ride completed'),
          count: { measure: 'days', test: { op: '≥', number: 8 } },
          window: { before: [31, 60] },
        },
        { ...did('Ride completed'), not: true, window: { last: 14 } },
        { hold: 'any', of: [profile('plan', 'Annual', 'Monthly'), { kind: 'segment', segment: 'campus-riders' }] },
      ],
    },
  },
  {
    id: 'regulars',
    name: 'Regulars',
    description: 'Rode on eight days or more of the last thirty.',
    tags: ['habit'],
    rule: {
      hold: 'all',
      of: [
        { ...did('Ride completed'), count: { measure: 'days', test: { op: '≥', number: 8 } }, window: { last: 30 } },
      ],
    },
  },
  {
    id: 'new-riders',
    name: 'New riders',
    description: 'Rode for the first time in the last 28 days.',
    tags: ['who they are'],
    rule: {
      hold: 'all',
      of: [
        {
          kind: 'time',
          asked: 'first time',
          event: { names: ['Ride completed'] },
          when: { last: 28, unit: 'day' },
        },
      ],
    },
  },
  {
    id: 'app-buyers',
    name: 'App buyers',
    description: 'Bought a pass in the mobile app.',
    tags: ['where they buy'],
    rule: bought('mobile app'),
  },
  {
    id: 'website-buyers',
    name: 'Website buyers',
    description: 'Bought a pass on the website.',
    tags: ['where they buy'],
    rule: bought('website'),
  },
  {
    id: 'kiosk-buyers',
    name: 'Kiosk buyers',
    description: 'Bought a pass at a station kiosk.',
    tags: ['where they buy'],
    rule: bought('station kiosk'),
  },
]

export const SEGMENT_STUDIES: { id: string; name: string; description: string; question: Question }[] = [
  {
    id: 'rides-of-regulars',
    name: 'Rides each week, regulars and others',
    description: 'How much of the riding is done by those who ride on eight days a month or more.',
    question: {
      kind: 'trend',
      series: [{ event: { names: ['Ride completed'] }, measure: 'events' }],
      every: 'week',
      range: { last: 12, unit: 'week' },
      breakdowns: [
        { by: { of: 'segments', sides: [{ segment: 'regulars' }, { segment: 'regulars', not: true }] }, keep: 10 },
      ],
      show: { form: 'stacked', as: 'number' },
    },
  },
  {
    id: 'where-passes-are-bought',
    name: 'Where passes are bought',
    description: 'Who bought in more than one place, and what each part of the buyers paid.',
    question: {
      kind: 'overlap',
      sides: [{ segment: 'app-buyers' }, { segment: 'website-buyers' }, { segment: 'kiosk-buyers' }],
      figure: { event: { names: ['Pass bought'] }, measure: 'sum', of: { of: 'event', name: 'price' } },
      range: { from: '2026-01-02' },
    },
  },
]
