import { AsyncLocalStorage } from 'node:async_hooks'

/**
 * On whose behalf something is asked: a key of the API, or a browser. Known at the door, and needed where questions wait
 * for their turn, with every page in between: so it goes along by itself.
 */
const current = new AsyncLocalStorage<string>()

export const askedBy = <T>(asker: string, work: () => T): T => current.run(asker, work)

/** Whoever is asked for; what the server asks for by itself is one asker. */
export const asker = (): string => current.getStore() ?? 'the server'
