import { client, figuresOf, memoryOf, pause, untilReady } from './client.js'
import { mutateBytes, mutateText, mutateValue, written } from './mutate.js'
import { Random } from '../../demo/random.js'
import { seeds, type Seed } from './seeds.js'

export interface Target {
  base: string
  pid: number
  keys: { write: string; read: string }
}

export interface RequestsReport {
  sent: number
  byStatus: Record<string, number>
  /** answers that must not be: 5xx, none at all, or none in time */
  wrong: { request: string; status: number; ms: number; text: string }[]
  times: ReturnType<typeof figuresOf>
  memoryMb: { before: number; most: number; after: number }
}

const MB = 1_048_576
/** A page takes fifty times as long to make as an answer of the API: these are asked so many times as often. */
const API_SHARE = 8
/** No answer may begin later, on a machine that is slow and busy too; how fast they are is measured elsewhere. */
const HANGS_MS = 20_000

/** Sends requests that are each a little wrong, to every door, and looks how they are answered. */
export async function attackDoors(
  { base, pid, keys }: Target,
  { count, seed, sockets = 8 }: { count: number; seed: number; sockets?: number },
): Promise<RequestsReport> {
  const random = new Random(seed)
  const doors = seeds().flatMap((door) =>
    Array.from({ length: (door.weight ?? 1) * (door.key ? API_SHARE : 1) }, () => door),
  )
  const http = client(base, sockets)
  const report: RequestsReport = {
    ...{ sent: 0, byStatus: {}, wrong: [], times: figuresOf([]) },
    memoryMb: { before: (await memoryOf(pid)) / MB, most: 0, after: 0 },
  }
  const byStatus = new Map<string, number>()
  const times: number[] = []
  const worker = async () => {
    while (report.sent < count) {
      const number = ++report.sent
      const made = requestOf(random.pick(doors), random, base, keys)
      const reply = await http.send(made.path, { ...made, limitMs: 40_000 })
      times.push(reply.ms)
      byStatus.set(String(reply.status), (byStatus.get(String(reply.status)) ?? 0) + 1)
      // A connection that is closed on a body over the limit, or one that is no HTTP, is an answer.
      if (reply.status >= 500 || reply.status === 0 || (reply.status > 0 && reply.waitedMs > HANGS_MS)) {
        const { status, ms, text } = reply
        report.wrong.push({ request: made.told, status, ms: Math.round(ms), text: text.slice(0, 600) })
        process.stderr.write(`${status} after ${Math.round(ms)} ms: ${made.told.slice(0, 300)}\n`)
      }
      if (number % 500 !== 0) continue
      const memoryMb = (await memoryOf(pid)) / MB
      report.memoryMb.most = Math.max(report.memoryMb.most, memoryMb)
      if (number % 5000 === 0)
        process.stderr.write(
          `${number} sent, ${report.wrong.length} wrong, ${figuresOf(times).p50} ms, ${Math.round(memoryMb)} MB\n`,
        )
    }
  }
  await Promise.all(Array.from({ length: sockets }, worker))
  await untilReady(http)
  await pause(3000)
  report.byStatus = Object.fromEntries(byStatus)
  report.times = figuresOf(times)
  report.memoryMb.after = (await memoryOf(pid)) / MB
  http.close()
  return report
}

function requestOf(seed: Seed, random: Random, base: string, keys: Target['keys']) {
  const where = random.whole(0, 9)
  const pathPart = where === 0 ? mutatePath(seed.path, random) : seed.path
  const query = new URLSearchParams()
  for (const [name, value] of Object.entries(seed.query ?? {})) {
    const text = (each: unknown) => (typeof each === 'string' ? each : written(each))
    const changed =
      where < 5
        ? random.chance(0.7)
          ? text(mutateValue(value, random))
          : mutateText(text(value), random)
        : text(value)
    // An address has its limits, and so has what can be said of it.
    query.append(random.chance(0.03) ? 'constructor' : name, changed.slice(0, 6000))
  }
  const headers: Record<string, string> = { ...seed.headers }
  if (seed.key) headers.authorization = `Bearer ${keys[seed.key]}`
  else if (seed.method !== 'GET') headers.origin = base
  let body: Buffer | string | undefined
  if (seed.body !== undefined) {
    if (Buffer.isBuffer(seed.body)) body = where >= 3 ? mutateBytes(seed.body, random) : seed.body
    else if (seed.form) {
      headers['content-type'] = random.chance(0.95) ? 'application/x-www-form-urlencoded' : 'multipart/form-data'
      const fields = Object.entries(seed.body as Record<string, string>).map(([name, value]) => [
        random.chance(0.05) ? '__proto__' : name,
        random.chance(0.4) ? fieldOf(value, random) : value,
      ])
      body = new URLSearchParams(fields).toString()
    } else {
      headers['content-type'] ??= 'application/json'
      const changed = where >= 2 ? mutateValue(seed.body, random) : seed.body
      body = written(changed)
      if (random.chance(0.15)) body = mutateText(body, random)
    }
  }
  if (random.chance(0.03))
    headers['content-type'] = random.pick(['text/plain', 'application/x-ndjson', 'multipart/form-data', ''])
  if (random.chance(0.02) && body !== undefined)
    headers['content-encoding'] = random.pick(['gzip', 'br', 'constructor'])
  const search = query.size > 0 ? `?${query.toString()}` : ''
  const path = encodeURI(pathPart) + search
  const told = `${seed.method} ${path.slice(0, 1500)} ${body === undefined ? '' : body.toString('utf8').slice(0, 1500)}`
  return { method: seed.method, path, headers, told, ...(body === undefined ? {} : { body }) }
}

/** A form's field that holds JSON is changed within. */
function fieldOf(value: string, random: Random): string {
  if (/^[[{]/.test(value)) return written(mutateValue(JSON.parse(value), random))
  return mutateText(value, random)
}

function mutatePath(path: string, random: Random): string {
  const parts = path.split('/')
  const at = random.whole(1, parts.length - 1)
  parts[at] = random.pick(['constructor', '__proto__', '..', '', '%00', 'ä', 'x'.repeat(300), '-1', 'null'])
  return parts.join('/')
}
