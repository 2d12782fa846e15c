import type { Traffic } from '../../demo/traffic.js'
import { OWN_FORM } from '../ingest/body.js'
import type { Inside } from './inside.js'

/** What the demo's riders do in an hour of their own, about, and how many of them take part. */
const EVENTS_AN_HOUR = 64
const RIDERS = 14_000
const KEY = 'city life'
/** Events of these names make it the demo. */
const ITS_OWN = ['Ride unlocked', 'Dock chosen']

/** Where the demo's clock is run beyond its last event, its riders go on riding. */
export function cityLife({ stores, threads }: Inside) {
  let traffic: Traffic | null = null
  let toMs = 0

  const isDemo = () => {
    const names = new Set(stores.catalog.types().map(({ name }) => name))
    return ITS_OWN.every((name) => names.has(name))
  }

  async function send(kind: 'events' | 'people', items: readonly object[]): Promise<void> {
    if (items.length === 0) return
    const body = new TextEncoder().encode(JSON.stringify(items))
    await threads.ingest.ask({ kind, body, form: OWN_FORM, receivedMs: toMs, key: KEY })
    threads.accepted()
  }

  return {
    async live(step: { fromMs: number; toMs: number }): Promise<void> {
      if (!isDemo()) return
      // The clock was set on by something else: life begins anew from there.
      if (!traffic || step.fromMs !== toMs) {
        const { Traffic: Life } = await import('../../demo/traffic.js')
        traffic = new Life(EVENTS_AN_HOUR / 3600, Math.floor(step.fromMs / 1000) % 1_000_000_007, step.fromMs, RIDERS)
      }
      toMs = step.toMs
      const events = traffic.until(toMs)
      await send('events', events)
      await send('people', traffic.profilesOf(events))
    },
  }
}
