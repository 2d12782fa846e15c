import { useEffect, type RefObject } from 'react'

const FOCUSABLE =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]:not([tabindex="-1"])'

/** A box that the focus was in, and the place in it, among all that can have it. */
interface Stand {
  box: Element
  at: number
}

const inside = (box: Element) => [...box.querySelectorAll<HTMLElement>(FOCUSABLE)]

/**
 * Where an edit takes away what has the focus, what has come to stand in its place gets it: a step below one that was
 * removed, the next addition after one that became a part of the question.
 */
export function useKeptFocus(page: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const main = page.current
    if (!main) return
    let last: Element | null = null
    let stands: Stand[] = []
    const onFocus = (event: FocusEvent) => {
      last = event.target as Element
      stands = []
      for (let box = last.parentElement; box && main.contains(box); box = box.parentElement)
        stands.push({ box, at: inside(box).indexOf(last as HTMLElement) })
    }
    const mend = () => {
      if (!last || last.isConnected || document.activeElement !== document.body) return
      // What is open over the page gives the focus back by itself.
      if (document.querySelector('.MuiModal-root:not(.MuiModal-hidden)')) return
      const stand = stands.find(({ box, at }) => box.isConnected && at >= 0 && inside(box).length > 0)
      if (!stand) return
      const rest = inside(stand.box)
      rest[Math.min(stand.at, rest.length - 1)]!.focus({ preventScroll: true })
    }
    const watch = new MutationObserver(mend)
    main.addEventListener('focusin', onFocus)
    watch.observe(main, { childList: true, subtree: true })
    // Menus and dialogs stand beside the page: when one goes, so may what it came from.
    watch.observe(document.body, { childList: true })
    return () => {
      main.removeEventListener('focusin', onFocus)
      watch.disconnect()
    }
  }, [page])
}
