import { lookup as resolve } from 'node:dns'
import http from 'node:http'
import https from 'node:https'
import type { LookupFunction } from 'node:net'
import ipaddr from 'ipaddr.js'
import { Webhook } from 'standardwebhooks'
import { z } from 'zod'
import type { Outcome } from '../../core/outreach/destination.js'
import type { Call } from './sending.js'

interface Limits {
  /** names and addresses of hosts that may be called */
  hosts: readonly string[]
  answerMs: number
}

/** So much of an answer is read. */
const MOST_ANSWER = 1_000_000

/** What a receiver may say of each person; one that says nothing of them has taken all. */
const answerSchema = z.object({
  outcomes: z
    .array(
      z.union([
        z.object({ key: z.string(), taken: z.literal(true) }),
        z.object({ key: z.string(), taken: z.literal(false), reason: z.string().max(500) }),
      ]),
    )
    .optional(),
})

/**
 * Sends a call as a signed webhook: the headers `webhook-id` (the same for each try), `webhook-timestamp` and
 * `webhook-signature`, an HMAC-SHA-256 over both and the body.
 * @throws Error where the host is not allowed, or anything but an answer of 200 to 299 comes in time
 */
export async function post(address: string, call: Call, secret: string, limits: Limits): Promise<Outcome[]> {
  const url = new URL(address)
  const host = url.hostname.replace(/^\[|\]$/g, '').toLowerCase()
  if (!limits.hosts.includes(host))
    throw new Error(`${host} is not among the hosts that this workspace may call: its owner lists them under Workspace`)
  const body = JSON.stringify({ type: 'people.changed', sync: call.sync, changes: call.deliveries })
  const now = new Date()
  const headers = {
    'content-type': 'application/json',
    'webhook-id': call.key,
    'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
    'webhook-signature': new Webhook(secret).sign(call.key, now, body),
  }
  const { status, text } = await exchange(url, headers, body, limits)
  if (status >= 300 && status < 400) throw new Error(`it answered ${status}: calls are not sent on to another address`)
  if (status < 200 || status > 299) throw new Error(`it answered ${status}`)
  return outcomesOf(text, call)
}

function outcomesOf(text: string, call: Call): Outcome[] {
  const all = call.deliveries.map(({ key }) => ({ key, taken: true as const }))
  try {
    const said = answerSchema.safeParse(JSON.parse(text))
    if (!said.success || !said.data.outcomes) return all
    const outcomes = new Map(said.data.outcomes.map((outcome) => [outcome.key, outcome]))
    return all.map((outcome) => outcomes.get(outcome.key) ?? outcome)
  } catch {
    return all
  }
}

function exchange(
  url: URL,
  headers: Record<string, string>,
  body: string,
  { hosts, answerMs }: Limits,
): Promise<{ status: number; text: string }> {
  return new Promise((done, fail) => {
    const request = (url.protocol === 'https:' ? https : http).request(url, {
      ...{ method: 'POST', lookup: guarded(hosts), signal: AbortSignal.timeout(answerMs) },
      headers: { ...headers, 'content-length': Buffer.byteLength(body) },
    })
    // An address that is written as a number is looked up by nobody.
    if (
      ipaddr.isValid(url.hostname.replace(/^\[|\]$/g, '')) &&
      !isAllowed(url.hostname.replace(/^\[|\]$/g, ''), hosts)
    ) {
      request.destroy()
      fail(new Error(NOT_PUBLIC))
      return
    }
    request.on('error', (error) =>
      fail(error.name === 'AbortError' ? new Error(`it did not answer for ${answerMs / 1000} s`) : error),
    )
    request.on('response', (response) => {
      const chunks: Buffer[] = []
      let size = 0
      const end = () => done({ status: response.statusCode ?? 0, text: Buffer.concat(chunks).toString('utf8') })
      response.on('data', (chunk: Buffer) => {
        size += chunk.length
        if (size <= MOST_ANSWER) return void chunks.push(chunk)
        // What it says at such length is not read: that it answered is enough.
        end()
        request.destroy()
      })
      response.on('end', end)
      response.on('error', fail)
    })
    request.end(body)
  })
}

/** Public addresses, and those that are listed one by one. */
function isAllowed(address: string, hosts: readonly string[]): boolean {
  return hosts.includes(address) || ipaddr.process(address).range() === 'unicast'
}

/** Looks a name up, and gives only addresses that may be called: what a name points to can change between two looks. */
function guarded(hosts: readonly string[]): LookupFunction {
  return (hostname, options, callback) => {
    resolve(hostname, { ...options, all: true }, (error, addresses) => {
      if (error) return callback(error, '', 4)
      const open = addresses.filter(({ address }) => isAllowed(address, hosts))
      if (open.length === 0) return callback(new Error(NOT_PUBLIC), '', 4)
      if (options.all) return callback(null, open)
      return callback(null, open[0]!.address, open[0]!.family)
    })
  }
}

const NOT_PUBLIC = 'its name points to an address inside this network, which is not listed'
