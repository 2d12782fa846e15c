import type { Value } from '../core/log/values.js'
import { DISTRICTS, FIRST_NAMES, type District } from './city.js'
import { Random } from './random.js'

/** An event on its way: sent when its moment has come. */
export interface TrafficEvent {
  id: string
  person?: string
  anonymous?: string
  event: string
  time: number
  source: string
  properties: Record<string, Value>
}

interface Visit {
  person: string
  cookie: string
  home: District
  platform: 'iOS' | 'Android'
  /** one of the few phones that still send old names */
  old: boolean
}

const VERSION = '5.4.0'
/** How many events a visit has on the average; tells how often one must begin for a wanted rate. */
const EVENTS_A_VISIT = 5.4

/**
 * Saltmarsh riders in real time: visits begin at random and go through opening the app, choosing a dock and riding, with
 * pauses shortened so that something happens while one watches; and with all that goes wrong in real life.
 */
export class Traffic {
  private readonly random: Random
  private readonly ahead: TrafficEvent[] = []
  private nextMs: number
  private count = 0

  /**
   * @param rate events a second
   * @param riders how many of the demo's riders take part; a tenth of the visits are by people never seen before
   */
  constructor(
    private readonly rate: number,
    seed: number,
    startMs: number,
    private readonly riders = 2000,
  ) {
    this.random = new Random(seed)
    this.nextMs = startMs + this.pause()
  }

  /** Everything that happens up to a moment, in order of time; some of it twice, as phones without network do. */
  until(nowMs: number): TrafficEvent[] {
    for (; this.nextMs <= nowMs; this.nextMs += this.pause()) this.visit(this.nextMs)
    this.ahead.sort((a, b) => a.time - b.time)
    const due = this.ahead.findIndex((event) => event.time > nowMs)
    const events = this.ahead.splice(0, due < 0 ? this.ahead.length : due)
    return events.flatMap((event) => {
      const skewed = this.random.chance(0.002) ? { ...event, time: event.time + 5 * 365 * 86_400_000 } : event
      return this.random.chance(0.004) ? [skewed, skewed] : [skewed]
    })
  }

  /** ms between the beginnings of two visits */
  private pause(): number {
    return (-Math.log(1 - this.random.next()) * 1000 * EVENTS_A_VISIT) / this.rate
  }

  private visit(start: number): void {
    const { random } = this
    const fresh = random.chance(0.1)
    const number = fresh ? Math.floor(start / 1000) % 1_000_000_000 : random.whole(1, this.riders)
    const who: Visit = {
      person: fresh ? `rider-n${number}` : `rider-${String(number).padStart(5, '0')}`,
      cookie: `c-live-${number.toString(36)}-${random.whole(100, 999)}`,
      home: random.weighted(DISTRICTS),
      platform: random.chance(0.52) ? 'Android' : 'iOS',
      old: random.chance(0.04),
    }
    let now = start
    const later = (seconds: number) => (now += random.between(0.4, 1.6) * seconds * 1000)
    const app = { app_version: VERSION, platform: who.platform }
    if (fresh) {
      this.add(who, false, now, 'Page viewed', 'website', { page: '/', referrer: 'findit.example' })
      this.add(who, true, later(6), 'Signed up', 'website', { method: 'email', invited: false })
    }
    this.add(who, null, later(1), 'App opened', 'mobile app', { ...app, opened_from: 'icon' })
    if (random.chance(0.03))
      this.add(who, null, later(1), 'qr_debug', 'mobile app', { build: 't15', ok: true, app_version: VERSION })
    this.add(who, null, later(1), 'Map viewed', 'mobile app', { district: who.home, docks_shown: random.whole(3, 14) })
    const dock = `${who.home} ${random.whole(1, 9)}`
    if (random.chance(0.08)) this.add(who, null, later(3), 'Empty dock met', 'mobile app', { dock, district: who.home })
    if (!random.chance(0.8)) return
    const bikes = random.whole(0, 12)
    this.add(who, null, later(3), 'Dock chosen', 'mobile app', { dock, district: who.home, bikes_free: bikes })
    if (fresh) this.add(who, null, later(5), 'Card added', 'mobile app', { card_network: 'Solent' })
    if (!random.chance(0.75)) return
    const bike = random.weighted({ pedal: 62, electric: 33, cargo: 5 })
    const unlocked = { bike_type: bike, dock, district: who.home, attempt: 1 }
    this.add(who, null, later(4), 'Ride unlocked', 'mobile app', unlocked)
    const minutes = Math.round(Math.max(2, random.normal(15, 6)) * 10) / 10
    const ride = {
      ...{ minutes, km: Math.round(minutes * 22) / 100, fare: Math.round(minutes * 15 + 100) / 100 },
      [who.old && random.chance(0.5) ? 'bikeType' : 'bike_type']: bike,
      ...{ from_district: who.home, to_district: random.weighted(DISTRICTS), helmet: random.chance(0.41) },
    }
    // Twenty seconds stand for the ride, so that one need not wait for its end.
    this.add(who, null, later(20), who.old ? 'ride_done_old' : 'Ride completed', 'mobile app', ride)
    if (random.chance(0.1)) this.add(who, null, later(4), 'Ride rated', 'mobile app', { stars: random.whole(2, 5) })
    if (random.chance(0.01)) {
      const seconds = random.whole(10, 600)
      const wait = random.chance(0.15) ? String(seconds) : seconds
      this.add(who, null, later(9), 'Help asked', 'help line', { reason: 'fare', wait_seconds: wait })
    }
  }

  /** @param joins true: with both ids, as at a sign-up; false: only the cookie; null: only the known id */
  private add(
    who: Visit,
    joins: boolean | null,
    time: number,
    event: string,
    source: string,
    properties: Record<string, Value>,
  ): void {
    const ids =
      joins === null
        ? { person: who.person }
        : joins
          ? { person: who.person, anonymous: who.cookie }
          : { anonymous: who.cookie }
    const id = `live-${Math.floor(this.nextMs)}-${this.count++}`
    this.ahead.push({ id, ...ids, event, time: Math.floor(time), source, properties })
  }

  /** Profiles of the people who came for the first time, by their events. */
  profilesOf(events: readonly TrafficEvent[]): { person: string; properties: Record<string, Value> }[] {
    return events.flatMap(({ event, person, time }) =>
      event === 'Signed up' && person
        ? [
            {
              person,
              properties: {
                first_name: FIRST_NAMES[time % FIRST_NAMES.length]!,
                plan: 'None',
                joined_on: new Date(time).toISOString().slice(0, 10),
              },
            },
          ]
        : [],
    )
  }
}
