import { weeklyCosts } from './costs.js'
import type { Question } from '../core/analyses/registry.js'
import type { Combined, Derived } from '../core/made/definitions.js'
import type { Filter } from '../core/questions/parts.js'
import type { Furnishing } from '../server/loader.js'
import { trackingPlan } from './plan.js'
import { MESSAGE_EVENT_WORDS, MESSAGE_EVENTS, type MessageStep } from '../core/outreach/events.js'
import { DESTINATIONS, KEPT, MESSAGES } from './outreach.js'
import { SEGMENT_STUDIES, SEGMENTS } from './segments.js'

/** What the demo workspace says of its data, and the studies and dashboards it ships with. */

/** Synonyms are what people call events otherwise, so that typed questions are understood. */
const EVENTS: Furnishing['events'] = {
  'Ad clicked': { description: 'An advertisement was pressed', passive: true },
  'Page viewed': { description: 'A page of the website' },
  'Signed up': { description: 'An account was made', synonyms: 'registration, new rider' },
  'App opened': { description: 'The app came to the foreground' },
  'Map viewed': { description: 'The map of docks was shown' },
  'Dock chosen': { description: 'A dock was pressed on the map' },
  'Empty dock met': { description: 'No bike where one was wanted' },
  'Card added': { description: 'A payment card was accepted' },
  'Card refused': { description: 'The bank or our own form turned a card down' },
  'Ride unlocked': { description: 'A bike was taken out' },
  'Ride completed': { description: 'A bike was locked at a dock', synonyms: 'ride, trip' },
  'Ride rated': { description: 'Stars were given to a ride' },
  'Pass bought': { description: 'A pass was paid for', synonyms: 'sale, purchase' },
  'Pass renewed': { description: 'A pass was paid for again' },
  'Pass cancelled': { description: 'A pass was given up' },
  'Friend invited': { description: 'A friend was sent an invitation' },
  'Fault reported': { description: 'Something on a bike was broken' },
  'Help asked': { description: 'The help line was called', synonyms: 'call, complaint' },
  'Mail opened': { description: 'A letter of ours was opened', passive: true },
  'Notice opened': { description: 'A notice on the phone was pressed', passive: true },
  ...Object.fromEntries(
    Object.entries(MESSAGE_EVENTS).map(([step, name]) => [name, MESSAGE_EVENT_WORDS[step as MessageStep]]),
  ),
  'Screen froze': { description: 'The app stopped answering', passive: true },
  'Helmet borrowed': { description: 'A helmet was taken from a station’s box' },
}

const PROPERTIES = {
  event: {
    app_version: 'Version of the app on the phone',
    attempt: 'Which try it was to unlock a bike',
    bike_type: 'pedal, electric or cargo',
    bikes_free: 'Bikes at the dock when it was chosen',
    campaign: 'Which letter or notice',
    card_network: 'Maker of the payment card',
    channel: 'How the invitation was sent',
    district: 'District of Port Alder where it happened',
    dock: 'Name of the dock',
    docks_shown: 'Docks on the map',
    fare: 'What the ride cost, in euro',
    from_district: 'District where the ride began',
    helmet: 'Whether a helmet was worn',
    invited: 'Whether a friend’s invitation led here',
    km: 'Length of the ride',
    method: 'How the account was made',
    minutes: 'Minutes from unlocking to locking',
    opened_from: 'What brought the person into the app',
    page: 'Page of the website',
    part: 'Which part of the bike',
    plan: 'Kind of pass',
    platform: 'iOS or Android',
    price: 'Price paid, in euro',
    reason: 'Why',
    referrer: 'Where the visit came from',
    remarks: 'What was said of the ride',
    screen: 'Screen of the app',
    stars: 'One to five',
    to_district: 'District where the ride ended',
    utm_campaign: 'Campaign of the advertisement',
    utm_medium: 'Kind of advertisement',
    utm_source: 'Where the advertisement stood',
    wait_seconds: 'Seconds on hold',
  },
  person: {
    age_band: 'Age, in bands',
    app_version: 'Version of the app on the phone',
    first_name: 'First name',
    home_district: 'District the person lives in',
    invited_by: 'Who invited the person',
    joined_on: 'Day of the sign-up',
    opted_out: 'Asked for no mail',
    plan: 'Pass the person has',
    platform: 'Phone',
    rider_kind: 'What the person mostly rides for',
  },
}

const show = { form: 'lines', as: 'number' } as const
const did = (name: string) => ({ event: { names: [name] } })
const of = (name: string) => ({ of: 'person' as const, name })
const recent = { last: 12, unit: 'week' } as const

const STUDIES: { id: string; name: string; description: string; question: Question }[] = [
  {
    id: 'riders-by-plan',
    name: 'Weekly riders by plan',
    description: 'Who rides, by the pass they had then. The Day pass became dearer on 8 October.',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: 'people' }],
      every: 'week',
      range: recent,
      breakdowns: [{ by: of('plan'), keep: 10 }],
      show,
    },
  },
  {
    id: 'first-ride',
    name: 'First ride funnel',
    description: 'From opening the app to the end of a ride.',
    question: {
      kind: 'funnel',
      steps: [did('Signed up'), did('App opened'), did('Dock chosen'), did('Card added'), did('Ride completed')],
      window: { count: 14, unit: 'day' },
      range: { from: '2026-08-01', to: '2026-10-31' },
    },
  },
  {
    id: 'rides-each-day',
    name: 'Rides each day',
    description: 'Commuters on weekdays, fewer rides in the rain.',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: 'events' }],
      every: 'day',
      range: { last: 8, unit: 'week' },
      show,
    },
  },
  {
    id: 'coming-back',
    name: 'Coming back after sign-up',
    description: 'Who rides again, week by week after the sign-up.',
    question: {
      kind: 'retention',
      first: true,
      start: did('Signed up'),
      back: did('Ride completed'),
      every: 'week',
      range: { last: 14, unit: 'week' },
      show: { form: 'curve' },
    },
  },
  {
    id: 'riding-days',
    name: 'Riding days in a month',
    description: 'On how many days riders ride. Core riders do on 12 days or more.',
    question: {
      kind: 'habit',
      start: did('Ride completed'),
      period: 'month',
      range: { last: 9, unit: 'month' },
      core: { days: 12, name: 'Core riders' },
      show: { form: 'at least' },
    },
  },
  {
    id: 'riders-come-and-go',
    name: 'Riders who come and go',
    description: 'New, retained, revived and lapsed riders each week.',
    question: {
      kind: 'growth',
      start: did('Ride completed'),
      interval: { unit: 'week' },
      range: { last: 16, unit: 'week' },
      show: { form: 'states' },
    },
  },
  {
    id: 'first-ride-kinds',
    name: 'First ride by kind of rider',
    description: 'Students get through more often.',
    question: {
      kind: 'funnel',
      steps: [did('Signed up'), did('Dock chosen'), did('Card added'), did('Ride completed')],
      window: { count: 14, unit: 'day' },
      range: { from: '2026-01-02', to: '2026-10-31' },
      breakdowns: [{ by: of('rider_kind'), keep: 10 }],
    },
  },
  {
    id: 'rides-by-district',
    name: 'Rides by district and plan',
    description: 'Where people ride from, on which pass, and for how long.',
    question: {
      kind: 'crosstab',
      series: [
        { name: 'riders', ...did('Ride completed'), measure: 'people' },
        { name: 'rides', ...did('Ride completed'), measure: 'events' },
        {
          name: 'minutes of a ride',
          ...did('Ride completed'),
          measure: 'median',
          of: { of: 'event', name: 'minutes' },
        },
      ],
      every: 'week',
      range: recent,
      rows: [
        { by: of('home_district'), keep: 10 },
        { by: of('plan'), keep: 10 },
      ],
      show: { cells: 'bars', beside: 'trend' },
    },
  },
  {
    id: 'cards-refused',
    name: 'Cards refused by reason',
    description: 'The form of version 5.3.0 was broken from 21 September to 19 October.',
    question: {
      kind: 'trend',
      series: [{ ...did('Card refused'), measure: 'people' }],
      every: 'week',
      range: { last: 16, unit: 'week' },
      breakdowns: [{ by: { of: 'event', name: 'reason' }, keep: 5 }],
      show: { form: 'bars', as: 'number' },
    },
  },
  {
    id: 'sign-ups',
    name: 'Sign-ups each month',
    description: '',
    question: {
      kind: 'trend',
      series: [{ ...did('Signed up'), measure: 'people' }],
      every: 'month',
      range: { from: '2026-01-02' },
      show: { form: 'bars', as: 'number' },
    },
  },
  {
    id: 'after-a-refused-card',
    name: 'After a refused card',
    description: 'What riders do when their card was turned down.',
    question: {
      kind: 'paths',
      start: did('Card refused'),
      steps: 3,
      window: { count: 1, unit: 'day' },
      range: recent,
      keep: 6,
      show: { form: 'stream' },
    },
  },
  {
    id: 'tariffs-to-account',
    name: 'From the tariffs to an account',
    description: 'Which pages lie on the way. The detour over the help pages costs time.',
    question: {
      kind: 'paths',
      start: {
        ...did('Page viewed'),
        where: { property: { of: 'event', name: 'page' }, op: 'is', values: ['/tariffs'] },
      },
      end: did('Signed up'),
      steps: 5,
      window: { count: 1, unit: 'day' },
      range: { last: 26, unit: 'week' },
      keep: 6,
      open: [{ event: { names: ['Page viewed'] }, by: { of: 'event', name: 'page' } }],
      show: { form: 'ways' },
    },
  },
  {
    id: 'time-on-the-app',
    name: 'Time on the app per rider each week',
    description: 'Sessions with anything done in the app: their lengths added up, over the riders who had them.',
    question: {
      kind: 'sessions',
      measure: 'time per person',
      every: 'week',
      range: { last: 12, unit: 'week' },
      holds: { event: { activity: true }, where: { property: { of: 'source' }, op: 'is', values: ['mobile app'] } },
      show: { form: 'over time' },
    },
  },
  {
    id: 'depth-of-unlocking',
    name: 'How deep into a session a bike is unlocked',
    description: 'The place of the unlocking among the events of its session.',
    question: {
      ...{ kind: 'trend', every: 'week', range: { last: 12, unit: 'week' } },
      series: [{ ...did('Ride unlocked'), measure: 'events' }],
      breakdowns: [{ by: { of: 'event', name: 'position in session' }, keep: 10, cuts: { at: [1, 2, 3, 4, 5, 7] } }],
      show: { form: 'bars', as: 'number' },
    },
  },
  {
    id: 'what-brings-passes',
    name: 'What brings riders to their first pass',
    description: 'Sources of visits in the thirty days before, by three models and by what would be lost without each.',
    question: {
      ...{ kind: 'attribution', goals: [did('Pass bought')], range: { last: 180, unit: 'day' }, first: true },
      ...{ by: { of: 'event', name: 'Channel' }, lookBack: { count: 30, unit: 'day' } },
      ...{
        models: ['last', 'first', 'linear', 'removal'],
        leftOut: [{ value: 'Brought back' }],
        show: { form: 'table' },
      },
    },
  },
  {
    id: 'sign-ups-and-passes-by-channel',
    name: 'Sign-ups and first passes by channel',
    description: 'Advertisements bring many who sign up, and few who buy: a pass costs several times a sign-up.',
    question: {
      ...{ kind: 'attribution', goals: [did('Signed up'), did('Pass bought')], range: { last: 180, unit: 'day' } },
      ...{ first: true, by: { of: 'event', name: 'Channel' }, lookBack: { count: 30, unit: 'day' } },
      ...{ models: ['first', 'linear'], leftOut: [{ value: 'Brought back' }], costs: true, show: { form: 'table' } },
    },
  },
  {
    id: 'what-makes-riders-stay',
    name: 'What makes new riders stay',
    description: 'Three rides and more in the first week, and what else goes with being there in week 4.',
    question: {
      ...{ kind: 'tipping', start: did('Signed up'), range: { last: 6, unit: 'month' }, days: 7 },
      ...{ goal: { event: { activity: true } }, outcome: { unit: 'week', period: 4 } },
      // What comes with every ride, and what they were sent for not riding, is nothing that they chose to do.
      leftOut: ['Dock chosen', 'App opened', 'Map viewed', 'Ride unlocked', ...Object.values(MESSAGE_EVENTS)],
      show: { form: 'strips' },
    },
  },
  {
    id: 'who-buys-a-pass',
    name: 'Who is likely to buy a pass',
    description: 'Of those who have been seen lately. Whoever is likely is worth a word; the others are not.',
    question: {
      ...{ kind: 'likelihood', goal: did('Pass bought'), days: 45, again: true, lately: true },
      show: { form: 'people' },
    },
  },
  {
    id: 'what-the-first-ride-notice-brings',
    name: 'What the first-ride notice brings',
    description: 'A fifth of those who signed up was left alone, so that what it brings can be told.',
    question: {
      ...{ kind: 'effect', message: 'First ride', variants: ['A bike waits', 'How it works'] },
      ...{ goal: did('Ride completed'), within: { count: 7, unit: 'day' }, range: { from: '2026-03-01' } },
      show: { form: 'effect' },
    },
  },
  {
    id: 'riders-now',
    name: 'People riding each week',
    description: '',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: 'people' }],
      every: 'week',
      range: recent,
      show: { form: 'figure', as: 'number' },
    },
  },
  {
    id: 'districts',
    name: 'Rides by home district',
    description: '',
    question: {
      kind: 'trend',
      series: [{ ...did('Ride completed'), measure: 'events' }],
      every: 'week',
      range: { last: 26, unit: 'week' },
      breakdowns: [{ by: of('home_district'), keep: 5 }],
      show: { form: 'stacked', as: 'number' },
    },
  },
]

const PASS_PAID: Combined = {
  name: 'Pass paid',
  description: 'A pass was paid for, the first time or again',
  events: ['Pass bought', 'Pass renewed'],
  properties: [{ name: 'paid', from: { 'Pass bought': 'price', 'Pass renewed': 'price' } }],
}

const tagIs = (name: string, ...values: string[]): Filter => ({ property: { of: 'event', name }, op: 'is', values })
const DERIVED: Derived[] = [
  {
    name: 'speed',
    of: 'event',
    description: 'Kilometres an hour of a ride',
    recipe: { kind: 'arithmetic', formula: 'round(km / minutes * 60)' },
  },
  {
    name: 'ride_length',
    of: 'event',
    description: 'Short up to 10 minutes, long from 25',
    recipe: {
      kind: 'rules',
      rows: [
        { where: { property: { of: 'event', name: 'minutes' }, op: '≤', number: 10 }, gives: { text: 'short' } },
        { where: { property: { of: 'event', name: 'minutes' }, op: '<', number: 25 }, gives: { text: 'medium' } },
        { where: { property: { of: 'event', name: 'minutes' }, op: 'has a value' }, gives: { text: 'long' } },
      ],
    },
  },
  {
    name: 'Channel',
    of: 'event',
    description: 'Where a visit came from',
    channels: true,
    recipe: {
      kind: 'rules',
      rows: [
        { where: tagIs('utm_source', 'harbour-news'), gives: { text: 'Harbour News' } },
        { where: tagIs('utm_medium', 'paid'), gives: { text: 'Other advertising' } },
        {
          where: { property: { of: 'event', name: 'referrer' }, op: 'contains', text: 'findit' },
          gives: { text: 'Search' },
        },
        { where: tagIs('utm_medium', 'invitation'), gives: { text: 'Invitation' } },
        {
          where: { property: { of: 'source' }, op: 'is', values: ['mailing'] },
          gives: { text: 'Mailing' },
        },
        { where: tagIs('opened_from', 'notice', 'link'), gives: { text: 'Brought back' } },
      ],
      otherwise: { text: 'Direct' },
    },
  },
]

const text = (value: string, bold = false) => ({
  type: 'text',
  text: value,
  ...(bold ? { marks: [{ type: 'bold' }] } : {}),
})
const NOTE = {
  type: 'doc',
  content: [
    { type: 'heading', attrs: { level: 3 }, content: [text('Read this first')] },
    {
      type: 'paragraph',
      content: [
        text('The Day pass price rose on '),
        text('8 October', true),
        text('. Expect fewer Day-pass riders; watch whether they move to Monthly.'),
      ],
    },
  ],
}
const CARD_NOTE = {
  type: 'doc',
  content: [
    { type: 'heading', attrs: { level: 3 }, content: [text('The broken card form')] },
    {
      type: 'paragraph',
      content: [
        text('Version '),
        text('5.3.0', true),
        text(' for Android could not add cards from 21 September; 5.3.2 mended it on 19 October.'),
      ],
    },
  ],
}

/** What happened, for the charts to show: day, text, tag. */
const ANNOTATIONS: readonly [string, string, string][] = [
  ['2026-06-01', 'First ride free: experiment starts', 'experiment'],
  ['2026-07-12', 'First ride free: experiment ends', 'experiment'],
  ['2026-09-21', 'App 5.3.0 on Android', 'release'],
  ['2026-10-08', 'Day pass price up', 'price'],
  ['2026-10-19', 'App 5.3.2 mends the card form', 'release'],
]

/** What the demo workspace holds beside its events, which come through `sendEvents`. */
export const FURNISHING: Furnishing = {
  settings: { name: 'Saltmarsh Bikes', zone: 'Europe/Lisbon', firstDayOfWeek: 1, now: 'last event' },
  events: EVENTS,
  properties: PROPERTIES,
  plan: trackingPlan((event) => EVENTS[event]!.description),
  combined: [PASS_PAID],
  derived: DERIVED,
  annotations: ANNOTATIONS.map(([day, text, tag]) => ({ day, text, tags: [tag] })),
  costs: [{ by: { of: 'event', name: 'Channel' }, rows: weeklyCosts() }],
  segments: SEGMENTS,
  destinations: DESTINATIONS,
  kept: KEPT,
  messages: MESSAGES,
  studies: [...STUDIES, ...SEGMENT_STUDIES],
  dashboards: [
    {
      id: 'monday-review',
      name: 'Monday ridership review',
      description: 'How riding went last week.',
      cards: [
        { study: 'riders-now', x: 0, y: 0, w: 4, h: 4 },
        { study: 'sign-ups', x: 4, y: 0, w: 5, h: 4 },
        { note: NOTE, x: 9, y: 0, w: 3, h: 4 },
        { study: 'riders-by-plan', x: 0, y: 4, w: 7, h: 7 },
        { study: 'districts', x: 7, y: 4, w: 5, h: 7 },
        { study: 'rides-each-day', x: 0, y: 11, w: 12, h: 6 },
        { study: 'riders-come-and-go', x: 0, y: 17, w: 12, h: 7 },
      ],
    },
    {
      id: 'onboarding',
      name: 'Onboarding',
      description: 'From sign-up to the first ride.',
      cards: [
        { study: 'first-ride', x: 0, y: 0, w: 7, h: 10 },
        { note: CARD_NOTE, x: 7, y: 0, w: 5, h: 3 },
        { study: 'cards-refused', x: 7, y: 3, w: 5, h: 7 },
        { study: 'first-ride-kinds', x: 0, y: 10, w: 12, h: 9 },
        { study: 'coming-back', x: 0, y: 19, w: 7, h: 7 },
        { study: 'riding-days', x: 7, y: 19, w: 5, h: 7 },
        { study: 'after-a-refused-card', x: 0, y: 26, w: 12, h: 11 },
      ],
    },
  ],
}
