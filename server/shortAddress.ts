import express, { type NextFunction, type Request, type Response, type Router } from 'express'
import type { Dowser } from './index.js'

/** Under this name an address says where the rest of it is kept. */
const KEPT = 'k'
const UNKNOWN = '/an-address-that-is-not-kept-here'
/** Five hundred marks with long names are about a quarter of this. */
const MOST_KEPT = '400kb'

/**
 * Long selections and questions: `POST /ask/keep` takes what stands after an address' `?` and gives a short id, and
 * `?k=<id>` is then the same address. Proxies and servers take only so long a head; the long form goes on working where it
 * fits.
 */
export function shortAddressRouter(dowser: Dowser): Router {
  const router = express.Router()
  router.post('/ask/keep', express.text({ type: () => true, limit: MOST_KEPT }), (req, res, next) => {
    dowser
      .toWrite()
      .then(() => {
        const text = typeof req.body === 'string' ? req.body : ''
        if (text === '') return void res.status(400).json({ problem: 'There is nothing to keep.' })
        res.json({ id: dowser.keptAddresses.keep(text, Date.now()) })
      })
      .catch(next)
  })
  router.use((req: Request, _res: Response, next: NextFunction) => {
    const at = req.url.indexOf('?')
    const asked = new URLSearchParams(at < 0 ? '' : req.url.slice(at + 1))
    const id = asked.get(KEPT)
    if (id === null || (req.method !== 'GET' && req.method !== 'HEAD')) return next()
    const text = dowser.keptAddresses.get(id)
    // Shortened in another workspace, or mistyped: no page stands there.
    if (text === null) return goOn(req, UNKNOWN, next)
    asked.delete(KEPT)
    const whole = new URLSearchParams(text)
    for (const [name, value] of asked) whole.append(name, value)
    goOn(req, `${req.url.slice(0, at)}?${whole.toString()}`, next)
  })
  return router
}

/** As if the request had been for another address; what makes a page of it reads the original one. */
function goOn(req: Request, address: string, next: NextFunction): void {
  req.url = address
  req.originalUrl = address
  next()
}
