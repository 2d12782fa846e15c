// The one entry of the server, in development and production: HTTP, static files, and the stop.
import compression from 'compression'
import express from 'express'
import { createServer } from 'node:http'

const production = process.env.NODE_ENV === 'production'
const host = process.env.DOWSER_HOST ?? '127.0.0.1'
const port = Number(process.env.DOWSER_PORT ?? 4810)

const outer = express()
outer.disable('x-powered-by')
// Long addresses are shortened by the pages; one that was written by hand, or kept from before, is read all the same.
const http = createServer({ maxHeaderSize: 128 * 1024 }, outer)
// A head that never ends and a body that never ends hold no connection for ever; a large file may take its time.
http.headersTimeout = 20_000
http.requestTimeout = 30 * 60_000
// Longer than proxies and clients keep theirs: else one is closed here just as it is used again there.
http.keepAliveTimeout = 75_000

// Browsers ask for this one by themselves wherever a page names no icon.
outer.get('/favicon.ico', (_req, res) => res.redirect(301, '/favicon.svg'))

let close
if (production) {
  const built = await import('./build/server/app.js').catch((error) => {
    // Settings that cannot be used, a damaged file: the message says what to do, where it happened does not.
    console.error(error.message)
    process.exit(1)
  })
  close = built.close
  outer.use('/assets', compression(), express.static('build/client/assets', { immutable: true, maxAge: '1y' }))
  outer.use(express.static('build/client', { maxAge: '1h' }))
  outer.use(built.app)
} else {
  const vite = await (
    await import('vite')
  ).createServer({ server: { middlewareMode: true, hmr: { server: http } }, appType: 'custom' })
  // The script for websites, built anew whenever it is asked for.
  outer.get('/dowser.js', async (_req, res) => {
    const { build } = await import('esbuild')
    const { outputFiles } = await build({
      entryPoints: ['script/browser.ts'],
      bundle: true,
      format: 'iife',
      write: false,
    })
    res.type('js').send(outputFiles[0].text)
  })
  outer.use(vite.middlewares)
  outer.use(async (req, res, next) => {
    try {
      const source = await vite.ssrLoadModule('./server/app.ts')
      close = source.close
      source.app(req, res, next)
    } catch (error) {
      vite.ssrFixStacktrace(error)
      next(error)
    }
  })
}

http.on('error', (error) => {
  const words =
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken. Stop what uses it, or choose another: DOWSER_PORT=${port + 1}`
      : error.message
  console.error(words)
  process.exit(1)
})
http.listen(port, host, () => {
  const { port: actual } = http.address()
  console.log(`Dowser listens on http://${host.includes(':') ? `[${host}]` : host}:${actual}`)
})

let stopping = false
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, async () => {
    if (stopping) process.exit(1)
    stopping = true
    // What was accepted is finished; what waits idly is let go.
    const closed = new Promise((resolve) => http.close(resolve))
    http.closeIdleConnections()
    setTimeout(() => http.closeAllConnections(), 5000).unref()
    await closed
    await close?.()
    process.exit(0)
  })
