import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { projectRoot } from '../../server/root.js'
import { newFolder } from '../workspace.js'

export interface TestServer {
  base: string
  dataDir: string
  stop(): Promise<void>
}

async function freePort(): Promise<number> {
  const probe = createServer().listen(0, '127.0.0.1')
  await once(probe, 'listening')
  const { port } = probe.address() as AddressInfo
  probe.close()
  await once(probe, 'close')
  return port
}

function start(args: string[], env: Record<string, string>): ChildProcess {
  return spawn(process.execPath, args, {
    cwd: projectRoot,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, ...env },
  })
}

/** Starts the built server, as people run it, on data of its own: a small demo, or nothing yet. */
export async function startServer(data: { demo: number } | 'empty'): Promise<TestServer> {
  const folder = newFolder()
  const port = await freePort()
  const env = { NODE_ENV: 'production', DOWSER_DATA: folder.dir, DOWSER_PORT: String(port), DOWSER_LOG: 'error' }
  if (data !== 'empty') {
    const [code] = (await once(start(['build/server/demo.js', '--people', String(data.demo)], env), 'exit')) as [number]
    if (code !== 0) throw new Error('the demo data could not be made')
  }
  const server = start(['server.js'], env)
  const base = `http://127.0.0.1:${port}`
  const end = Date.now() + 30_000
  for (;;) {
    const healthy = await fetch(`${base}/readyz`).then(
      (response) => response.ok,
      () => false,
    )
    if (healthy) break
    if (Date.now() > end || server.exitCode !== null) throw new Error('the server did not become ready')
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  return {
    base,
    dataDir: folder.dir,
    async stop() {
      server.kill('SIGTERM')
      await once(server, 'exit')
      folder.remove()
    },
  }
}
