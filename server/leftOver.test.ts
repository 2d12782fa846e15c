import express from 'express'
import { createReadableStreamFromReadable } from '@react-router/node'
import { once } from 'node:events'
import { Agent, request } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Readable } from 'node:stream'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { takeLeftOver } from './leftOver.js'

let base: string
let close: () => void
beforeEach(async () => {
  const app = express()
  app.use(takeLeftOver)
  // As handlers of web requests do it: the body becomes a stream, and nobody reads it.
  app.post('/unread', (req, res) => {
    createReadableStreamFromReadable(req)
    res.status(405).end()
  })
  app.post('/read', async (req, res) => {
    let bytes = 0
    for await (const piece of req as AsyncIterable<Buffer>) bytes += piece.length
    res.send(String(bytes))
  })
  const server = app.listen(0, '127.0.0.1')
  await once(server, 'listening')
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  close = () => {
    server.closeAllConnections()
    server.close()
  }
})
afterEach(() => close())

test.each([100_000, 3_000_000])(
  'a body of %d bytes that nobody reads does not hold up what comes after it',
  async (n) => {
    const agent = new Agent({ keepAlive: true, maxSockets: 1 })
    const post = async (path: string, size: number) => {
      const asked = request(base + path, { method: 'POST', agent }).end(Buffer.alloc(size))
      const [response] = (await once(asked, 'response')) as [Readable & { statusCode: number }]
      let text = ''
      for await (const piece of response) text += String(piece)
      return `${response.statusCode} ${text}`
    }
    expect(await post('/unread', n)).toBe('405 ')
    expect(await post('/read', n)).toBe(`200 ${n}`)
    agent.destroy()
  },
)
