import { lazy, type ComponentType, type LazyExoticComponent } from 'react'

const notYet = new Set<() => Promise<unknown>>()

/**
 * A part of a page that comes when it is first shown. The server has all of them at hand (`allDeferred`), so that what it
 * sends is whole; in the browser the part stands there as it was sent until its script has come.
 */
export function deferred<Props>(
  load: () => Promise<ComponentType<Props>>,
): LazyExoticComponent<ComponentType<Props>> & { ready: () => Promise<unknown> } {
  let found: { default: ComponentType<Props> } | null = null
  const ready = () => load().then((part) => (found = { default: part }))
  if (import.meta.env.SSR) notYet.add(ready)
  // What has come already is not waited for: React takes an answer that is given while it asks.
  const given = { then: (take: (part: unknown) => void) => take(found) } as unknown as Promise<{
    default: ComponentType<Props>
  }>
  const part = lazy(() => (found ? given : ready()))
  return Object.assign(part, { ready })
}

/** Fetches all parts there are, and those that they bring along. */
export async function allDeferred(): Promise<void> {
  while (notYet.size > 0) {
    const parts = [...notYet]
    notYet.clear()
    await Promise.all(parts.map((ready) => ready()))
  }
}
