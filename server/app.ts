import { createRequestHandler } from '@react-router/express'
import compression from 'compression'
import express, { type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import { randomBytes } from 'node:crypto'
import { RouterContextProvider } from 'react-router'
import * as build from 'virtual:react-router/server-build'
import { setDowser } from '../app/dowser.server.js'
import { apiRouter } from './api/router.js'
import { openDowser, type Dowser } from './index.js'
import { makeLogger, type Logger } from './logger.js'
import { nonceContext } from '../app/nonceContext.js'
import { readSettings } from './settings.js'
import { uploadRouter } from './upload.js'

interface Running {
  dowser: Dowser
  logger: Logger
}

// In development this module is loaded anew on every change: the open door outlives it.
const kept = globalThis as typeof globalThis & { dowserRunning?: Running }
const settings = readSettings(process.env)
kept.dowserRunning ??= { dowser: openDowser(settings), logger: makeLogger(settings.logLevel) }
const { dowser, logger } = kept.dowserRunning
setDowser(dowser)
const development = process.env.NODE_ENV !== 'production'

export const app = express()
app.disable('x-powered-by')

app.get('/healthz', async (_req, res) => {
  const { ready, loaded, events } = await dowser.status()
  res.status(ready ? 200 : 503).json({ ready, events: ready ? events : loaded })
})

app.use((req, res, next) => {
  const started = performance.now()
  res.on('finish', () => {
    const line = {
      method: req.method,
      path: req.path,
      status: res.statusCode,
      ms: Math.round(performance.now() - started),
    }
    if (res.statusCode >= 500) logger.error(line)
    else if (!req.path.startsWith('/assets/')) logger.info(line)
  })
  next()
})
app.use(checkHost)
app.use((_req, res, next) => {
  res.locals.nonce = randomBytes(16).toString('base64')
  next()
})
app.use(securityHeaders())
app.use('/api/v1', apiRouter(dowser, settings))
app.use(checkOrigin)
app.use(compression())
app.use(uploadRouter(dowser, settings))
app.use(
  createRequestHandler({
    build,
    mode: process.env.NODE_ENV,
    getLoadContext(_req, res) {
      const context = new RouterContextProvider()
      context.set(nonceContext, res.locals.nonce as string)
      return context
    },
  }),
)
app.use((error: Error, _req: Request, res: Response, next: NextFunction) => {
  logger.error({ error: error.message, stack: error.stack })
  if (res.headersSent) return next(error)
  res.status(500).json({ error: { message: 'Something went wrong on the server. What was saved before is safe.' } })
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
  const { origin, host } = req.headers
  const same = origin ? URL.canParse(origin) && new URL(origin).host === host : site === 'same-origin'
  if (same && (site === undefined || site === 'same-origin')) return next()
  res.status(403).type('text').send('Refused: the request came from another site.')
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
