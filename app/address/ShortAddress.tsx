import { useEffect } from 'react'
import { useLocation } from 'react-router'
import { isLong, shortSearch } from './shortAddress.js'

/** Shows the short form of a long address; for the page itself it stays the whole one. */
export function ShortAddress() {
  const { pathname, search, hash } = useLocation()
  useEffect(() => {
    if (!isLong(search)) return
    let gone = false
    shortSearch(search).then(
      (short) => {
        if (!gone) history.replaceState(history.state, '', `${pathname}${short}${hash}`)
      },
      // Then it stays long: it works as long as nobody on the way minds.
      () => {},
    )
    return () => {
      gone = true
    }
  }, [pathname, search, hash])
  return null
}
