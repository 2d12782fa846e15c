/**
 * The script for websites: no dependencies, served by the server itself as /dowser.js.
 *
 *   <script async src="https://your-dowser/dowser.js" data-key="WRITE_KEY"></script>
 *   dowser.track('Pass bought', { plan: 'Monthly', price: 29 })
 *   dowser.identify('rider-1', { plan: 'Monthly' })
 *
 * Page views and sessions are sent by themselves (data-pages="off" leaves them out). What cannot be sent is kept in the
 * browser and sent again later, with the same ids, so that nothing counts twice.
 */
type Value = string | number | boolean | string[]
type Properties = Record<string, Value | null | undefined>

interface Sent {
  id: string
  person?: string
  anonymous: string
  event: string
  time: number
  source: string
  properties: Properties
}

const BATCH = 50
const MOST_KEPT = 1000
const FLUSH_MS = 2000
const SESSION_MS = 30 * 60_000
const TAGS = ['utm_source', 'utm_medium', 'utm_campaign', 'utm_term', 'utm_content']

export interface Settings {
  /** where the server is, without a slash at the end */
  address: string
  key: string
  /** what the events say they come from */
  source: string
  pages: boolean
}

/** The few things of the browser that the script needs, so that it can be tried without one. */
export interface Surroundings {
  now(): number
  newId(): string
  load(key: string): string | null
  save(key: string, value: string): void
  forget(key: string): void
  send(address: string, body: string, key: string, leaving: boolean): Promise<number>
  later(work: () => void, ms: number): void
  page(): { url: string; title: string; referrer: string }
}

export function createSender(settings: Settings, around: Surroundings) {
  const read = <T>(key: string, otherwise: T): T => {
    try {
      return JSON.parse(around.load(`dowser.${key}`) ?? '') as T
    } catch {
      return otherwise
    }
  }
  const write = (key: string, value: unknown) => around.save(`dowser.${key}`, JSON.stringify(value))

  let queue = read<Sent[]>('queue', [])
  let sending = false
  let waiting = false
  let failures = 0

  const anonymous = (): string => {
    let id = read<string | null>('anonymous', null)
    if (!id) write('anonymous', (id = around.newId()))
    return id
  }
  const out = () => read('optedOut', false)

  /** The campaign tags that led here: of the page's address, else those the session began with. */
  function tags(): Properties {
    const query = /\?([^#]*)/.exec(around.page().url)?.[1] ?? ''
    const found = query.split('&').flatMap((pair): [string, string][] => {
      const [name, value = ''] = pair.split('=')
      return name && TAGS.includes(name) && value ? [[name, decode(value)]] : []
    })
    return found.length > 0 ? Object.fromEntries(found) : (read<{ tags?: Properties }>('session', {}).tags ?? {})
  }

  /** A new session begins with the first event after half an hour of nothing. */
  function touchSession(): void {
    const now = around.now()
    const session = read<{ lastMs?: number; tags?: Properties }>('session', {})
    const fresh = session.lastMs === undefined || now - session.lastMs > SESSION_MS
    if (!fresh) return write('session', { ...session, lastMs: now })
    write('session', { lastMs: now, tags: {} })
    const from = tags()
    write('session', { lastMs: now, tags: from })
    const { referrer, url } = around.page()
    if (settings.pages) put('Session started', { page: pathOf(url), ...(referrer ? { referrer } : {}), ...from })
  }

  function put(event: string, properties: Properties): void {
    const person = read<string | null>('person', null)
    queue.push({
      ...{ id: around.newId(), anonymous: anonymous(), event, time: around.now(), source: settings.source, properties },
      ...(person ? { person } : {}),
    })
    // The oldest go first when a browser was without network for long.
    if (queue.length > MOST_KEPT) queue = queue.slice(-MOST_KEPT)
    write('queue', queue)
    if (queue.length >= BATCH) void flush()
    else flushSoon(FLUSH_MS)
  }

  function flushSoon(ms: number): void {
    if (waiting) return
    waiting = true
    around.later(() => {
      waiting = false
      void flush()
    }, ms)
  }

  /** Sends what waits. @param leaving the page is closing: the browser finishes the request by itself */
  async function flush(leaving = false): Promise<void> {
    if (sending || queue.length === 0) return
    sending = true
    const batch = queue.slice(0, BATCH)
    let status = 0
    try {
      status = await around.send(`${settings.address}/api/v1/events`, JSON.stringify(batch), settings.key, leaving)
    } catch {
      status = 0
    }
    sending = false
    // What the server refuses for good would be refused again: only what may succeed later is kept.
    const again = status === 0 || status === 429 || status >= 500
    if (again) {
      failures++
      flushSoon(Math.min(60_000, 1000 * 2 ** Math.min(6, failures)))
      return
    }
    failures = 0
    const done = new Set(batch.map(({ id }) => id))
    queue = queue.filter(({ id }) => !done.has(id))
    write('queue', queue)
    if (queue.length > 0) await flush(leaving)
  }

  return {
    /** Sends an event. Values are texts, numbers, yes/no, or lists of texts. */
    track(event: string, properties: Properties = {}): void {
      if (out() || !event) return
      touchSession()
      put(event, properties)
    },
    /** Sends that a page was seen; the script does so by itself unless pages are off. */
    page(properties: Properties = {}): void {
      if (out()) return
      touchSession()
      const { url, title, referrer } = around.page()
      put('Page viewed', { page: pathOf(url), title, ...(referrer ? { referrer } : {}), ...tags(), ...properties })
    },
    /** Says who it is: from now on, and for what the browser did before. */
    identify(person: string, profile?: Properties): void {
      if (out() || !person) return
      write('person', person)
      this.track('Identified')
      if (profile) {
        const body = JSON.stringify({ person, properties: profile })
        void around.send(`${settings.address}/api/v1/people`, body, settings.key, false).catch(() => 0)
      }
    },
    /** Forgets who it is, at a sign-out: what follows is somebody new. */
    reset(): void {
      for (const key of ['person', 'anonymous', 'session']) around.forget(`dowser.${key}`)
    },
    /** Sends nothing more from this browser, and forgets what was kept in it. */
    optOut(): void {
      this.reset()
      queue = []
      around.forget('dowser.queue')
      write('optedOut', true)
    },
    optIn(): void {
      around.forget('dowser.optedOut')
    },
    flush,
    /** the id this browser goes by, to look for it on the Live page */
    anonymousId: anonymous,
  }
}

function pathOf(url: string): string {
  return /^[a-z]+:\/\/[^/?#]*([^?#]*)/i.exec(url)?.[1] || '/'
}

function decode(text: string): string {
  try {
    return decodeURIComponent(text.replace(/\+/g, ' '))
  } catch {
    return text
  }
}
