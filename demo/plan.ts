import { MESSAGE_EVENTS } from '../core/outreach/events.js'
import type { PlanEvent, PlanKind, PlanProperty } from '../core/plan/plan.js'

/** The tracking plan of Saltmarsh Bikes: what each event is meant to carry. */

const DISTRICTS = ['Quayside', 'Old Mint', 'Lantern Hill', 'Marsh End', 'College Green', 'Ropewalk', 'Northgate']
const BIKES = ['pedal', 'electric', 'cargo']
const PASSES = ['None', 'Day pass', 'Monthly', 'Annual']
const VERSION = '^\\d+\\.\\d+\\.\\d+$'

/** `name` is required, `name?` is not. */
function property(name: string, kind: PlanKind, more: Partial<PlanProperty> = {}): PlanProperty {
  return { name: name.replace('?', ''), kind, required: !name.endsWith('?'), description: '', ...more }
}
const text = (name: string, allowed?: string[]) => property(name, 'text', allowed ? { allowed } : {})
const number = (name: string) => property(name, 'number')
const version = (name: string) => property(name, 'text', { pattern: VERSION })
const district = (name: string) => text(name, DISTRICTS)
const tags = [text('utm_source?'), text('utm_medium?'), text('utm_campaign?')]

const CARRIES: Record<string, { owner: string; carries: PlanProperty[] }> = {
  'Ad clicked': { owner: 'Marketing', carries: [text('referrer'), ...tags] },
  'Page viewed': { owner: 'Marketing', carries: [text('page'), text('referrer?'), ...tags] },
  'Signed up': {
    owner: 'Growth',
    carries: [text('method', ['email', 'phone', 'card']), property('invited', 'boolean')],
  },
  'App opened': {
    owner: 'App team',
    carries: [version('app_version'), text('platform', ['iOS', 'Android']), text('opened_from?')],
  },
  'Map viewed': { owner: 'App team', carries: [district('district'), number('docks_shown')] },
  'Dock chosen': { owner: 'App team', carries: [text('dock'), district('district'), number('bikes_free')] },
  'Empty dock met': { owner: 'Stations', carries: [text('dock'), district('district')] },
  'Card added': { owner: 'Payments', carries: [text('card_network')] },
  'Card refused': { owner: 'Payments', carries: [text('card_network'), text('reason'), version('app_version')] },
  'Ride unlocked': {
    owner: 'Stations',
    carries: [text('bike_type', BIKES), text('dock'), district('district'), number('attempt'), number('lock_batt?')],
  },
  'Ride completed': {
    owner: 'Stations',
    carries: [
      ...[number('minutes'), number('km'), number('fare'), text('bike_type', BIKES)],
      ...[district('from_district'), district('to_district'), property('helmet', 'boolean')],
    ],
  },
  'Ride rated': { owner: 'Growth', carries: [number('stars'), property('remarks?', 'list')] },
  'Pass bought': { owner: 'Payments', carries: [text('plan', PASSES), number('price')] },
  'Pass renewed': { owner: 'Payments', carries: [text('plan', PASSES), number('price')] },
  'Pass cancelled': { owner: 'Payments', carries: [text('plan', PASSES), text('reason')] },
  'Friend invited': { owner: 'Growth', carries: [text('channel', ['message', 'mail', 'link'])] },
  'Fault reported': { owner: 'Stations', carries: [text('part'), text('bike_type', BIKES)] },
  'Help asked': { owner: 'Help line', carries: [text('reason'), number('wait_seconds')] },
  'Mail opened': { owner: 'Marketing', carries: [text('campaign')] },
  'Notice opened': { owner: 'Marketing', carries: [text('campaign')] },
  ...Object.fromEntries(
    Object.values(MESSAGE_EVENTS).map((name) => [
      name,
      { owner: 'Marketing', carries: [text('message'), text('variant'), text('channel'), number('entry')] },
    ]),
  ),
  'Screen froze': { owner: 'App team', carries: [text('screen'), version('app_version')] },
  // Planned, and not sent by anything yet.
  'Helmet borrowed': { owner: 'Stations', carries: [text('dock'), district('district')] },
}

export function trackingPlan(describe: (event: string) => string): PlanEvent[] {
  return Object.entries(CARRIES).map(([name, { owner, carries }]) => ({
    ...{ name, owner, description: describe(name), properties: carries },
  }))
}
