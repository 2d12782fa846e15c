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

const created = named('Document created')
const trial = named('Trial started')
const subscribed = named('Subscription started')
const task = named('Task completed')
const comment = named('Comment added')
const OCTOBER = days('2026-10-01', '2026-10-31')
const times = { measure: 'events' }
const people = { measure: 'people' }

export const teams: Asked[] = [
  { text: 'how many documents were created each day', is: trend({ ...created, ...times }, { every: 'day' }) },
  {
    text: 'documents created by template last month',
    is: trend(created, { ...each(onEvent('template')), ...OCTOBER }),
  },
  { text: 'trial to subscription conversion', is: funnel([trial, subscribed]) },
  {
    text: 'what share of trials become subscriptions within 14 days',
    is: funnel([trial, subscribed], within(14, 'day')),
  },
  { text: 'how long from trial to upgrade', is: funnel([trial, subscribed], { show: { form: 'time' } }) },
  {
    text: 'time from trial started to subscription started by plan',
    is: funnel([trial, subscribed], { show: { form: 'time' } }),
  },
  { text: 'weekly active users', is: trend({ ...anything, ...people }, { every: 'week' }) },
  { text: 'wau/mau', is: kind('trend', { formulas: [{ formula: 'a / b', unit: 'percent' }] }) },
  {
    text: 'stickiness by plan',
    is: kind('trend', { every: 'day', formulas: [{ formula: 'a / b', unit: 'percent' }], ...each(onPerson('plan')) }),
  },
  { text: 'churn by plan', is: kind('growth', { ...each(onPerson('plan')), show: { state: 'lapsed' } }) },
  { text: 'revenue per month', is: trend({ measure: 'sum', of: onEvent('amount') }, { every: 'month' }) },
  {
    text: 'revenue from invoices by plan',
    is: trend({ ...named('Invoice paid'), measure: 'sum', of: onEvent('amount') }, each(onEvent('plan'))),
  },
  { text: 'invitations accepted by role', is: trend(named('Invitation accepted'), each(onEvent('role'))) },
  {
    text: 'percentage of people who invite a member within a week of starting a trial',
    is: funnel([trial, named('Member invited')], within(1, 'week')),
  },
  {
    text: 'retention of software companies',
    is: kind('retention', { start: { where: is(onPerson('industry'), 'software') } }),
  },
  {
    text: 'week 4 retention by industry',
    is: kind('retention', { every: 'week', show: { at: 4 }, ...each(onPerson('industry')) }),
  },
  { text: 'which industry has the worst retention', is: kind('retention', each(onPerson('industry'))) },
  {
    text: 'tasks completed per user per week',
    is: trend({ ...task, measure: 'events per person' }, { every: 'week' }),
  },
  {
    text: 'do business teams comment more often than starter teams',
    is: trend({ ...comment, measure: 'events per person' }, each(onPerson('plan'))),
  },
  {
    text: 'compare pdf and csv exports by month',
    is: trend(
      { ...named('File exported'), where: is(onEvent('format'), 'pdf', 'csv') },
      { every: 'month', ...each(onEvent('format')) },
    ),
  },
  { text: 'why did cancellations go up in october', is: trend(named('Subscription cancelled'), { every: 'week' }) },
  { text: 'cancellations by reason', is: trend(named('Subscription cancelled'), each(onEvent('reason'))) },
  {
    text: 'most common reason for cancelling',
    is: trend(named('Subscription cancelled'), { ...each(onEvent('reason')), ...ranked }),
  },
  {
    text: 'top 10 countries by documents created',
    is: trend(created, { breakdowns: [{ by: onPerson('country'), keep: 10 }], ...ranked }),
  },
  {
    text: 'users who created a document but never shared one',
    is: {
      rule: {
        of: [
          { kind: 'did', ...created },
          { kind: 'did', ...named('Document shared'), not: true },
        ],
      },
    },
  },
  {
    text: 'people who completed at least 5 tasks last week',
    is: { rule: { of: [{ kind: 'did', ...task, count: { measure: 'times', test: { op: '≥', number: 5 } } }] } },
  },
  {
    text: 'users who have not signed in in the last 30 days',
    is: { rule: { of: [{ kind: 'did', ...named('Signed in'), not: true, window: { last: 30 } }] } },
  },
  { text: 'how often do people sign in', is: kind('habit', { start: named('Signed in') }) },
  { text: 'how many days a week do people create documents', is: kind('habit', { start: created, period: 'week' }) },
  { text: 'time between sign ins', is: kind('gaps', { start: named('Signed in') }) },
  { text: 'what do people do after an error', is: kind('paths', { start: named('Error shown') }) },
  { text: 'what leads to a subscription', is: kind('paths', { start: subscribed, backward: true }) },
  { text: 'new vs returning users', is: kind('growth', { start: anything }) },
  { text: 'who stopped signing in', is: kind('growth', { start: named('Signed in'), show: { state: 'lapsed' } }) },
  {
    text: 'median minutes to answer by topic',
    is: trend(
      { ...named('Support ticket opened'), measure: 'median', of: onEvent('minutes_to_answer') },
      each(onEvent('topic')),
    ),
  },
  {
    text: 'high priority tasks each week',
    is: trend({ ...task, where: is(onEvent('priority'), 'high') }, { every: 'week' }),
  },
  {
    text: 'percent of tasks with high priority by industry',
    is: kind('trend', { formulas: [{ formula: 'a / b', unit: 'percent' }], ...each(onPerson('industry')) }),
  },
  { text: 'average pages per document', is: trend({ ...created, measure: 'average', of: onEvent('pages') }) },
  {
    text: 'comments in Germany vs France',
    is: trend({ ...comment, where: is(onPerson('country'), 'Germany', 'France') }, each(onPerson('country'))),
  },
  {
    text: 'signed in by method yesterday',
    is: trend(named('Signed in'), { ...each(onEvent('method')), ...days('2026-11-21', '2026-11-21') }),
  },
  { text: 'session length by week', is: kind('sessions', { every: 'week' }) },
  {
    text: 'are enterprise users more active than starter users',
    is: trend({ ...anything, measure: 'events per person', where: { values: ['Enterprise', 'Starter'] } }),
  },
  { text: 'first thing in a session', is: kind('sessions', { show: { form: 'ways' } }) },
  { text: 'what do people do first in a session', is: kind('sessions', { show: { form: 'ways' } }) },
  { text: 'how thoroughly do people look around', is: kind('sessions', { measure: 'events' }) },
  { text: 'who is likely to cancel', is: kind('likelihood', { goal: named('Subscription cancelled') }) },
  { text: 'what makes people stay', is: kind('tipping', {}) },
  { text: 'which sources bring subscriptions', is: kind('attribution', { goals: [subscribed] }) },
  { text: 'users who used both the web app and the desktop app', is: { rule: {} } },
  {
    text: 'subscriptions this quarter vs last',
    is: trend(subscribed, { range: { last: 1, unit: 'quarter' }, compare: { to: 'before' } }),
  },
  {
    text: 'tickets about billing',
    is: trend({ ...named('Support ticket opened'), where: is(onEvent('topic'), 'billing') }),
  },
  {
    text: 'searches with more than 10 results',
    is: trend({ ...named('Search performed'), where: { property: onEvent('results_count'), op: '>', number: 10 } }),
  },
  {
    text: 'distinct templates in document created',
    is: trend({ ...created, measure: 'distinct values', of: onEvent('template') }),
  },
  { text: 'how many teams upgraded in october', is: trend({ ...subscribed, ...people }, OCTOBER) },
  {
    text: 'users who started a trial last month but did not subscribe',
    is: {
      rule: {
        of: [
          { kind: 'did', ...trial, window: { from: '2026-10-01', to: '2026-10-31' } },
          { kind: 'did', ...subscribed, not: true, window: undefined },
        ],
      },
    },
  },
  {
    text: 'average hours to complete a task by priority',
    is: trend({ ...task, measure: 'average', of: onEvent('hours_taken') }, each(onEvent('priority'))),
  },
]
