import express from 'express'
import { once } from 'node:events'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { newFolder, openReady } from '../tests/workspace.js'
import type { Dowser } from './index.js'
import { shortAddressRouter } from './shortAddress.js'

let http: Server
let base: string
let dowser: Dowser
const folder = newFolder()
beforeAll(async () => {
  dowser = await openReady(folder.dir)
  const app = express()
  app.use(shortAddressRouter(dowser))
  // Stands for the pages: says what address it was asked for.
  app.use((req, res) => void res.json({ asked: req.originalUrl }))
  http = app.listen(0, '127.0.0.1')
  await once(http, 'listening')
  base = `http://127.0.0.1:${(http.address() as AddressInfo).port}`
})
afterAll(async () => {
  http.close()
  await dowser.close()
  folder.remove()
})
const keep = async (text: string) =>
  (await (await fetch(`${base}/ask/keep`, { method: 'POST', body: text })).json()) as { id: string }
const asked = async (address: string) => ((await (await fetch(base + address)).json()) as { asked: string }).asked

test('what is kept is asked for under its id, with what else the address says', async () => {
  const text = new URLSearchParams({ people: JSON.stringify({ name: 'Ä & “q”', n: 'x'.repeat(20_000) }) }).toString()
  const { id } = await keep(text)
  expect(id).toMatch(/^[\w-]{22}$/)
  expect(await keep(text)).toEqual({ id })
  expect(await asked(`/people?k=${id}`)).toBe(`/people?${text}`)
  expect(await asked(`/people.data?k=${id}&_routes=x`)).toBe(`/people.data?${text}&_routes=x`)
})

test('an id that nothing is kept under leads to no page, and an address without one is left alone', async () => {
  expect(await asked('/people?k=nothing')).toBe('/an-address-that-is-not-kept-here')
  expect(await asked('/people?sort=x&q=%7B%7D')).toBe('/people?sort=x&q=%7B%7D')
})

test('nothing is not kept', async () => {
  expect((await fetch(`${base}/ask/keep`, { method: 'POST', body: '' })).status).toBe(400)
})
