import { Temporal } from 'temporal-polyfill'
import { own } from '../../core/names.js'
import { startOfDay } from '../../core/time/range.js'
import { LIMITS } from './limits.js'
import { checkerOf, type Checker } from '../../core/plan/check.js'
import type { Violation } from '../../core/plan/plan.js'
import type { Db } from '../store/database.js'
import { definitionsVersion } from '../store/definitions.js'
import { mendingStore } from '../store/mending.js'
import { planStore } from '../store/plan.js'
import { setAsideStore, type Aside } from '../store/setAside.js'
import { settingsStore } from '../store/settings.js'
import { testEventStore } from '../store/testEvents.js'
import type { BodyItem } from './body.js'
import { fromCloudEvent, isCloudEvent } from './cloudEvents.js'
import { nameGuard } from './names.js'
import { readEvent, readPerson, type IncomingEvent, type IncomingPerson } from './event.js'
import type { EventWriter, PeopleOptions, WriteOptions, Written } from './writer.js'

/** Input, sorted by what is to happen to it. */
export interface Sorted {
  good: IncomingEvent[]
  /** the lines of the good ones, in their order */
  lines: number[]
  /** good ones that were sent to try things out: they are shown, and counted nowhere */
  tests: IncomingEvent[]
  /** passed the checks, and does not fit the plan, whose policy is to set it aside */
  aside: Aside[]
  /** refused, each with its line */
  rejected: { line: number; reason: string; ahead?: IncomingEvent; content: string }[]
}

export interface TakenIn extends Written {
  setAside: number
  tests: number
}

const MOST_KEPT = 20_000

/** The one way in for events, whatever they come by: checked, held against the tracking plan, written. */
export function doorway(db: Db, writer: EventWriter) {
  const plans = planStore(db)
  const mending = mendingStore(db)
  const settings = settingsStore(db)
  const store = setAsideStore(db)
  const tests = testEventStore(db)
  const guard = nameGuard(db)
  let version = -1
  let checker: Checker
  let versionProperty = ''
  let earliestMs: number = LIMITS.earliestMs

  function refresh(): void {
    const { oldest, zone, ...said } = settings.get()
    versionProperty = said.versionProperty
    earliestMs = oldest === '1970-01-01' ? LIMITS.earliestMs : startOfDay(Temporal.PlainDate.from(oldest), zone)
    const now = definitionsVersion(db)
    if (now === version) return
    version = now
    checker = checkerOf(plans.get(), mending.get())
  }

  function asideOf(
    event: IncomingEvent,
    rule: Aside['rule'],
    why: Omit<Violation, 'rule'>,
    more: { reason: string; content: string; receivedMs: number },
  ): Aside {
    const { source } = event
    const said = own(event.properties, versionProperty)
    return {
      ...{ rule, property: why.property, event: event.event, source, checked: event, ...more },
      version: said === undefined ? null : String(said),
    }
  }

  return {
    /** Reads and judges items one by one; nothing is written. */
    sort(items: Iterable<BodyItem>, receivedMs: number): Sorted {
      refresh()
      const sorted: Sorted = { good: [], lines: [], tests: [], aside: [], rejected: [] }
      for (const item of items) {
        if ('reason' in item) {
          sorted.rejected.push({ line: item.line, reason: item.reason, content: item.text ?? '' })
          continue
        }
        const value = isCloudEvent(item.value) ? fromCloudEvent(item.value) : item.value
        const event = readEvent(value, item.content, receivedMs, earliestMs)
        if ('reason' in event) {
          sorted.rejected.push({ line: item.line, ...event, content: item.content() })
          continue
        }
        const refusal = guard.refusal(event)
        if (refusal !== null) {
          sorted.rejected.push({ line: item.line, reason: refusal, content: item.content() })
          continue
        }
        if (isTest(value)) {
          sorted.tests.push(event)
          continue
        }
        const violations = checker.active ? checker.check(event.event, event.properties) : []
        if (violations.length > 0 && checker.policyOf(event.event) === 'set aside') {
          const [first] = violations
          const reason = violations.map((each) => violationWords(each, event.event)).join('; ')
          sorted.aside.push(asideOf(event, first.rule, first, { reason, content: item.content(), receivedMs }))
        } else {
          sorted.good.push(event)
          sorted.lines.push(item.line)
        }
      }
      return sorted
    },

    /** Reads items as people's profiles; nothing is written. */
    sortPeople(items: Iterable<BodyItem>, receivedMs: number) {
      const people: IncomingPerson[] = []
      const rejected: { line: number; reason: string; content: string }[] = []
      for (const item of items) {
        const read = 'reason' in item ? item : readPerson(item.value, receivedMs)
        const reason = 'reason' in read ? read.reason : guard.profileRefusal(read)
        if (reason === null) people.push(read as IncomingPerson)
        else rejected.push({ line: item.line, reason, content: 'reason' in item ? '' : item.content() })
      }
      return { people, rejected }
    },
    writePeople: (people: readonly IncomingPerson[], options?: PeopleOptions): number =>
      writer.writePeople(people, options),

    /** Which items would be refused, and how many are known already; nothing is written. */
    judge(
      items: Iterable<BodyItem>,
      receivedMs: number,
      ofPeople: boolean,
    ): { rejected: Sorted['rejected']; known: number } {
      if (ofPeople) return { rejected: this.sortPeople(items, receivedMs).rejected, known: 0 }
      const { good, rejected } = this.sort(items, receivedMs)
      return { rejected, known: good.filter(({ id }) => writer.has(id)).length }
    },

    /** Refused items as something to be kept and looked at. */
    refusedAsides(rejected: Sorted['rejected'], receivedMs: number): Aside[] {
      return rejected.map(({ reason, ahead, content: text }) => {
        const content = text.slice(0, MOST_KEPT)
        if (ahead) return asideOf(ahead, 'clock ahead', { property: null, got: null }, { reason, content, receivedMs })
        return {
          ...{ rule: 'refused', property: null, reason, content, receivedMs },
          ...{ event: null, source: null, version: null, checked: null },
        }
      })
    },

    /**
     * Writes what was sorted, in one transaction. What is known by its id has no effect, whether it was taken in or set
     * aside; where later ones take the place of earlier ones, an event set aside is taken in by that.
     */
    write(sorted: Sorted, receivedMs: number, keepRefused: boolean, options: WriteOptions = {}): TakenIn {
      return writer.together(() => {
        const before = store.idsAmong(sorted.good.map(({ id }) => id))
        if (options.replace) for (const id of before) store.removeId(id)
        const passedOver = options.replace ? [] : sorted.good.flatMap(({ id }, at) => (before.has(id) ? [at] : []))
        const places =
          passedOver.length === 0 ? null : sorted.good.flatMap(({ id }, at) => (before.has(id) ? [] : [at]))
        const good = places === null ? sorted.good : places.map((at) => sorted.good[at]!)
        const aside = sorted.aside.filter(({ checked }) => !checked || !writer.has(checked.id))
        const setAside = store.add(aside)
        if (keepRefused) store.add(this.refusedAsides(sorted.rejected, receivedMs))
        const known = sorted.good.length - good.length + sorted.aside.length - setAside
        const tell = (written: Written): Written => ({
          ...written,
          duplicates: written.duplicates + known,
          knownAt: [...written.knownAt.map((at) => places?.[at] ?? at), ...passedOver],
        })
        const written = writer.writeEvents(good, receivedMs, {
          ...options,
          also: (each) => options.also?.(tell(each)),
        })
        tests.add(sorted.tests, receivedMs)
        return { ...tell(written), setAside, tests: sorted.tests.length }
      })
    },
  }
}
export type Doorway = ReturnType<typeof doorway>

const isTest = (value: unknown) => typeof value === 'object' && value !== null && 'test' in value && value.test === true

/** One way in which an event does not fit, in words. */
export function violationWords({ rule, property, got }: Violation, event: string): string {
  switch (rule) {
    case 'unknown event':
      return `the event “${event}” is not in the plan`
    case 'unknown property':
      return `the property “${property}” is not in the plan of “${event}”`
    case 'missing property':
      return `“${property}” is missing`
    case 'wrong type':
      return `“${property}” is of another type than planned: ${got}`
    case 'value not allowed':
      return `“${property}” may not be ${got}`
    case 'pattern not matched':
      return `“${property}” does not match its pattern: ${got}`
  }
}
