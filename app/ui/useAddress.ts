import { useCallback, useEffect, useRef } from 'react'
import { useLocation, useNavigation, useSearchParams, type NavigateOptions } from 'react-router'

/**
 * What a page keeps in its address, and how it is changed. A change begins with what the one before it will say, also
 * while that is still on its way: the address itself follows only when the answer has come, and of two quick presses
 * neither may undo the other.
 */
export function useAddress(): [
  params: URLSearchParams,
  change: (edit: (next: URLSearchParams) => void, how?: NavigateOptions) => void,
] {
  const [params, setParams] = useSearchParams()
  const { pathname, search } = useLocation()
  const { location: coming } = useNavigation()
  const ahead = coming?.pathname === pathname ? coming.search : search
  const latest = useRef(ahead)
  useEffect(() => {
    latest.current = ahead
  }, [ahead])
  const change = useCallback(
    (edit: (next: URLSearchParams) => void, how?: NavigateOptions) => {
      const next = new URLSearchParams(latest.current)
      edit(next)
      latest.current = `?${next.toString()}`
      setParams(next, { preventScrollReset: true, ...how })
    },
    [setParams],
  )
  return [params, change]
}

/** Sets a setting of the address, or takes it out where there is nothing to say. */
export function put(params: URLSearchParams, name: string, value: string | null): void {
  if (value) params.set(name, value)
  else params.delete(name)
}
