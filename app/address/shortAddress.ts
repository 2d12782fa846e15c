/** From this length on, an address is replaced by a short one: proxies take about 8 KB of all that a request's head holds. */
const LONG = 3000

/** Name of what the server tells of an address that it has read in full. */
export const WHOLE_SEARCH = 'dowser-search'

export function isLong(search: string): boolean {
  return search.length > LONG
}

const asked = new Map<string, Promise<string>>()

/** The short form of what stands after an address' `?`, kept by the server. */
export function shortSearch(search: string): Promise<string> {
  const text = search.replace(/^\?/, '')
  let short = asked.get(text)
  if (!short) {
    short = fetch('/ask/keep', { method: 'POST', body: text, headers: { 'Content-Type': 'text/plain' } })
      .then((response) => response.json() as Promise<{ id?: string; problem?: string }>)
      .then(({ id, problem }) => {
        if (id === undefined) throw new Error(problem ?? 'the address could not be shortened')
        return `?k=${id}`
      })
    short.catch(() => asked.delete(text))
    asked.set(text, short)
  }
  return short
}

/** The long form where no short one can be had just now: it works as long as nobody on the way minds. */
function shortOrWhole(search: string): Promise<string> {
  return shortSearch(search).catch(() => search)
}

/**
 * Pages go on with the whole address; what the browser shows, keeps in its history and sends is the short one. To be
 * called once, before the first page comes to life.
 */
export function keepAddressesShort(): void {
  const whole = document.querySelector<HTMLMetaElement>(`meta[name="${WHOLE_SEARCH}"]`)?.content
  if (whole) history.replaceState(history.state, '', `${location.pathname}${whole}${location.hash}`)

  // What a page asks the server for.
  const plainFetch = window.fetch.bind(window)
  window.fetch = async (input, init) => {
    const request = input instanceof Request ? input : null
    const url = new URL(request ? request.url : String(input), location.href)
    const method = init?.method ?? request?.method ?? 'GET'
    if (method !== 'GET' || url.origin !== location.origin || !isLong(url.search)) return plainFetch(input, init)
    url.search = await shortOrWhole(url.search)
    return plainFetch(request ? new Request(url, request) : url, init)
  }

  // Files, and whatever opens elsewhere: the browser itself would send the whole address.
  document.addEventListener(
    'click',
    (event) => {
      const link = (event.target as Element | null)?.closest?.('a[href]') as HTMLAnchorElement | null
      if (!link || !isLong(link.search) || link.origin !== location.origin) return
      const elsewhere = event.ctrlKey || event.metaKey || event.shiftKey || link.target === '_blank'
      if (!elsewhere && !link.hasAttribute('download')) return
      event.preventDefault()
      event.stopPropagation()
      void shortOrWhole(link.search).then((search) => {
        const address = `${link.pathname}${search}`
        if (elsewhere) window.open(address, '_blank', 'noopener')
        else location.assign(address)
      })
    },
    true,
  )
}
