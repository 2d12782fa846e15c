import type { Value } from '../core/log/values.js'
import {
  appVersion,
  DAY,
  DAYS,
  dayIndex,
  DISTRICTS,
  END,
  FIRST_NAMES,
  HOUR,
  isRainy,
  MINUTE,
  PRICE_RISE,
  season,
  START,
  weekday,
  type District,
} from './city.js'
import { MESSAGE_EVENTS } from '../core/outreach/events.js'
import { letters } from './letters.js'
import { Random } from './random.js'

export interface DemoEvent {
  id: string
  person?: string
  anonymous?: string
  event: string
  time: number
  source: string
  properties: Record<string, Value>
}

type Kind = 'commuter' | 'student' | 'visitor' | 'leisure'
type Plan = 'None' | 'Day pass' | 'Monthly' | 'Annual'
const PRICES: Record<Plan, number> = { None: 0, 'Day pass': 9, Monthly: 29, Annual: 240 }

const RIDDEN: ReadonlySet<string> = new Set(['Ride completed', 'ride_done_old'])

/** One invented person: where they come from, whether they get to a first ride, and how they ride until they stop. */
export class Rider {
  readonly events: DemoEvent[] = []
  readonly profile: Record<string, Value>
  /** what of the profile came to hold when */
  readonly changes: { time: number; properties: Record<string, Value> }[] = []
  readonly known: string
  private readonly cookie: string
  private readonly kind: Kind
  private home: District
  private readonly platform: 'iOS' | 'Android'
  /** 2 % of the phones send an old name for a ride */
  private readonly oldPhone: boolean
  private plan: Plan = 'None'
  private signedUp = false
  private joined = 0
  private movesAt = Infinity
  private count = 0
  /** for what goes wrong with the data: a sequence of its own, so that it changes nobody's life */
  private readonly mess: Random
  /** likewise, for who moves house */
  private readonly moves: Random
  /** likewise, for which pages of the website are looked at */
  private readonly pages: Random
  /** likewise, for what else brings somebody to a first pass */
  private readonly touches: Random
  /** likewise, for what messages do */
  private readonly post: Random
  private hasPass = false

  constructor(
    number: number,
    private readonly random: Random,
    private readonly scale: number,
  ) {
    this.mess = new Random(number * 40_503 + 7)
    this.moves = new Random(number * 48_271 + 11)
    this.pages = new Random(number * 69_621 + 13)
    this.touches = new Random(number * 62_089 + 17)
    this.post = new Random(number * 65_537 + 19)
    this.known = `rider-${String(number).padStart(5, '0')}`
    this.cookie = `c-${number.toString(36)}-${random.whole(100, 999)}`
    this.kind = random.weighted({ commuter: 34, student: 20, visitor: 22, leisure: 24 })
    this.home = this.kind === 'student' && random.chance(0.6) ? 'College Green' : random.weighted(DISTRICTS)
    this.platform = random.chance(0.52) ? 'Android' : 'iOS'
    this.oldPhone = random.chance(0.02)
    this.profile = {
      first_name: random.pick(FIRST_NAMES),
      home_district: this.home,
      age_band:
        this.kind === 'student'
          ? '18–24'
          : random.weighted({ '18–24': 10, '25–34': 32, '35–49': 34, '50–64': 18, '65 and over': 6 }),
      rider_kind: this.kind,
      platform: this.platform,
      opted_out: random.chance(0.07),
    }
    this.live()
  }

  private live(): void {
    const arrival = this.arrival()
    const route = this.random.weighted({ ad: 24, search: 38, invited: 14, app: 24 })
    let now = arrival
    if (route === 'ad') {
      const campaign = this.random.pick(['spring_ride', 'harbour_summer', 'autumn_wheels'])
      const tags = {
        utm_source: this.random.pick(['harbour-news', 'city-screens']),
        utm_medium: 'paid',
        utm_campaign: campaign,
      }
      this.add('Ad clicked', now, 'advertising', { ...tags, referrer: 'harbour-news.example' })
      now += this.random.between(2, 40) * 1000
      this.add('Page viewed', now, 'website', { page: '/', ...tags })
    } else if (route === 'search') {
      for (let i = this.random.whole(1, 3); i > 0; i--) {
        const page = this.random.pick(['/', '/tariffs', '/map', '/blog'])
        this.add('Page viewed', now, 'website', { page, referrer: 'findit.example' })
        now += this.random.between(10, 180) * 1000
      }
    }
    // An invitation leads to a page of its own.
    if (route === 'invited')
      this.add('Page viewed', now - this.touches.between(20, 90) * 1000, 'website', {
        ...{ page: '/invitation', utm_source: 'friend', utm_medium: 'invitation' },
      })
    // Advertisements bring many sign-ups; those who only looked stay anonymous.
    const signsUp = { ad: 0.72, search: 0.66, invited: 0.94, app: 0.9 }[route]
    if (!this.random.chance(signsUp)) return
    const thinking = this.random.between(20, 300) * 1000
    const place = route === 'ad' || (route === 'search' && this.random.chance(0.5)) ? 'website' : 'mobile app'
    now = place === 'website' ? this.toSignUp(now, thinking) : now + thinking
    this.signedUp = true
    this.joined = now
    // One in fifty moves house before the year is out.
    if (this.moves.chance(0.02)) this.movesAt = this.moves.between(now, END)
    this.change(now, { plan: 'None' })
    this.profile.joined_on = new Date(now).toISOString().slice(0, 10)
    if (route === 'invited') this.profile.invited_by = `rider-${String(this.random.whole(1, 999)).padStart(5, '0')}`
    this.add('Signed up', now, place, {
      method: this.random.weighted({ email: 60, phone: 25, card: 15 }),
      invited: route === 'invited',
    })
    if (this.touches.chance(0.35))
      this.add('Mail opened', now + this.touches.between(2, 60) * HOUR, 'mailing', { campaign: 'welcome' })
    const quality = { ad: 0.72, search: 1.04, invited: 1.18, app: 1.06 }[route]
    const first = this.firstRide(now + this.random.between(1, 20) * MINUTE, quality)
    if (first !== null) this.ride(first)
    this.takeLetters()
    this.move()
    this.changeVersions(now)
  }

  /** Messages that came after the sign-up, and a ride that one of them brought. */
  private takeLetters(): void {
    const rides = this.events.flatMap(({ event, time }) => (RIDDEN.has(event) ? [time] : []))
    const who = { known: this.known, joined: this.joined, optedOut: this.profile.opted_out === true, rides }
    const { events, ride } = letters(who, this.post)
    for (const { event, time, properties } of events) {
      this.add(event, time, 'outreach', properties)
      if (event === MESSAGE_EVENTS.optedOut) this.change(time, { opted_out: true })
    }
    if (ride !== null) this.oneRide(ride)
  }

  /**
   * The website's way to an account: from the tariffs to the form. One in eight asks the help pages first, comes back to the
   * tariffs, and needs three times as long.
   * @returns when the account is made, ms
   */
  private toSignUp(from: number, thinking: number): number {
    const { pages } = this
    const seen = (page: string, time: number) => this.add('Page viewed', time, 'website', { page })
    const begun = from + pages.between(5, 60) * 1000
    seen('/tariffs', begun)
    const straight = pages.between(60, 240) * 1000 + thinking
    const detour = pages.chance(0.12)
    const whole = detour ? 3 * straight : straight
    if (detour) {
      seen('/help', begun + 0.25 * whole)
      seen('/tariffs', begun + 0.7 * whole)
    }
    seen('/sign-up', begun + 0.85 * whole)
    return begun + whole
  }

  /** Whoever signs up is known to have been somebody: those who only looked are not. */
  get isKnown(): boolean {
    return this.signedUp
  }

  private change(time: number, properties: Record<string, Value>): void {
    if (time >= START && time <= END) this.changes.push({ time: Math.floor(time), properties })
  }

  /** The app on a phone is a new one from the first time it is used after a release. */
  private changeVersions(signUp: number): void {
    let before = ''
    const times = this.events.map(({ time }) => time).filter((time) => time >= signUp && time <= END)
    for (const time of times.sort((a, b) => a - b)) {
      const version = appVersion(this.platform, time)
      if (version !== before) this.change(time, { app_version: (before = version) })
    }
  }

  /** When the person first turns up: a stock of early ones, a slow growth, visitors mostly in summer. */
  private arrival(): number {
    const { random } = this
    let day: number
    if (this.kind === 'visitor') day = Math.round(random.normal(200, 48))
    else if (random.chance(0.16)) day = random.whole(0, 20)
    else day = Math.floor(DAYS.length * random.next() ** 0.92)
    day = Math.min(DAYS.length - 1, Math.max(0, day))
    return Math.min(DAYS[day] + random.between(7.5, 22) * HOUR, END - HOUR)
  }

  /** From the first opening of the app to the first ride; null for those who do not get there. */
  private firstRide(from: number, quality: number): number | null {
    const { random } = this
    let now = from
    if (random.chance(0.08)) return null // signed up, and never opened the app
    const eager = this.kind === 'student' ? 1.3 : this.kind === 'visitor' ? 0.76 : 0.8
    for (let visit = 0; visit < 3; visit++) {
      if (now > END) return null
      this.openApp(now)
      if (!random.chance(Math.min(0.95, 0.58 * eager))) {
        now += random.between(0.4, 2.2) * DAY
        continue
      }
      now += random.between(0.5, 4) * MINUTE
      this.add('Dock chosen', now, 'mobile app', this.dockProperties())
      if (this.addCard(now, Math.min(0.96, 0.6 * eager * quality))) {
        now += random.between(6, 15) * MINUTE
        if (!random.chance(0.94)) return null
        return now + (random.chance(0.55) ? random.between(1, 30) * MINUTE : random.between(2, 60) * HOUR)
      }
      if (random.chance(0.7)) break
      now += random.between(0.5, 2) * DAY
    }
    if (random.chance(0.12)) this.askHelp(now + random.between(0.2, 30) * HOUR)
    return null
  }

  private addCard(from: number, chance: number): boolean {
    const { random } = this
    const now = from + random.between(2, 9) * MINUTE
    const version = appVersion(this.platform, now)
    const network = random.weighted({ Solent: 55, Carta: 35, Meridian: 10 })
    const refuse = (when: number, reason: string) =>
      this.add('Card refused', when, 'mobile app', { card_network: network, reason, app_version: version })
    if (version === '5.3.0') {
      const tries = random.whole(1, 3)
      const broken = random.chance(0.72)
      if (broken) for (let i = 0; i < tries; i++) refuse(now + i * 40_000, 'form error')
      if (broken) return false
    } else if (random.chance(0.07)) refuse(now, random.pick(['declined by bank', 'expired', 'wrong number']))
    if (!random.chance(chance)) return false
    this.add('Card added', now + 3 * MINUTE, 'mobile app', { card_network: network })
    return true
  }

  private ride(first: number): void {
    const { random } = this
    if (first > END) return
    this.plan = this.choosePlan()
    if (this.plan !== 'None') this.change(first - MINUTE, { plan: this.plan })
    if (this.plan !== 'None' && this.plan !== 'Day pass') this.buyPass(first - MINUTE, this.plan)
    // Those who ride three times or more in their first week are the ones who stay.
    const keen = random.chance(this.kind === 'student' ? 0.56 : this.kind === 'visitor' ? 0.5 : 0.44)
    this.oneRide(first)
    const more = keen ? random.whole(2, 4) : random.whole(0, 1)
    for (let i = 0; i < more; i++) this.rideOnDay(first + (1 + random.next() * 5.6) * DAY)
    let stays = random.chance(keen ? 0.7 : 0.28)
    if (this.kind === 'visitor') stays &&= random.chance(0.15)
    if (!stays) return this.leave(first + 7 * DAY)
    const leavesAt = first + (7 + -Math.log(1 - random.next()) * (keen ? 220 : 120)) * DAY
    this.regularRides(first + 7 * DAY, Math.min(leavesAt, END))
    if (leavesAt < END) this.leave(leavesAt)
  }

  private regularRides(from: number, until: number): void {
    const { random } = this
    let stop = until
    if (this.plan === 'Day pass' && until > PRICE_RISE) {
      // The price rise: a third ride no more, some take a Monthly instead.
      const choice = random.next()
      if (choice < 0.15) stop = Math.max(from, PRICE_RISE + random.between(-1, 2) * DAY)
      else if (choice < 0.4) {
        this.plan = 'Monthly'
        const when = Math.max(from, PRICE_RISE + random.between(0, 9) * DAY)
        this.change(when, { plan: 'Monthly' })
        this.buyPass(when, 'Monthly')
      }
    }
    for (let day = dayIndex(from); day < DAYS.length && DAYS[day] < stop; day++) {
      if (DAYS[day] >= this.movesAt) this.move()
      const rides = random.poisson(this.rate(day) * this.scale)
      for (let i = 0; i < rides; i++) this.rideOnDay(DAYS[day] + i * 2 * HOUR)
      if (this.plan === 'Monthly' && day % 30 === 7) this.renew(DAYS[day] + 9 * HOUR)
      if (day % 28 === 3 && random.chance(0.25))
        this.add('Mail opened', DAYS[day] + random.between(8, 21) * HOUR, 'mailing', {
          campaign: `letter_${Math.floor(day / 28) + 1}`,
        })
    }
  }

  /** Rides a day: commuters on weekdays, others on weekends; less in the rain. */
  private rate(day: number): number {
    const weekend = weekday(day) >= 5
    const base = {
      commuter: weekend ? 0.1 : 0.66,
      student: weekend ? 0.34 : 0.52,
      leisure: (weekend ? 0.56 : 0.13) * season(day),
      visitor: 0.36 * season(day),
    }[this.kind]
    return base * (isRainy(day) ? 0.76 : 1)
  }

  private rideOnDay(around: number): void {
    const { random } = this
    const day = dayIndex(around)
    const commute = this.kind === 'commuter' && weekday(day) < 5
    const hour = commute
      ? random.chance(0.55)
        ? random.normal(8.3, 0.5)
        : random.normal(17.8, 0.8)
      : random.normal(14.5, 2.6)
    this.oneRide(DAYS[day] + Math.min(22.5, Math.max(5.5, hour)) * HOUR)
  }

  private oneRide(start: number): void {
    const { random } = this
    // Nobody rides before they have signed up, whatever hour of the day is theirs.
    if (start > END - HOUR || start < this.joined) return
    const kiosk = random.chance(this.kind === 'visitor' ? 0.3 : 0.08)
    const source = kiosk ? 'station kiosk' : 'mobile app'
    let now = start
    if (!kiosk) {
      this.openApp(now)
      now += random.between(10, 90) * 1000
      if (random.chance(0.06))
        this.add('Empty dock met', (now += 30_000), 'mobile app', { dock: this.dock(), district: this.home })
      if (random.chance(0.85)) this.add('Dock chosen', (now += 20_000), 'mobile app', this.dockProperties())
    }
    if (this.plan === 'Day pass' && random.chance(0.55)) this.buyPass((now += 15_000), 'Day pass', source)
    const bike = random.weighted({ pedal: 62, electric: 33, cargo: 5 })
    const district = random.chance(0.7) ? this.home : random.weighted(DISTRICTS)
    const attempt = random.chance(0.93) ? 1 : 2
    const battery: Record<string, Value> =
      !kiosk && this.mess.chance(0.3) ? { lock_batt: Math.round(this.mess.between(20, 100)) } : {}
    const unlocked = { bike_type: bike, dock: this.dock(), district, attempt, ...battery }
    this.add('Ride unlocked', (now += 60_000), source, unlocked)
    const minutes = Math.max(2, random.normal(bike === 'cargo' ? 31 : this.kind === 'visitor' ? 26 : 15, 6))
    now += minutes * MINUTE
    const fare = this.plan === 'None' ? 1 + minutes * 0.15 : bike === 'electric' ? minutes * 0.05 : 0
    const misspelt = this.oldPhone && random.chance(0.5)
    const typeName = misspelt ? this.mess.weighted({ bikeType: 70, 'Bike type': 30 }) : 'bike_type'
    this.add(this.oldPhone ? 'ride_done_old' : 'Ride completed', now, source, {
      minutes: round(minutes, 1),
      km: round((minutes * random.between(10, 17)) / 60, 2),
      fare: round(fare, 2),
      [typeName]: bike,
      from_district: district,
      to_district: random.weighted(DISTRICTS),
      helmet: random.chance(0.41),
    })
    if (random.chance(0.1) && !kiosk) this.giveStars(now + MINUTE)
    if (random.chance(0.012)) this.invite(now + 3 * MINUTE)
    if (random.chance(0.004))
      this.add('Fault reported', now + 2 * MINUTE, random.chance(0.8) ? 'mobile app' : 'help line', {
        part: random.pick(['brakes', 'tyre', 'saddle', 'light', 'lock']),
        bike_type: bike,
      })
  }

  private giveStars(when: number): void {
    const { random } = this
    const stars = random.chance(0.7) ? random.whole(4, 5) : random.whole(1, 4)
    const remarks = stars < 4 ? ['brakes', 'seat', 'heavy', 'dirty'] : ['smooth', 'quick', 'good brakes']
    const said = remarks.filter(() => random.chance(0.35))
    this.add('Ride rated', when, 'mobile app', { stars, ...(said.length > 0 ? { remarks: said } : {}) })
  }

  private openApp(when: number): void {
    const { random } = this
    const version = appVersion(this.platform, when)
    const from = random.weighted({ icon: 80, notice: 12, link: 8 })
    if (from === 'notice')
      this.add('Notice opened', when - 2000, 'mobile app', { campaign: random.pick(['dock_nearby', 'sunny_day']) })
    this.add('App opened', when, 'mobile app', { app_version: version, platform: this.platform, opened_from: from })
    if (random.chance(0.8))
      this.add('Map viewed', when + random.between(1, 15) * 1000, 'mobile app', {
        district: this.home,
        docks_shown: random.whole(3, 14),
      })
    // A test build that reached some phones, and phones whose clock is years ahead.
    if (this.mess.chance(0.004))
      this.add('qr_debug', when + 8000, 'mobile app', {
        build: `t${this.mess.whole(11, 14)}`,
        app_version: version,
        ok: this.mess.chance(0.8),
      })
    if (this.mess.chance(0.0015)) this.addAhead('App opened', when, { app_version: version, platform: this.platform })
    if (random.chance(0.004))
      this.add('Screen froze', when + 20_000, 'mobile app', {
        screen: random.pick(['map', 'card', 'ride']),
        app_version: version,
      })
  }

  private choosePlan(): Plan {
    const weights: Record<Kind, Record<Plan, number>> = {
      commuter: { None: 14, 'Day pass': 12, Monthly: 36, Annual: 38 },
      student: { None: 20, 'Day pass': 18, Monthly: 48, Annual: 14 },
      visitor: { None: 30, 'Day pass': 68, Monthly: 2, Annual: 0 },
      leisure: { None: 26, 'Day pass': 50, Monthly: 16, Annual: 8 },
    }
    return this.random.weighted(weights[this.kind])
  }

  private buyPass(when: number, plan: Plan, source = this.random.chance(0.7) ? 'mobile app' : 'website'): void {
    if (!this.hasPass) this.beforePass(when)
    const price = plan === 'Day pass' && when >= PRICE_RISE ? 12 : PRICES[plan]
    this.add('Pass bought', when, source, { plan, price })
  }

  /** Before the first pass many look up what it costs, and read what the letters say of it. */
  private beforePass(when: number): void {
    this.hasPass = true
    const { touches } = this
    const since = Math.min(when - this.joined, 6 * DAY)
    if (touches.chance(0.4))
      this.add('Page viewed', when - touches.between(0.1, 0.9) * since, 'website', {
        ...{ page: '/tariffs', referrer: 'findit.example' },
      })
    if (touches.chance(0.3))
      this.add('Mail opened', when - touches.between(0.02, 0.5) * since, 'mailing', { campaign: 'which_pass' })
  }

  private renew(when: number): void {
    this.add('Pass renewed', when, 'mobile app', { plan: this.plan, price: PRICES[this.plan] })
  }

  private invite(when: number): void {
    this.add('Friend invited', when, 'mobile app', { channel: this.random.pick(['message', 'mail', 'link']) })
  }

  private askHelp(when: number): void {
    this.add('Help asked', when, 'help line', {
      reason: this.random.pick(['card', 'lost bike', 'fare', 'app']),
      wait_seconds: this.waited(this.random.whole(10, 600)),
    })
  }

  /** One of the help line's desks writes numbers as text. */
  private waited(seconds: number): Value {
    return this.mess.chance(0.12) ? String(seconds) : seconds
  }

  private move(): void {
    const when = this.movesAt
    this.movesAt = Infinity
    if (when > END) return
    // What is known without a time would hold from the day it was told, after the move.
    if (this.profile.home_district !== undefined) this.change(this.joined, { home_district: this.home })
    delete this.profile.home_district
    this.home = this.moves.weighted(DISTRICTS)
    this.change(when, { home_district: this.home })
  }

  private leave(when: number): void {
    if (this.plan === 'Monthly' || this.plan === 'Annual') this.change(when, { plan: 'None' })
    if (this.plan === 'Monthly' || this.plan === 'Annual')
      this.add('Pass cancelled', when, 'mobile app', {
        plan: this.plan,
        reason: this.random.pick(['moved away', 'too dear', 'no bikes near me', 'other']),
      })
    if (this.random.chance(0.08)) this.askHelp(when - HOUR)
  }

  private dock(): string {
    return `${this.home} ${this.random.whole(1, 9)}`
  }

  private dockProperties() {
    return { dock: this.dock(), district: this.home, bikes_free: this.random.whole(0, 12) }
  }

  /** Before the sign-up only the cookie is known; at the sign-up both ids are, and merge. */
  private add(event: string, time: number, source: string, properties: Record<string, Value>): void {
    if (time < START || time > END) return
    this.send(event, time, source, properties)
  }

  private addAhead(event: string, time: number, properties: Record<string, Value>): void {
    if (time < START || time > END) return
    this.send(event, time + 5 * 365 * DAY, 'mobile app', properties)
  }

  private send(event: string, time: number, source: string, properties: Record<string, Value>): void {
    const ids =
      event === 'Signed up'
        ? { person: this.known, anonymous: this.cookie }
        : this.signedUp
          ? { person: this.known }
          : { anonymous: this.cookie }
    this.events.push({ id: `${this.known}-${this.count++}`, ...ids, event, time: Math.floor(time), source, properties })
  }
}

function round(x: number, digits: number): number {
  const factor = 10 ** digits
  return Math.round(x * factor) / factor
}
