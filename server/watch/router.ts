import express, { type Request, type Router } from 'express'
import type { EngineStatus } from '../engine/engine.worker.js'
import type { Dowser } from '../index.js'
import type { Settings } from '../settings.js'
import { bearerOf } from '../api/bearer.js'

/** For whoever watches the server: whether it lives, whether it is ready, and how it does. */
export function watchRouter(dowser: Dowser, settings: Settings): Router {
  const router = express.Router()

  // Nothing of what it holds is told, and nothing else is asked: it lives as long as this answers.
  router.get('/healthz', (_req, res) => {
    res.json({ alive: true })
  })

  router.get('/readyz', async (_req, res) => {
    const { ready, threads, loading, behindMs, room } = await dowser.readiness()
    const late = behindMs > settings.behindMs
    res.status(ready ? 200 : 503).json({
      ...{ ready, loading, behindSeconds: Math.round(behindMs / 100) / 10, behind: late },
      threads: threads.map(({ thread, up, restarts, reason }) => ({
        thread,
        up,
        restarts,
        lastStop: firstLine(reason),
      })),
      disk: { freeBytes: room.freeBytes, enough: room.enough },
    })
  })

  router.get('/metrics', async (req, res) => {
    if (!mayWatch(req)) {
      res.setHeader('WWW-Authenticate', 'Bearer')
      return void res
        .status(401)
        .json({ error: { message: 'A read key is needed here, or to ask from this machine.' } })
    }
    await measure()
    res.setHeader('Content-Type', dowser.counters.registry.contentType)
    res.send(await dowser.counters.registry.metrics())
  })

  // For trying out what happens: see tests/attack.
  if (settings.attackable) {
    router.post('/attack/kill/:thread', (req, res) => {
      dowser.threads.kill(String(req.params.thread))
      res.json({ killed: req.params.thread })
    })
    router.get('/attack/held', async (req, res) => {
      if (req.query.forget) dowser.threads.engine.tell({ kind: 'forget held' })
      const { engine } = await dowser.threads.health(5000)
      res.json(engine?.held ?? null)
    })
  }
  return router

  /** From this machine, and not handed on by a proxy; or with a key. */
  function mayWatch(req: Request): boolean {
    const local = /^(::ffff:)?127\.|^::1$/.test(req.socket.remoteAddress ?? '')
    if (local && !req.headers['x-forwarded-for'] && !req.headers.forwarded) return true
    const key = bearerOf(req)
    return key !== null && dowser.keys.check(key)?.scope === 'read'
  }

  async function measure(): Promise<void> {
    const { gauges, threads } = dowser.counters
    const [{ threads: states, behindMs, engine, room }, status] = await Promise.all([
      dowser.readiness(),
      dowser.status().catch((): EngineStatus | null => null),
    ])
    threads(states)
    gauges.behind.set(behindMs / 1000)
    gauges.waiting.set(dowser.desk.waiting)
    gauges.running.set(dowser.desk.running)
    gauges.disk.set(Math.min(room.freeBytes, Number.MAX_SAFE_INTEGER))
    const { rss, heapUsed } = process.memoryUsage()
    gauges.memory.set({ of: 'process' }, rss)
    gauges.memory.set({ of: 'heap of the main thread' }, heapUsed)
    if (engine) {
      gauges.memory.set({ of: 'caches of answers' }, engine.cacheBytes)
      gauges.held.set((engine.held.longest.cpuMs || 0) / 1000)
    }
    if (status) {
      gauges.memory.set({ of: 'column store' }, status.storeBytes)
      gauges.events.set(status.events)
    }
  }
}

/** Where in the code it stopped is for the log, not for whoever asks. */
function firstLine(reason: string | null): string | null {
  return reason && reason.split('\n', 1)[0]!.slice(0, 200)
}
