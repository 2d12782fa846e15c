import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { projectRoot } from '../../server/root.js'
import { newFolder } from '../workspace.js'

export interface TestServer {
  base: string
  dataDir: string
  /** process number */
  pid: number
  /** @param options.keep its data stays */
  stop(options?: { keep?: boolean }): Promise<void>
  /** ends it as a power cut does; its data stays */
  kill(): Promise<void>
}

export async function freePort(): Promise<number> {
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

/**
 * Starts the built server, as people run it, on data of its own: a small demo, nothing yet, or what a server before left.
 * @param more settings by environment variables
 */
export async function startServer(
  data: { demo: number } | { dir: string } | 'empty',
  more: Record<string, string> = {},
): Promise<TestServer> {
  const folder = data !== 'empty' && 'dir' in data ? { dir: data.dir, remove: () => {} } : newFolder()
  const port = await freePort()
  const env = {
    ...{ NODE_ENV: 'production', DOWSER_DATA: folder.dir, DOWSER_PORT: String(port), DOWSER_LOG: 'error' },
    ...more,
  }
  if (data !== 'empty' && 'demo' in data) {
    const [code] = (await once(start(['build/server/demo.js', '--people', String(data.demo)], env), 'exit')) as [number]
    if (code !== 0) throw new Error('the demo data could not be made')
  }
  const server = start(['server.js'], env)
  // A test that breaks off leaves no server behind.
  const end = () => server.kill('SIGKILL')
  process.once('exit', end)
  server.once('exit', () => process.off('exit', end))
  const base = `http://127.0.0.1:${port}`
  const limit = Date.now() + 60_000
  for (;;) {
    const healthy = await fetch(`${base}/readyz`).then(
      (response) => response.ok,
      () => false,
    )
    if (healthy) break
    if (Date.now() > limit || server.exitCode !== null) throw new Error('the server did not become ready')
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  return {
    base,
    dataDir: folder.dir,
    pid: server.pid!,
    async kill() {
      server.kill('SIGKILL')
      await once(server, 'exit')
    },
    async stop({ keep = false } = {}) {
      server.kill('SIGTERM')
      await once(server, 'exit')
      if (!keep) folder.remove()
    },
  }
}
