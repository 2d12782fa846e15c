import { createServer, type IncomingMessage } from 'node:http'
import { parentPort, workerData } from 'node:worker_threads'
import { Webhook } from 'standardwebhooks'
import { unit } from '../../../core/stats/unit.js'
import type { Behaviour, Delivery, DestinationKind, Outcome } from '../../../core/outreach/destination.js'
import { repliesOn, type Ping } from '../../pool/serve.js'
import { Book, type BookState, type Crowd, type Reacted } from './book.js'

/** A stand-in for an outside service: it takes people, slowly, and sometimes does not. */
export type StandInRequest =
  | { kind: 'deliver'; deliveries: Delivery[]; behaviour: Behaviour; crowd: Crowd }
  /** what its people have done by now, as the workspace's clock has it; those named have been written down */
  | { kind: 'reactions'; untilMs: number; most: number }
  | { kind: 'told'; keys: string[] }
  | { kind: 'state' }
  /** where the receiver of webhooks listens, and how it is to behave */
  | { kind: 'listen'; behaviour: Behaviour; secret: string }
  | { kind: 'close' }
  | Ping

export interface StandInState extends BookState {
  /** of an advertising list: about how many of its people it knows; null where there are none */
  matched: number | null
  /** of the receiver of webhooks: what arrived last */
  arrived: Arrival[]
}

/** A call that the receiver of webhooks has got. */
export interface Arrival {
  id: string
  atMs: number
  verified: boolean
  people: number
  body: string
}

const MOST_BODY = 4_000_000
const SHOWN_BODY = 2000
const port = parentPort!
const replies = repliesOn(port)
const { file, kind } = workerData as { file: string; kind: DestinationKind }
const book = new Book(file)
const arrived: Arrival[] = []
let receiver: { port: number; behaviour: Behaviour; secret: string } | null = null

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))
const percent = () => Math.random() * 100

const REFUSED: Partial<Record<DestinationKind, string>> = {
  push: 'no device is known of this person',
  mail: 'the address takes no mail',
  text: 'no telephone number is known of this person',
  advertising: 'the id is not one it can use',
}

class StandInError extends Error {
  readonly status = 503
}

/** @throws StandInError as a service that is unwell does: before it has taken anything, or after */
async function deliver(deliveries: readonly Delivery[], behaviour: Behaviour, crowd: Crowd = null): Promise<Outcome[]> {
  const { latencyMs, failing, silent, refused } = behaviour
  await wait(latencyMs * (0.5 + Math.random()))
  const isFailing = percent() < failing
  if (isFailing && Math.random() < 0.5) throw new StandInError('it answered 503: try again later')
  const reason = REFUSED[kind] ?? 'it cannot take this person'
  const outcomes = book.take(
    deliveries,
    (person) => (unit(`refused:${person}`) * 100 < refused ? reason : null),
    Date.now(),
    crowd,
  )
  if (percent() < silent) await new Promise(() => {})
  if (isFailing) throw new StandInError('it answered 503: try again later')
  return outcomes
}

/** What was found after so many changes: it stays until the next one. */
let matched: { taken: number; people: number } | null = null

/** An advertising network tells no exact number: of those it knows about, rounded. */
function matchedOf(): number | null {
  if (kind !== 'advertising') return null
  const { taken } = book.state()
  if (matched?.taken === taken) return matched.people
  const known = book.people().filter((person) => unit(`matched:${person}`) < 0.62).length
  const step = known < 1000 ? 10 : 100
  matched = { taken, people: Math.round(known / step) * step }
  return matched.people
}

/** Listens for webhooks as a program of one's own would. */
async function listen(behaviour: Behaviour, secret: string): Promise<number> {
  if (receiver) {
    receiver = { ...receiver, behaviour, secret }
    return receiver.port
  }
  const server = createServer((request, response) => {
    void receive(request).then(
      ({ status, body }) => {
        response.writeHead(status, { 'content-type': 'application/json' })
        response.end(JSON.stringify(body))
      },
      () => response.destroy(),
    )
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const address = server.address()
  const own = typeof address === 'object' && address ? address.port : 0
  receiver = { port: own, behaviour, secret }
  return own
}

async function receive(request: IncomingMessage): Promise<{ status: number; body: unknown }> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > MOST_BODY) return { status: 413, body: { error: 'too large' } }
    chunks.push(chunk)
  }
  const text = Buffer.concat(chunks).toString('utf8')
  const headers = Object.fromEntries(
    Object.entries(request.headers).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value]] : [])),
  )
  let verified = true
  try {
    new Webhook(receiver!.secret).verify(text, headers)
  } catch {
    verified = false
  }
  const changes = verified ? ((JSON.parse(text) as { changes?: Delivery[] }).changes ?? []) : []
  arrived.unshift({
    ...{ id: headers['webhook-id'] ?? '', atMs: Date.now(), verified, people: changes.length },
    body: text.slice(0, SHOWN_BODY),
  })
  arrived.length = Math.min(arrived.length, 50)
  if (!verified) return { status: 401, body: { error: 'the signature is not right' } }
  try {
    const outcomes = await deliver(changes, receiver!.behaviour)
    return { status: 200, body: { outcomes } }
  } catch (error) {
    return { status: 503, body: { error: (error as Error).message } }
  }
}

function answer(request: StandInRequest): unknown {
  switch (request.kind) {
    case 'deliver':
      return deliver(request.deliveries, request.behaviour, request.crowd)
    case 'reactions':
      return book.reactions(request.untilMs, request.most) satisfies Reacted[]
    case 'told':
      book.told(request.keys)
      return null
    case 'state':
      return { ...book.state(), matched: matchedOf(), arrived } satisfies StandInState
    case 'listen':
      return listen(request.behaviour, request.secret)
    case 'close':
      book.close()
      return null
    case 'ping':
      return null
  }
}

port.on('message', ({ call, request }: { call: number; request: StandInRequest }) => {
  Promise.resolve()
    .then(() => answer(request))
    .then(
      (value) => replies.answer(call, value),
      (error: unknown) => replies.fail(call, error),
    )
})
