import { createSender } from './dowser.js'

/** What the script does when a page loads it: reads its settings from its own tag, and begins. */
const tag = document.currentScript as HTMLScriptElement | null
const key = tag?.dataset.key ?? ''
const address = (tag?.dataset.address ?? (tag ? new URL(tag.src).origin : location.origin)).replace(/\/$/, '')
const memory = new Map<string, string>()

const dowser = createSender(
  { address, key, source: tag?.dataset.source ?? 'website', pages: tag?.dataset.pages !== 'off' },
  {
    now: () => Date.now(),
    newId: () => crypto.randomUUID?.() ?? `${Date.now().toString(36)}-${Math.random().toString(36).slice(2)}`,
    // Where storage is forbidden, the page's own memory must do.
    load: (name) => {
      try {
        return localStorage.getItem(name)
      } catch {
        return memory.get(name) ?? null
      }
    },
    save: (name, value) => {
      try {
        localStorage.setItem(name, value)
      } catch {
        memory.set(name, value)
      }
    },
    forget: (name) => {
      memory.delete(name)
      try {
        localStorage.removeItem(name)
      } catch {
        // There was nothing to forget.
      }
    },
    async send(to, body, writeKey, leaving) {
      const response = await fetch(to, {
        method: 'POST',
        headers: { Authorization: `Bearer ${writeKey}`, 'Content-Type': 'application/json' },
        body,
        keepalive: leaving,
        credentials: 'omit',
      })
      return response.status
    },
    later: (work, ms) => void setTimeout(work, ms),
    page: () => ({ url: location.href, title: document.title, referrer: document.referrer }),
  },
)
;(window as unknown as { dowser: typeof dowser }).dowser = dowser

if (tag?.dataset.pages !== 'off') {
  let last = ''
  const seen = () => {
    // A page that changes its address without loading anew is seen again.
    if (location.pathname === last) return
    last = location.pathname
    dowser.page()
  }
  seen()
  const push = history.pushState.bind(history)
  history.pushState = (...args) => {
    push(...args)
    seen()
  }
  addEventListener('popstate', seen)
}
addEventListener('pagehide', () => void dowser.flush(true))
addEventListener('online', () => void dowser.flush())
