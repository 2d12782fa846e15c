// npm run demo: from a fresh clone to a running application with the demo workspace.
import { spawn } from 'node:child_process'
import { ensureBuild, ensurePackages, run, say, waitFor } from './setup.mjs'

ensurePackages()
ensureBuild()
const dataDir = process.env.DOWSER_DATA ?? 'data'
const port = process.env.DOWSER_PORT ?? '4810'
const host = process.env.DOWSER_HOST ?? '127.0.0.1'
const env = {
  ...process.env,
  NODE_ENV: 'production',
  DOWSER_DATA: dataDir,
  DOWSER_LOG: process.env.DOWSER_LOG ?? 'warn',
}

say('Making the demo workspace, Saltmarsh Bikes …')
run('node', ['build/server/demo.js', ...process.argv.slice(2)], { env, what: 'Making the demo workspace' })

say('Starting the server …')
const server = spawn('node', ['server.js'], { stdio: ['ignore', 'ignore', 'inherit'], env })
server.on('exit', (code) => process.exit(code ?? 0))
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))
const address = `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`
if (await waitFor(`${address}/readyz`, 120)) console.log(`\n  Dowser is ready: ${address}\n  Stop it with Ctrl+C.\n`)
else {
  console.error('The server did not become ready within two minutes. Its messages above say why.')
  server.kill()
  process.exitCode = 1
}
