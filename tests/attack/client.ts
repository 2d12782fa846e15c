import { Agent, request } from 'node:http'

export interface Reply {
  status: number
  ms: number
  /** until the answer began, save for what this process was busy with itself, ms */
  waitedMs: number
  text: string
  retryAfterS: number | null
}

/** Sends over connections that are kept; a request that is not answered in time is one with the status 0. */
export function client(base: string, sockets: number) {
  const agent = new Agent({ keepAlive: true, maxSockets: sockets })
  const own = ownWork()
  return {
    send(
      path: string,
      {
        method = 'GET',
        headers = {},
        body,
        limitMs = 60_000,
      }: {
        method?: string
        headers?: Record<string, string>
        body?: Buffer | string
        limitMs?: number
      } = {},
    ): Promise<Reply> {
      const started = performance.now()
      const busyBefore = own.busyMs()
      let waitedMs = Infinity
      return new Promise((resolve) => {
        const end = (status: number, text: string, retry?: string) => {
          clearTimeout(timer)
          const retryAfterS = retry === undefined ? null : Number(retry)
          resolve({ status, ms: performance.now() - started, waitedMs, text, retryAfterS })
        }
        const asked = request(base + path, { method, headers, agent }, (response) => {
          waitedMs = performance.now() - started - (own.busyMs() - busyBefore)
          let text = ''
          response.setEncoding('utf8')
          response.on('data', (piece: string) => {
            if (text.length < 4000) text += piece
          })
          response.on('end', () => end(response.statusCode!, text, response.headers['retry-after']))
          response.on('error', (error) => end(-1, error.message))
        })
        const timer = setTimeout(() => {
          asked.destroy()
          end(0, 'not answered in time')
        }, limitMs)
        asked.on('error', (error) =>
          end(-1, `${error.message}${asked.reusedSocket ? ', on a connection that had been used' : ''}`),
        )
        asked.end(body)
      })
    },
    close() {
      agent.destroy()
      own.stop()
    },
  }
}
export type Client = ReturnType<typeof client>

const LOOK_EVERY_MS = 50

/** How long this process has been too busy to take an answer: making up requests takes seconds now and then. */
function ownWork() {
  let last = performance.now()
  let busyMs = 0
  // An answer that was there before may be taken before the timer is.
  const look = () => {
    const now = performance.now()
    busyMs += Math.max(0, now - last - 2 * LOOK_EVERY_MS)
    last = now
    return busyMs
  }
  const timer = setInterval(look, LOOK_EVERY_MS)
  timer.unref()
  return { busyMs: look, stop: () => clearInterval(timer) }
}

/** @param body JSON, or lines of JSON */
export function sendEvents(http: Client, key: string, body: string, limitMs?: number): Promise<Reply> {
  const type = body.startsWith('[') ? 'application/json' : 'application/x-ndjson'
  return post(http, '/api/v1/events', key, body, type, limitMs)
}

export function ask(http: Client, key: string, question: object, limitMs?: number): Promise<Reply> {
  return post(http, '/api/v1/query', key, JSON.stringify(question), 'application/json', limitMs)
}

function post(http: Client, path: string, key: string, body: string, type: string, limitMs = 60_000): Promise<Reply> {
  const headers = { authorization: `Bearer ${key}`, 'content-type': type }
  return http.send(path, { method: 'POST', body, headers, limitMs })
}

/** The figures of a list of times, ms. */
export function figuresOf(times: readonly number[]): { p50: number; p99: number; most: number; count: number } {
  const sorted = [...times].sort((a, b) => a - b)
  const at = (share: number) => Math.round(sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0)
  return { p50: at(0.5), p99: at(0.99), most: at(1), count: sorted.length }
}

/** Resident memory of a process, bytes. */
export async function memoryOf(pid: number): Promise<number> {
  const { readFile } = await import('node:fs/promises')
  const status = await readFile(`/proc/${pid}/status`, 'utf8')
  return Number(/VmRSS:\s+(\d+) kB/.exec(status)?.[1] ?? 0) * 1024
}

export async function pause(ms: number): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, ms))
}

/** Asks until the server says that it is ready. @returns how long that took, ms */
export async function untilReady(clients: Client, limitMs = 60_000): Promise<number> {
  const started = performance.now()
  for (;;) {
    if ((await clients.send('/readyz', { limitMs: 3000 })).status === 200) return performance.now() - started
    if (performance.now() - started > limitMs) throw new Error('the server did not get ready again')
    await pause(20)
  }
}
