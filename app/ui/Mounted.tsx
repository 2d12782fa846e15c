import { useSyncExternalStore, type ReactNode } from 'react'

/** Shows its children only in the browser, for what cannot be drawn on the server; the box around keeps the place. */
export function Mounted({ children }: { children: ReactNode }) {
  const mounted = useSyncExternalStore(
    () => () => {},
    () => true,
    () => false,
  )
  return mounted ? children : null
}
