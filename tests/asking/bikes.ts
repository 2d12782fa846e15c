import {
  anything,
  days,
  each,
  funnel,
  is,
  kind,
  named,
  onEvent,
  onPerson,
  ranked,
  trend,
  within,
  type Asked,
} from './shapes.js'

const ride = named('Ride completed')
const signUp = named('Signed up')
const bought = named('Pass bought')
const OCTOBER = days('2026-10-01', '2026-10-31')
const SEPTEMBER = days('2026-09-01', '2026-09-30')
const times = { measure: 'events' }
const people = { measure: 'people' }
const beginning = { property: onEvent('position in session'), op: '=', number: 1 }
const source = (value: string) => is({ of: 'source' }, value)

/** As people type them who have not read the help, and what each must be. */
export const bikes: Asked[] = [
  {
    text: 'how many riders came back the week after their first ride',
    is: kind('retention', { start: ride, first: true, every: 'week', show: { form: 'over time', at: 1 } }),
  },
  {
    text: 'average fare per ride in summer',
    is: trend(
      { ...ride, measure: 'average', of: onEvent('fare') },
      { every: 'month', ...days('2026-06-01', '2026-08-31') },
    ),
  },
  {
    text: 'which districts lose the most riders',
    is: kind('growth', { start: ride, ...each(onPerson('home_district')), show: { state: 'lapsed' } }),
  },
  {
    text: 'what percentage of people add a card within a day of signing up',
    is: funnel([signUp, named('Card added')], within(1, 'day')),
  },
  {
    text: 'top 5 districts by rides in october',
    is: trend(
      { ...ride, ...times },
      { breakdowns: [{ by: onEvent('from_district'), keep: 5 }], ...OCTOBER, ...ranked },
    ),
  },
  {
    text: 'do students ride more often than commuters',
    is: trend(
      { ...ride, measure: 'events per person', where: is(onPerson('rider_kind'), 'student', 'commuter') },
      { every: 'week', ...each(onPerson('rider_kind')) },
    ),
  },
  {
    text: 'retention of students by week',
    is: kind('retention', {
      start: { ...signUp, where: is(onPerson('rider_kind'), 'student') },
      back: anything,
      first: true,
      every: 'week',
    }),
  },
  {
    text: 'student retention',
    is: kind('retention', {
      start: { ...signUp, where: is(onPerson('rider_kind'), 'student') },
      back: anything,
      first: true,
    }),
  },
  {
    text: 'which plan has the best retention',
    is: kind('retention', { start: signUp, back: anything, first: true, ...each(onPerson('plan')) }),
  },
  { text: 'how long does it take from signup to first ride', is: funnel([signUp, ride], { show: { form: 'time' } }) },
  {
    text: 'where do people drop off between opening the app and riding',
    is: funnel([named('App opened'), ride], { show: { form: 'between' } }),
  },
  {
    text: 'how often do people with a monthly plan ride',
    is: kind('habit', { start: { ...ride, where: is(onPerson('plan'), 'Monthly') }, period: 'month' }),
  },
  {
    text: 'compare electric and pedal rides each week',
    is: trend(
      { ...ride, ...times, where: is(onEvent('bike_type'), 'electric', 'pedal') },
      { every: 'week', ...each(onEvent('bike_type')) },
    ),
  },
  {
    text: 'revenue from passes each month',
    is: trend({ ...named('Pass bought', 'Pass renewed'), measure: 'sum', of: onEvent('price') }, { every: 'month' }),
  },
  { text: 'new vs returning riders', is: kind('growth', { start: ride }) },
  {
    text: 'who stopped riding last week',
    is: kind('growth', {
      start: ride,
      interval: { unit: 'week' },
      ...days('2026-11-09', '2026-11-15'),
      show: { state: 'lapsed' },
    }),
  },
  {
    text: 'is conversion better on iOS than Android',
    is: kind('funnel', { ...each(onPerson('platform')) }),
  },
  {
    text: 'rides by district in october',
    is: trend({ ...ride, ...times }, { ...each(onEvent('from_district')), ...OCTOBER }),
  },
  {
    text: 'card refused by app version in september',
    is: trend(named('Card refused'), { ...each(onEvent('app_version')), ...SEPTEMBER }),
  },
  {
    text: 'how many active users did we have yesterday',
    is: trend(
      { ...anything, ...people },
      { every: 'day', ...days('2026-11-21', '2026-11-21'), show: { form: 'figure' } },
    ),
  },
  {
    text: 'how many rides per person per month',
    is: trend({ ...ride, measure: 'events per person' }, { every: 'month' }),
  },
  {
    text: 'who bought a pass both at a kiosk and in the app',
    is: kind('overlap', {
      sides: [
        { rule: { of: [{ kind: 'did', ...bought, where: source('station kiosk') }] } },
        { rule: { of: [{ kind: 'did', ...bought, where: source('mobile app') }] } },
      ],
    }),
  },
  { text: 'biggest source of sign ups', is: trend(signUp, { ...each({ of: 'source' }), ...ranked }) },
  {
    text: 'passes sold by plan this year vs last',
    is: trend({ ...bought, ...times }, { ...each(onEvent('plan')), ...days('2026-01-01'), compare: { to: 'year' } }),
  },
  {
    text: 'percent of rides with a helmet by age',
    is: trend(
      [
        { ...ride, ...times, where: { property: onEvent('helmet'), op: 'is true' } },
        { ...ride, ...times, where: undefined },
      ],
      { formulas: [{ formula: 'a / b', unit: 'percent' }], ...each(onPerson('age_band')) },
    ),
  },
  {
    text: 'longest rides by bike type',
    is: trend({ ...ride, measure: 'maximum', of: onEvent('minutes') }, each(onEvent('bike_type'))),
  },
  {
    text: '95th percentile wait on the help line',
    is: trend({ ...named('Help asked'), measure: '90th percentile', of: onEvent('wait_seconds') }),
  },
  {
    text: 'people who rode more than 10 times in september',
    is: {
      rule: {
        of: [
          {
            ...{ kind: 'did', ...ride, count: { measure: 'times', test: { op: '>', number: 10 } } },
            window: { from: '2026-09-01', to: '2026-09-30' },
          },
        ],
      },
    },
  },
  {
    text: 'people who signed up but never rode',
    is: {
      rule: {
        hold: 'all',
        of: [
          { kind: 'did', ...signUp },
          { kind: 'did', ...ride, not: true },
        ],
      },
    },
  },
  {
    text: 'riders who used both electric and cargo bikes',
    is: {
      rule: {
        hold: 'all',
        of: ['electric', 'cargo'].map((value) => ({ kind: 'did', ...ride, where: is(onEvent('bike_type'), value) })),
      },
    },
  },
  {
    text: 'first ride within 3 days of sign up by month of sign up',
    is: funnel([signUp, ride], { ...within(3, 'day'), show: { form: 'over time', every: 'month' } }),
  },
  {
    text: 'weekly actives over monthly actives',
    is: trend(
      [
        { ...anything, measure: 'people in the last days', days: 7 },
        { ...anything, measure: 'people in the last days' },
      ],
      { formulas: [{ formula: 'a / b', unit: 'percent' }] },
    ),
  },
  {
    text: 'show me refused cards by reason as a share',
    is: trend(named('Card refused'), { ...each(onEvent('reason')), show: { as: 'share' } }),
  },
  {
    text: 'did the price change hurt day pass riders',
    is: trend({ ...ride, where: is(onPerson('plan'), 'Day pass') }, { every: 'week' }),
  },
  {
    text: 'why did refusals go up in september',
    is: trend(named('Card refused'), { every: 'week' }),
  },
  {
    text: 'what did people do after a refused card',
    is: kind('paths', { start: named('Card refused'), backward: undefined, end: undefined }),
  },
  {
    text: 'sign up to pass funnel by channel excluding ads',
    is: kind('funnel', { steps: [{}, bought], ...each(onEvent('Channel')) }),
  },
  { text: 'monthly churn', is: kind('growth', { interval: { unit: 'month' }, show: { state: 'lapsed' } }) },
  {
    text: 'stickiness',
    is: trend(
      [
        { ...anything, ...people },
        { ...anything, measure: 'people in the last days' },
      ],
      { every: 'day', formulas: [{ formula: 'a / b', unit: 'percent' }] },
    ),
  },
  { text: 'time between rides', is: kind('gaps', { start: ride }) },
  { text: 'rides per rider by month', is: trend({ ...ride, measure: 'events per person' }, { every: 'month' }) },
  { text: 'friends invited per rider', is: trend({ ...named('Friend invited'), measure: 'events per person' }) },
  { text: 'most popular docks in october', is: kind('trend', { ...each(onEvent('dock')), ...OCTOBER, ...ranked }) },
  {
    text: 'number of people who opened the app but did not ride',
    is: {
      rule: {
        of: [
          { kind: 'did', ...named('App opened') },
          { kind: 'did', ...ride, not: true },
        ],
      },
    },
  },
  {
    text: 'how long do people wait on the help line',
    is: trend({ ...named('Help asked'), measure: 'median', of: onEvent('wait_seconds') }),
  },
  {
    text: 'students vs commuters rides per week',
    is: trend(
      { ...ride, where: is(onPerson('rider_kind'), 'student', 'commuter') },
      { every: 'week', ...each(onPerson('rider_kind')) },
    ),
  },
  { text: 'conversion from sign up to first ride by platform', is: funnel([signUp, ride], each(onPerson('platform'))) },
  {
    text: 'how many people renewed their pass in october',
    is: trend({ ...named('Pass renewed'), ...people }, OCTOBER),
  },
  {
    text: 'how has retention changed since june',
    is: kind('retention', { start: signUp, range: { from: '2026-06-01' }, show: { form: 'over time', at: 1 } }),
  },
  {
    text: 'how deep into a session do people unlock a ride',
    is: trend(
      { ...named('Ride unlocked'), ...people },
      { ...each(onEvent('position in session')), show: { form: 'bars' } },
    ),
  },
  {
    text: 'how many minutes into a session do people unlock',
    is: trend({ ...named('Ride unlocked'), ...people }, each(onEvent('minutes into the session'))),
  },
  {
    text: 'how often do people look for help in a session',
    is: trend([named('Help asked'), named('Help asked')], {
      ...each({ of: 'hour' }),
      formulas: [{ formula: 'a / b' }],
    }),
  },
  {
    text: 'how many sessions start with notice opened',
    is: kind('sessions', { measure: 'sessions', holds: { ...named('Notice opened'), where: beginning } }),
  },
  {
    text: 'how long are visits that begin with ad clicked',
    is: kind('sessions', { measure: 'median length', holds: { ...named('Ad clicked'), where: beginning } }),
  },
  {
    text: 'at which place of the visit do they give up',
    is: trend({ ...anything, where: { op: '=', number: 1 } }, each(onEvent('position in session'))),
  },
  {
    text: 'what do people do before cancelling a pass',
    is: kind('paths', { start: named('Pass cancelled'), backward: true }),
  },
]
