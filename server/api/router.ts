import { localDay } from '../../core/time/rangeSchema.js'
import express, { type Request, type Response, type Router } from 'express'
import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import { faultWords, type Fault } from '../../core/questions/faults.js'
import { analysisOf, parseQuestion, type Question, type Result } from '../../core/analyses/registry.js'
import { readJson, UnreadableError } from '../../core/questions/readJson.js'
import { z } from 'zod'
import { exportFormats } from '../export/formats.js'
import { exportables } from '../export/tables.js'
import type { Dowser } from '../index.js'
import { fromHeaders } from '../ingest/cloudEvents.js'
import { makeLogger, type Logger } from '../logger.js'
import { askedBy } from '../questions/asker.js'
import type { Settings } from '../settings.js'
import type { Scope } from '../store/access.js'
import { openApiDocument } from './openapi.js'
import { outreachRoutes } from './outreach.js'
import { segmentRoutes } from './segments.js'
import { takeBackRoutes } from './takeBack.js'
import type { ApiTools } from './tools.js'
import { answerTo } from '../answers.js'
import { bearerOf } from './bearer.js'
import { rateOf } from './rates.js'
import { readRequestBody } from './requestBody.js'

/** A result with all settings of its question, the last ones too. */
function given(question: Question, result: Result): Result {
  return (analysisOf(question.kind).given?.(result, question) as Result | undefined) ?? result
}

/** The door for programs: the same questions, the same numbers. */
export function apiRouter(dowser: Dowser, settings: Settings, logger: Logger = makeLogger('silent')): Router {
  const router = express.Router()
  const events = rateOf({ name: 'events', most: settings.eventsPerSecond * RATE_SECONDS, seconds: RATE_SECONDS })
  const questions = rateOf({ name: 'questions', most: settings.questionsPerMinute, seconds: 60 })

  router.get('/openapi.json', (_req, res) => {
    res.json(openApiDocument())
  })

  // Websites send from their own address; a write key is all that counts.
  for (const path of ['/events', '/people']) router.all(path, fromAnywhere)
  router.post('/events', needs('write'), (req, res) => takeIn('events', req, res))
  router.post('/people', needs('write'), (req, res) => takeIn('people', req, res))

  router.post('/query', needs('read'), async (req, res) => {
    const definition = await jsonBody(req, settings.bodyBytes)
    if (definition === undefined) return fail(res, 400, 'The body is not JSON. Send a study’s definition.')
    const { question, faults } = parseQuestion(definition)
    if (faults.length > 0) return failWith(res, faults)
    const reply = await dowser.run(question, abortOf(req, res))
    if (reply.result === null) return failWith(res, reply.faults)
    res.setHeader('Server-Timing', `work;dur=${Math.round(reply.spentMs)}`)
    res.json({ question, asOf: new Date(reply.now).toISOString(), result: given(question, reply.result) })
  })

  router.post('/query/cost', needs('read'), async (req, res) => {
    const { question, faults } = parseQuestion(await jsonBody(req, settings.bodyBytes))
    if (faults.length > 0) return failWith(res, faults)
    const seconds = Math.round(dowser.costMs(question) / 10) / 100
    res.json({ seconds, limitSeconds: settings.questionMs / 1000 })
  })

  router.get('/studies', needs('read'), (_req, res) => {
    res.json(dowser.studies.list().map(({ id, name, description, question }) => ({ id, name, description, question })))
  })

  router.get('/studies/:id', needs('read'), async (req, res) => {
    const study = dowser.studies.get(String(req.params.id))
    const reply = await dowser.run(study.question, abortOf(req, res))
    if (reply.result === null) return failWith(res, reply.faults)
    const { id, name, description, question } = study
    res.json({
      id,
      name,
      description,
      question,
      asOf: new Date(reply.now).toISOString(),
      result: given(question, reply.result),
    })
  })

  const tools: ApiTools = {
    ...{ needs, fail, failWith, abortOf },
    jsonBody: (req: Request) => jsonBody(req, settings.bodyBytes),
  }
  segmentRoutes(router, dowser, tools)
  takeBackRoutes(router, dowser, tools)
  outreachRoutes(router, dowser, tools)

  for (const what of exportables)
    router.get(`/${what}/export`, needs('read'), async (req, res) => {
      const range = exportRange(req)
      if ('problem' in range) return fail(res, 400, range.problem)
      const format = z.enum(exportFormats).safeParse(req.query.format ?? 'jsonl')
      if (!format.success) return fail(res, 400, `“format” must be one of ${exportFormats.join(', ')}.`)
      const pieces = await dowser.exportTable(what, format.data, range)
      res.setHeader('Content-Type', EXPORT_TYPES[format.data])
      res.setHeader('Content-Disposition', `attachment; filename="${what}.${format.data}"`)
      try {
        await pipeline(Readable.from(pieces), res)
      } catch (error) {
        if (!res.destroyed) throw error // else the reader has gone: nothing to tell
      }
    })

  router.use((_req, res) => fail(res, 404, 'There is no such address in the API. GET /api/v1/openapi.json lists them.'))

  router.use((error: Error, _req: Request, res: Response, next: (error: Error) => void) => {
    const { status, message, retryAfterS } = answerTo(error)
    if (status === 500) logger.error({ error: error.message, stack: error.stack })
    // What was begun is cut off, so that nobody takes a part for the whole.
    if (res.headersSent) return next(error)
    if (status === 413) res.setHeader('Connection', 'close')
    if (retryAfterS) res.setHeader('Retry-After', String(retryAfterS))
    fail(res, status, message)
  })
  return router

  async function takeIn(kind: 'events' | 'people', req: Request, res: Response) {
    const key = res.locals.key as string
    const wait = await events.waitOf(key, res)
    if (wait !== null) return holdBack(res, wait, `This key may send ${settings.eventsPerSecond} events a second.`)
    // Taking in more than can be seen would only move the wait to whoever asks.
    if (dowser.threads.loaded && dowser.threads.behindMs > settings.behindMs)
      return holdBack(res, 5, `What was sent before is not seen yet, ${seconds(dowser.threads.behindMs)} behind.`)
    const started = performance.now()
    const { holdMs } = dowser.threads
    if (holdMs > 0) {
      res.setHeader('Server-Timing', `held;dur=${holdMs}`)
      await new Promise((resolve) => setTimeout(resolve, holdMs))
    }
    const type = (req.headers['content-type'] ?? '').toLowerCase()
    const body = await readRequestBody(req, settings.bodyBytes)
    if (body.length === 0 && req.headers['ce-specversion'] === undefined)
      return fail(res, 400, `The body is empty. Send ${kind} as JSON, an array, or JSON Lines.`)
    const event = kind === 'events' ? fromHeaders(req.headers, body) : null
    const form = {
      lines: /ndjson|jsonl|json-lines|jsonlines/.test(type),
      gzip: /gzip/.test(String(req.headers['content-encoding'] ?? '')) || /gzip/.test(type),
      limit: settings.bodyBytes * 4,
    }
    const reply = event
      ? await dowser.ingest(kind, Buffer.from(JSON.stringify(event)), { ...form, lines: false, gzip: false }, key)
      : await dowser.ingest(kind, body, form, key)
    await events.count(
      key,
      reply.accepted + reply.duplicates + reply.setAside + reply.tests + reply.rejected.length,
      res,
    )
    if (kind === 'events') dowser.counters.batch(reply, performance.now() - started)
    // Nothing taken and nothing known: the sender has to look at its data.
    const status =
      reply.accepted + reply.duplicates + reply.setAside + reply.tests === 0 && reply.rejected.length > 0 ? 422 : 200
    res.status(status).json(reply)
  }

  function needs(scope: Scope) {
    return async (req: Request, res: Response, next: () => void) => {
      const key = bearerOf(req)
      if (!key) {
        res.setHeader('WWW-Authenticate', 'Bearer')
        return fail(
          res,
          401,
          'A key is needed: send the header “Authorization: Bearer …”. Keys are made on the page “Keys”.',
        )
      }
      const found = dowser.keys.check(key)
      if (!found) return fail(res, 401, 'This key is not known, or it has been revoked.')
      if (found.scope !== scope)
        return fail(res, 403, `This key may only ${found.scope}; a ${scope} key is needed here.`)
      dowser.noteKeyUse(found)
      res.locals.key = found.id
      if (scope !== 'write') {
        const wait = await questions.waitOf(found.id, res)
        if (wait !== null) return holdBack(res, wait, `This key may ask ${settings.questionsPerMinute} times a minute.`)
        await questions.count(found.id, 1, res)
      }
      askedBy(found.id, next)
    }
  }
}

/** Events are counted over so many seconds, so that one large batch does not use up a key's second. */
const RATE_SECONDS = 10

function holdBack(res: Response, waitS: number, why: string): void {
  res.setHeader('Retry-After', String(waitS))
  fail(res, 429, `${why} Nothing of this was taken: send it again in ${waitS} s.`)
}

function seconds(ms: number): string {
  return `${Math.round(ms / 1000)} s`
}

const EXPORT_TYPES = {
  csv: 'text/csv; charset=utf-8',
  jsonl: 'application/x-ndjson; charset=utf-8',
  parquet: 'application/vnd.apache.parquet',
} as const

/** A web page of any site may send to here, and read no more than what became of it. */
function fromAnywhere(req: Request, res: Response, next: () => void): void {
  res.setHeader('Access-Control-Allow-Origin', '*')
  res.setHeader('Cross-Origin-Resource-Policy', 'cross-origin')
  if (req.method !== 'OPTIONS') return next()
  res.setHeader('Access-Control-Allow-Methods', 'POST')
  res.setHeader('Access-Control-Allow-Headers', 'Authorization, Content-Type, Content-Encoding')
  res.setHeader('Access-Control-Max-Age', '86400')
  res.status(204).end()
}

function fail(res: Response, status: number, message: string): void {
  res.status(status).json({ error: { message } })
}

function failWith(res: Response, faults: readonly Fault[]): void {
  res.status(422).json({
    error: {
      message: faults.map(faultWords).join(' '),
      faults: faults.map((fault) => ({ ...fault, message: faultWords(fault) })),
    },
  })
}

/** undefined = it is not JSON */
async function jsonBody(req: Request, limit: number): Promise<unknown> {
  const text = (await readRequestBody(req, limit)).toString('utf8')
  try {
    return readJson(text)
  } catch (error) {
    if (error instanceof UnreadableError && !/nested/.test(error.message)) return undefined
    throw error
  }
}

function exportRange(req: Request): { fromMs?: number; untilMs?: number } | { problem: string } {
  const range: { fromMs?: number; untilMs?: number } = {}
  for (const [name, key] of [
    ['from', 'fromMs'],
    ['until', 'untilMs'],
  ] as const) {
    const text = req.query[name]
    if (text === undefined) continue
    const ms = localDay.safeParse(text).success || /T/.test(String(text)) ? Date.parse(String(text)) : NaN
    if (Number.isNaN(ms))
      return { problem: `“${name}” must be a day as 2026-10-08 (UTC) or a moment as 2026-10-08T07:12:03Z.` }
    range[key] = ms
  }
  return range
}

function abortOf(_req: Request, res: Response): AbortSignal {
  const controller = new AbortController()
  res.on('close', () => {
    if (!res.writableFinished) controller.abort()
  })
  return controller.signal
}
