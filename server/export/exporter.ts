import { createReadStream, rmSync } from 'node:fs'
import path from 'node:path'
import { newId } from '../ids.js'
import { Calls, CallError } from '../pool/calls.js'
import { startWorker } from '../pool/startWorker.js'
import type { ExportOrder, ExportRequest } from './export.worker.js'

/** More at once would only be slower each, and take the cores from everybody else. */
const MOST_AT_ONCE = 3

/** Takes tables out of a workspace. @param folder for files that are written whole before they are sent */
export function exporter(file: string, folder: string) {
  let running = 0
  /** One that is done waits for the next order: a thread for each would cost the memory allocator more than it gives back. */
  let resting: Calls<ExportRequest> | null = null

  function thread(): Calls<ExportRequest> {
    const before = resting
    resting = null
    before?.worker.ref()
    if (before) return before
    const started: Calls<ExportRequest> = new Calls(
      startWorker('export', { file }),
      () => {},
      () => {
        if (resting === started) resting = null
      },
    )
    return started
  }

  /** Lets go of what was read, also where only a part was taken. What is still busy, or broke, is ended. */
  async function rest(used: Calls<ExportRequest>): Promise<void> {
    const idle =
      used.pending === 0 &&
      (await used.ask({ kind: 'end' }).then(
        () => true,
        () => false,
      ))
    if (!idle || resting) return void (await used.worker.terminate())
    resting = used
    // A server that stops does not wait for it.
    used.worker.unref()
  }

  /**
   * Everything of a kind, in a format. JSON Lines of events are in the form they can be sent in again.
   * @throws CallError 429 where as many are being taken out as can be; whatever stops it, so that nobody takes a part for the whole
   */
  async function* pieces(order: ExportOrder): AsyncGenerator<string | Buffer> {
    if (running >= MOST_AT_ONCE)
      throw new CallError(`${MOST_AT_ONCE} files are being written already. Ask again when one is done.`, {
        status: 429,
        retryAfterS: 20,
      })
    running++
    const writer = thread()
    const filename = path.join(folder, `${newId()}${EXPORT_SUFFIX}`)
    try {
      await writer.ask({ kind: 'begin', order })
      if (order.format === 'parquet') {
        await writer.ask({ kind: 'write', filename })
        yield* createReadStream(filename) as AsyncIterable<Buffer>
        return
      }
      for (;;) {
        const piece = await writer.ask<string | null>({ kind: 'next' })
        if (piece === null) return
        yield piece
      }
    } finally {
      running--
      await rest(writer)
      rmSync(filename, { force: true })
    }
  }

  return {
    /** A table on its way out; its first piece is there already, so that what goes wrong at its start can still be told. */
    async begin(order: ExportOrder): Promise<AsyncGenerator<string | Buffer>> {
      const all = pieces(order)
      const first = await all.next()
      return (async function* () {
        try {
          if (first.done) return
          yield first.value
          yield* all
        } finally {
          // Also where the reader went away after the first piece.
          await all.return(undefined)
        }
      })()
    },
  }
}

/** By this a file that a killed process left behind is known. */
export const EXPORT_SUFFIX = '.export'
