import type { SessionFigures } from '../../core/sessions/each.js'
import { cutsOf, type CutSettings } from '../../core/sessions/settings.js'
import type { Inside } from './inside.js'

export interface SessionSettings {
  minutes: number
  cuts: CutSettings
}

/** How the workspace cuts sessions, and what another way would make of the data. */
export function sessionsDoor({ stores, ask, toWrite }: Inside) {
  const { settings } = stores
  return {
    sessions: {
      get(): SessionSettings {
        const { sessionMinutes, sessionCuts } = settings.get()
        return { minutes: sessionMinutes, cuts: sessionCuts }
      },
      /** No event is changed: whatever is asked from now on is counted by it. */
      async set({ minutes, cuts }: SessionSettings): Promise<void> {
        await toWrite()
        settings.set({ sessionMinutes: minutes, sessionCuts: cuts })
      },
      figures: ({ minutes, cuts }: SessionSettings, signal?: AbortSignal) =>
        ask<SessionFigures>({ kind: 'session figures', cuts: cutsOf(minutes, cuts) }, signal),
    },
  }
}
