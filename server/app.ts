import { createRequestHandler } from '@react-router/express'
import compression from 'compression'
import express, { type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import { randomBytes } from 'node:crypto'
import { RouterContextProvider } from 'react-router'
import * as build from 'virtual:react-router/server-build'
import { setDowser } from '../app/door/dowser.server.js'
import { nonceContext } from '../app/page/nonceContext.js'
import { answerTo } from './answers.js'
import { apiRouter } from './api/router.js'
import { newId } from './ids.js'
import { openDowser, type Dowser } from './index.js'
import { shortAddressRouter } from './shortAddress.js'
import { takeLeftOver } from './leftOver.js'
import { makeLogger, type Logger } from './logger.js'
import { answeringPages } from './pages.js'
import { askedBy } from './questions/asker.js'
import { readSettings } from './settings.js'
import { uploadRouter } from './upload.js'
import { watchRouter } from './watch/router.js'

interface Running {
  dowser: Dowser
  logger: Logger
}

// In development this module is loaded anew on every change: the open door outlives it.
const kept = globalThis as typeof globalThis & { dowserRunning?: Running }
const settings = readSettings(process.env)
kept.dowserRunning ??= open()
const { dowser, logger } = kept.dowserRunning
setDowser(dowser)
const development = process.env.NODE_ENV !== 'production'

function open(): Running {
  const logger = makeLogger(settings.logLevel)
  // A promise that nobody waited for is a fault to be found, and no reason to stop serving everybody else.
  process.on('unhandledRejection', (reason) => {
    const { message = String(reason), stack } = reason as Partial<Error>
    logger.error({ error: message, stack }, 'nobody waited for this')
  })
  return { dowser: openDowser(settings, logger), logger }
}

export const app = express()
app.disable('x-powered-by')
if (settings.trustedProxies.length > 0) app.set('trust proxy', settings.trustedProxies)

app.use((req, res, next) => {
  const started = performance.now()
  // Pages hold people and what they did: no copy is kept on the way. Files that never change say otherwise themselves.
  res.setHeader('Cache-Control', 'no-store')
  res.on('finish', () => {
    const line = {
      method: req.method,
      path: req.path,
      status: res.statusCode,
      ms: Math.round(performance.now() - started),
    }
    dowser.counters.answered(req.path, res.statusCode, line.ms)
    if (res.statusCode >= 500) logger.error(line)
    else if (!req.path.startsWith('/assets/')) logger.info(line)
  })
  next()
})
app.use(takeLeftOver)
app.use(checkHost)
app.use((_req, res, next) => {
  res.locals.nonce = randomBytes(16).toString('base64')
  next()
})
app.use(securityHeaders())
app.use(watchRouter(dowser, settings))
app.use('/api/v1', apiRouter(dowser, settings, logger))
app.use(checkOrigin)
app.use(compression())
app.use(askedByBrowser)
app.use(shortAddressRouter(dowser))
app.use(uploadRouter(dowser, settings))
app.use(
  createRequestHandler({
    build: answeringPages(build, logger, dowser.toWrite),
    mode: process.env.NODE_ENV,
    getLoadContext(_req, res) {
      const context = new RouterContextProvider()
      context.set(nonceContext, res.locals.nonce as string)
      return context
    },
  }),
)
app.use((error: Error, _req: Request, res: Response, next: NextFunction) => {
  const { status, message, retryAfterS } = answerTo(error)
  if (status >= 500) logger.error({ error: error.message, stack: error.stack })
  if (res.headersSent) return next(error)
  if (status === 413 || status === 507) res.setHeader('Connection', 'close')
  if (retryAfterS) res.setHeader('Retry-After', String(retryAfterS))
  res.status(status).json({ problem: message, error: { message } })
})

/** Stops taking requests is the server's part; this ends the rest after what was acknowledged is on disk. */
export async function close(): Promise<void> {
  await dowser.close()
  logger.info('stopped')
}

/** A foreign name that somebody points at this machine must not reach the data (DNS rebinding). */
function checkHost(req: Request, res: Response, next: NextFunction): void {
  const host = (req.headers.host ?? '').replace(/:\d+$/, '').toLowerCase()
  const own = ['localhost', '127.0.0.1', '[::1]', settings.host.toLowerCase(), ...settings.allowedHosts]
  if (own.includes(host)) return next()
  res
    .status(421)
    .type('text')
    .send('This server does not answer to that name. Set DOWSER_ALLOWED_HOSTS to the names it may be reached by.')
}

/** Changes may only come from pages of this server. The API is outside: its keys are not sent by a browser by itself. */
function checkOrigin(req: Request, res: Response, next: NextFunction): void {
  if (req.method === 'GET' || req.method === 'HEAD') return next()
  const site = req.headers['sec-fetch-site']
  const { origin } = req.headers
  const same = origin ? isOwnOrigin(origin, req) : site === 'same-origin'
  if (!same || (site !== undefined && site !== 'same-origin'))
    return void res.status(403).type('text').send('Refused: the request came from another site.')
  // Looked at once is enough: who answers further in knows nothing of the proxy before, and would refuse what is right.
  delete req.headers.origin
  next()
}

/** Behind a proxy people's addresses begin with https, and what arrives here does not. */
function isOwnOrigin(origin: string, req: Request): boolean {
  if (!URL.canParse(origin)) return false
  const said = new URL(origin)
  return said.origin === settings.publicOrigin || said.host === req.headers.host
}

const ASKER = 'dowser_asker'

/** Questions of one browser wait for each other, not those of everybody: it is told apart by a cookie that says nothing else. */
function askedByBrowser(req: Request, res: Response, next: NextFunction): void {
  const known = new RegExp(`(?:^|; )${ASKER}=([\\w-]{8,40})`).exec(req.headers.cookie ?? '')?.[1]
  const id = known ?? newId()
  if (!known) res.cookie(ASKER, id, { httpOnly: true, sameSite: 'lax', secure: req.secure })
  askedBy(id, next)
}

function securityHeaders() {
  const self = "'self'"
  const nonce = (_req: unknown, res: unknown) => `'nonce-${(res as Response).locals.nonce as string}'`
  return helmet({
    strictTransportSecurity: false,
    referrerPolicy: { policy: 'same-origin' },
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: [self],
        baseUri: [self],
        objectSrc: ["'none'"],
        frameAncestors: ["'none'"],
        formAction: [self],
        scriptSrc: [self, nonce],
        styleSrc: [self, nonce],
        styleSrcAttr: ["'unsafe-inline'"],
        imgSrc: [self, 'data:', 'blob:'],
        fontSrc: development ? [self, 'data:'] : [self],
        workerSrc: [self],
        connectSrc: development ? [self, 'ws:'] : [self],
      },
    },
  })
}
