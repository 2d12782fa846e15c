import express, { type Request, type Response, type Router } from 'express'
import { createWriteStream, unlinkSync } from 'node:fs'
import path from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { z } from 'zod'
import { importPlanSchema, planProblems } from './ingest/importPlan.js'
import type { Dowser } from './index.js'
import { newId } from './ids.js'
import type { Room } from './ingest/room.js'
import type { Settings } from './settings.js'
import { readRequestBody, TooLargeError } from './api/requestBody.js'

const PREVIEW_BYTES = 2_097_152

const tableStart = z.object({ header: z.array(z.string()), rows: z.array(z.array(z.unknown())).max(200) })

/** Files from the page "Bring in a file": their first piece to look at, then the whole, streamed to disk. */
export function uploadRouter(dowser: Dowser, settings: Settings): Router {
  const router = express.Router()

  router.post('/import/preview', async (req, res) => {
    const bytes = await readRequestBody(req, PREVIEW_BYTES)
    // Of a Parquet file the page reads the columns itself: they stand at the file's end.
    const table = req.query.of === 'table' ? tableStart.safeParse(parseJson(Buffer.from(bytes).toString('utf8'))) : null
    if (table && !table.success) return void res.json({ problem: 'The first rows of the file could not be read.' })
    res.json(table ? await dowser.previewTable(table.data) : await dowser.preview(bytes))
  })

  router.put('/import/upload', async (req: Request, res: Response) => {
    const plan = importPlanSchema.safeParse(parseJson(String(req.query.plan ?? '')))
    if (!plan.success) return void res.status(400).json({ problem: 'How the file is to be read was not understood.' })
    const problems = planProblems(plan.data)
    if (problems.length > 0) return void res.status(400).json({ problem: problems.join(' ') })
    const file = path.join(dowser.uploads, newId())
    dowser.room.needed(Number(req.headers['content-length'] ?? 0))
    try {
      const bytes = await store(req, file, settings.uploadBytes, dowser.room)
      const name = String(req.query.name ?? 'file').slice(0, 200)
      await dowser.toWrite()
      res.json({ id: dowser.startImport({ file: name, path: file, bytes, plan: plan.data }, true) })
    } catch (error) {
      removeQuietly(file)
      if (isGone(req, error)) return // the page was closed: there is nobody to tell
      throw error
    }
  })
  router.post('/segments/look', async (req, res) => {
    res.json(await dowser.segments.lookAtList(await readRequestBody(req, PREVIEW_BYTES)))
  })

  router.put('/segments/upload', async (req: Request, res: Response) => {
    const said = listSchema.safeParse(req.query)
    if (!said.success) return void res.status(400).json({ problem: 'Give the list a name.' })
    const { name, description, tags, file: original, column } = said.data
    const file = path.join(dowser.uploads, newId())
    dowser.room.needed(Number(req.headers['content-length'] ?? 0))
    try {
      await store(req, file, settings.uploadBytes, dowser.room)
      const segment = { name, description, tags: tagsSchema.catch([]).parse(parseJson(tags)) }
      res.json(await dowser.segments.readList(segment, original, file, column, Date.now()))
    } catch (error) {
      removeQuietly(file)
      if (isGone(req, error)) return // the page was closed: there is nobody to tell
      throw error
    }
  })
  return router
}

const listSchema = z.object({
  name: z.string().trim().min(1).max(120),
  description: z.string().max(2000).default(''),
  tags: z.string().default('[]'),
  file: z.string().max(200).default('a file'),
  column: z.coerce.number().int().min(0).max(1000).nullable().catch(null),
})
const tagsSchema = z.array(z.string().trim().min(1).max(40)).max(20)

/** @throws TooLargeError, NoRoomError; whoever calls takes away what was written */
async function store(req: Request, file: string, limit: number, room: Room): Promise<number> {
  let bytes = 0
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length
      if (bytes > limit) return done(new TooLargeError(limit))
      try {
        room.needed()
        done(null, chunk)
      } catch (error) {
        done(error as Error)
      }
    },
  })
  await pipeline(req, count, createWriteStream(file, { flags: 'wx' }))
  return bytes
}

function removeQuietly(file: string): void {
  try {
    unlinkSync(file)
  } catch {
    // It was never made.
  }
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    return null
  }
}

/** Whoever sent it has gone away in the middle, and it was not us who ended it. */
function isGone(req: Request, error: unknown): boolean {
  return req.destroyed && !req.complete && (error as { status?: number }).status === undefined
}
