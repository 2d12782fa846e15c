import { newId } from '../ids.js'
import type { Brought, TakeLook } from '../ingest/takeBack.js'
import type { TakeChoice } from '../ingest/takeChoice.js'
import { KEPT_MS, type Taken } from '../store/taken.js'
import type { Inside } from './inside.js'
import { usesOfEvent } from './uses.js'

/** What would be taken back, and what is asked about it. */
export interface TakeView extends TakeLook {
  /** saved studies that ask about these events */
  studies: { id: string; name: string }[]
}

/** What was taken back, with until when it can be brought back. */
export interface TakenView extends Taken {
  untilMs: number
  /** the file's or the key's name, where that is what was chosen */
  name: string | null
}

/** What came in is taken back, and brought back again. */
export function takeBackDoor({ stores, ask, threads, known }: Inside) {
  const { events, taken } = stores

  /** The arrival numbers of what only the engine finds quickly; null where the file itself knows. */
  async function seqsOf(choice: TakeChoice): Promise<number[] | null> {
    if (choice.of === 'event') return ask<number[]>({ kind: 'all of event', event: choice.name })
    if (choice.of !== 'person') return null
    const found = events.findId(choice.space, choice.id)
    return found ? ask<number[]>({ kind: 'all of person', person: found.person }) : []
  }

  function viewOf(each: Taken): TakenView {
    const { choice } = each
    const name =
      choice.of === 'import'
        ? stores.imports.fileOf(choice.id)
        : choice.of === 'key'
          ? stores.keys.nameOf(choice.id)
          : null
    return { ...each, untilMs: each.takenMs + KEPT_MS, name }
  }

  return {
    takeBack: {
      /** What would be taken back; nothing is changed. */
      async look(choice: TakeChoice): Promise<TakeView> {
        await known()
        const seqs = await seqsOf(choice)
        const look = await threads.ingest.ask<TakeLook>({ kind: 'look at taking back', choice, seqs })
        const studies = new Map<string, string>()
        const definitions = { studies: stores.studies, dashboards: stores.dashboards, mending: stores.mending.get() }
        for (const { event } of look.byEvent)
          for (const { id, name } of usesOfEvent(event, definitions).studies) studies.set(id, name)
        return { ...look, studies: [...studies].map(([id, name]) => ({ id, name })) }
      },
      /** @returns what was taken back; null where there was nothing */
      async take(choice: TakeChoice): Promise<(TakeLook & { id: string }) | null> {
        await known()
        const seqs = await seqsOf(choice)
        const id = newId()
        const request = { kind: 'take back' as const, id, choice, seqs, nowMs: Date.now() }
        const look = await threads.ingest.ask<TakeLook>(request)
        await known()
        return look.events === 0 && look.profileValues === 0 ? null : { ...look, id }
      },
      /** @throws NotFoundError where it was never taken, is back already, or was taken too long ago */
      async bring(id: string): Promise<Brought> {
        const brought = await threads.ingest.ask<Brought>({ kind: 'bring back', id, nowMs: Date.now() })
        await known()
        return brought
      },
      /** What is over is cleared away now and then: until then it is not listed either. */
      list: (): TakenView[] =>
        taken
          .list()
          .map(viewOf)
          .filter(({ untilMs }) => untilMs > Date.now()),
      /** what an import brought and was taken back, and can still be brought back */
      ofImport(id: string): TakenView | null {
        const found = taken
          .list()
          .find(({ choice, broughtMs }) => choice.of === 'import' && choice.id === id && broughtMs === null)
        return found ? viewOf(found) : null
      },
    },
  }
}
