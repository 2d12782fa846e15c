import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { request } from 'node:https'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { projectRoot } from '../../server/root.js'
import { newFolder, until } from '../workspace.js'
import { freePort, startServer, type TestServer } from './server.js'

/** The examples of docs/behind-a-proxy.md, as they stand there but for ports and files. */
const docs = readFileSync(path.join(projectRoot, 'docs/behind-a-proxy.md'), 'utf8')
const example = (language: string) => new RegExp(`\`\`\`${language}\\n(.*?)\`\`\``, 's').exec(docs)![1]

const NAME = 'dowser.example'
const folder = newFolder()
const inFolder = (name: string) => path.join(folder.dir, name)
let server: TestServer
const running: ChildProcess[] = []

beforeAll(async () => {
  server = await startServer('empty', { DOWSER_PUBLIC_URL: `https://${NAME}`, DOWSER_TRUST_PROXY: 'loopback' })
  execFileSync('openssl', [
    ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', `/CN=${NAME}`],
    ...['-addext', `subjectAltName=DNS:${NAME}`, '-keyout', inFolder('key'), '-out', inFolder('cert')],
  ])
})
afterAll(async () => {
  for (const each of running) {
    each.kill('SIGTERM')
    await once(each, 'exit')
  }
  await server.stop()
  folder.remove()
})

function send(port: number, place: string, method: string, headers: Record<string, string>, body = '') {
  return new Promise<{ status: number; headers: NodeJS.Dict<string | string[]>; text: string }>((resolve, reject) => {
    const asked = request(
      {
        ...{ host: '127.0.0.1', port, path: place, method, servername: NAME, rejectUnauthorized: false },
        headers: { host: NAME, ...headers },
      },
      (response) => {
        let text = ''
        response.on('data', (piece: Buffer) => (text += piece.toString()))
        response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, text }))
      },
    )
    asked.on('error', reject)
    asked.end(body)
  })
}

async function nginx(): Promise<number> {
  const port = await freePort()
  const site = example('nginx')
    .replace('listen 443 ssl', `listen 127.0.0.1:${port} ssl`)
    .replace('/etc/ssl/dowser.pem', inFolder('cert'))
    .replace('/etc/ssl/dowser.key', inFolder('key'))
    .replace('http://127.0.0.1:4810', server.base)
  mkdirSync(inFolder('nginx'))
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${inFolder('nginx')}/${name};`,
  )
  const whole = `daemon off; pid ${inFolder('nginx/pid')}; error_log stderr crit; events {}\nhttp { access_log off; ${temporary.join(' ')}\n${site}\n}`
  writeFileSync(inFolder('nginx.conf'), whole)
  running.push(
    spawn('nginx', ['-c', inFolder('nginx.conf'), '-e', 'stderr'], { stdio: ['ignore', 'ignore', 'inherit'] }),
  )
  return port
}

async function caddy(): Promise<number> {
  const port = await freePort()
  const site = example('caddy')
    .replace(`${NAME} {`, `https://${NAME}:${port} {\n  bind 127.0.0.1\n  tls ${inFolder('cert')} ${inFolder('key')}`)
    .replace('127.0.0.1:4810', server.base.replace('http://', ''))
  writeFileSync(inFolder('Caddyfile'), `{\n  admin off\n  auto_https disable_redirects\n}\n${site}`)
  running.push(
    spawn('caddy', ['run', '--config', inFolder('Caddyfile'), '--adapter', 'caddyfile'], {
      stdio: 'ignore',
      env: { ...process.env, HOME: folder.dir, XDG_DATA_HOME: folder.dir, XDG_CONFIG_HOME: folder.dir },
    }),
  )
  return port
}

describe.each([
  ['nginx', nginx],
  ['Caddy', caddy],
])('behind %s', (_name, start) => {
  let port: number
  beforeAll(async () => {
    port = await start()
    const answers = () =>
      send(port, '/healthz', 'GET', {}).then(
        ({ status }) => status === 200,
        () => false,
      )
    await until(answers, 'the proxy', 20_000)
  })
  const form = { 'content-type': 'application/x-www-form-urlencoded' }

  test('a save from its pages is taken, though they say https and what arrives is http', async () => {
    const saved = await send(port, '/dashboards', 'POST', { ...form, origin: `https://${NAME}` }, 'name=x')
    expect(saved.status).toBe(302)
    expect(saved.headers.location).toMatch(/^\/dashboards\//)
  })

  test('a save from another site is refused', async () => {
    const refused = await send(port, '/dashboards', 'POST', { ...form, origin: 'https://elsewhere.example' }, 'name=x')
    expect(refused.status).toBe(403)
  })

  test('cookies are for https alone, and the metrics are not for everybody', async () => {
    const page = await send(port, '/', 'GET', {})
    expect(page.status).toBe(200)
    expect(String(page.headers['set-cookie'])).toMatch(/Secure/)
    expect((await send(port, '/metrics', 'GET', {})).status).toBe(401)
    expect((await fetch(`${server.base}/metrics`)).status).toBe(200)
  })
})
