import { request } from 'node:http'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { startServer, type TestServer } from './server.js'

/** What the running server lets in and tells of itself. */
let server: TestServer
beforeAll(async () => {
  server = await startServer('empty')
})
afterAll(() => server.stop())

function send(
  path: string,
  method: string,
  headers: Record<string, string>,
  body = '',
): Promise<{ status: number; headers: Record<string, unknown>; text: string }> {
  return new Promise((resolve, reject) => {
    const asked = request(server.base + path, { method, headers }, (response) => {
      let text = ''
      response.on('data', (piece: Buffer) => (text += piece.toString()))
      response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, text }))
    })
    asked.on('error', reject)
    asked.end(body)
  })
}

test('pages carry a policy with a nonce that is new each time, and the usual headers', async () => {
  const [first, second] = [await send('/', 'GET', {}), await send('/', 'GET', {})]
  const nonce = (policy: unknown) => /script-src 'self' 'nonce-([^']+)'/.exec(String(policy))?.[1]
  expect(nonce(first.headers['content-security-policy'])).toHaveLength(24)
  expect(nonce(first.headers['content-security-policy'])).not.toBe(nonce(second.headers['content-security-policy']))
  expect(first.headers).toMatchObject({ 'x-content-type-options': 'nosniff', 'referrer-policy': 'same-origin' })
  expect(first.headers['x-powered-by']).toBeUndefined()
})

describe('a change', () => {
  const form = { 'content-type': 'application/x-www-form-urlencoded' }
  test.each([
    ['from another site', { origin: 'https://elsewhere.example' }, 403],
    ['that says nothing of where it comes from', {}, 403],
    ['that a browser marks as coming from another site', { 'sec-fetch-site': 'cross-site' }, 403],
  ])('%s is refused', async (_name, headers, status) => {
    expect((await send('/dashboards', 'POST', { ...form, ...headers }, 'name=x')).status).toBe(status)
  })

  test('from its own pages is taken', async () => {
    expect((await send('/dashboards', 'POST', { ...form, origin: server.base }, 'name=x')).status).toBe(302)
  })
})

test('a foreign name that points here reaches nothing', async () => {
  const { status, text } = await send('/', 'GET', { host: 'evil.example' })
  expect([status, text]).toEqual([421, expect.stringContaining('DOWSER_ALLOWED_HOSTS') as string])
})

test('health and readiness are told, and what is not there is a page that says so', async () => {
  expect(JSON.parse((await send('/healthz', 'GET', {})).text)).toEqual({ alive: true })
  const ready = await send('/readyz', 'GET', {})
  expect(ready.status).toBe(200)
  expect(JSON.parse(ready.text)).toMatchObject({ ready: true, loading: null, behind: false, disk: { enough: true } })
  const { threads } = JSON.parse(ready.text) as { threads: { thread: string; up: boolean }[] }
  expect(threads.map(({ thread, up }) => [thread, up])).toEqual(
    expect.arrayContaining([
      ['engine', true],
      ['ingest', true],
      ['scan 1', true],
    ]),
  )
  const missing = await send('/studies/none', 'GET', {})
  expect([missing.status, missing.text.includes('There is no study')]).toEqual([404, true])
})

test('a stop finishes what was begun and ends well', async () => {
  const other = await startServer('empty')
  await other.stop()
  await expect(fetch(other.base)).rejects.toThrow()
})
