import type { CatalogDetail } from '../engine/catalog.js'
import { exporter } from '../export/exporter.js'
import type { ExportFormat } from '../export/formats.js'
import type { Exportable } from '../export/tables.js'
import { roomOn } from '../ingest/room.js'
import type { Health } from '../threads.js'
import type { Inside } from './inside.js'

/** How the server is, who uses its keys, and the way out for all it holds. @param folder what exports are made in */
export function careDoor({ settings, stores, threads, ask, toWrite }: Inside, file: string, folder: string) {
  const room = roomOn(settings.dataDir, settings.freeBytes)
  const exports = exporter(file, folder)
  const keysUsed = new Map<string, number>()
  return {
    room,
    toWrite,
    status: threads.status,
    /** state of the data; a larger number than before means that answers may differ */
    version: () => threads.version,

    /** Notes that a key was used, to the minute, without making anybody wait. */
    noteKeyUse({ id, usedMs }: { id: string; usedMs: number | null }): void {
      const now = Date.now()
      const before = Math.max(usedMs ?? 0, keysUsed.get(id) ?? 0)
      if (now - before < 60_000) return
      keysUsed.set(id, now)
      void toWrite().then(
        () => stores.keys.noteUse(id, now),
        () => {},
      )
    },

    /** Whether everything stands ready, and what does not. */
    async readiness(): Promise<Health & { room: { freeBytes: number; enough: boolean } }> {
      const health = await threads.health(1000)
      const free = { freeBytes: room.leftBytes(), enough: room.enough }
      return { ...health, ready: health.ready && free.enough, room: free }
    },

    /** A table on its way out: pieces of text, or of a Parquet file, to be streamed one after another. */
    async exportTable(what: Exportable, format: ExportFormat, range: { fromMs?: number; untilMs?: number }) {
      const detail = what === 'catalog' ? await ask<CatalogDetail>({ kind: 'catalog detail' }) : null
      return exports.begin({ what, format, ...range, ...(detail ? { detail } : {}) })
    },
  }
}
