import { availableParallelism } from 'node:os'
import path from 'node:path'
import { z } from 'zod'
import { projectRoot } from './root.js'

/** Settings by environment variables; the README lists them. */
const schema = z.object({
  DOWSER_HOST: z.string().min(1).default('127.0.0.1'),
  DOWSER_PORT: z.coerce.number().int().min(0).max(65535).default(4810),
  DOWSER_DATA: z.string().min(1).default('data'),
  DOWSER_THREADS: z.coerce.number().int().min(1).max(64).default(Math.max(1, availableParallelism())),
  DOWSER_LOG: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
  DOWSER_BODY_MB: z.coerce.number().min(0.1).max(500).default(16),
  DOWSER_UPLOAD_MB: z.coerce.number().min(1).max(100_000).default(10_000),
  DOWSER_ALLOWED_HOSTS: z.string().default(''),
  DOWSER_PUBLIC_URL: z
    .union([z.literal(''), z.url({ protocol: /^https?$/, error: 'the address people use, as https://dowser.example' })])
    .default(''),
  DOWSER_TRUST_PROXY: z.string().default(''),
  DOWSER_QUESTION_SECONDS: z.coerce.number().min(1).max(3600).default(60),
  DOWSER_BEHIND_SECONDS: z.coerce.number().min(1).max(3600).default(30),
  DOWSER_HUNG_SECONDS: z.coerce.number().min(5).max(3600).default(60),
  DOWSER_FREE_MB: z.coerce.number().min(0).max(10_000_000).default(1024),
  DOWSER_EVENTS_PER_SECOND: z.coerce.number().int().min(1).max(10_000_000).default(50_000),
  DOWSER_QUESTIONS_PER_MINUTE: z.coerce.number().int().min(1).max(10_000_000).default(1200),
  DOWSER_DEMO_PEOPLE: z.coerce.number().int().min(1).max(1_000_000).default(14_000),
  DOWSER_SECRET_KEY: z.union([z.literal(''), z.string().min(16, 'at least 16 characters')]).default(''),
  DOWSER_ATTACK: z.enum(['0', '1']).default('0'),
})

export interface Settings {
  host: string
  port: number
  dataDir: string
  threads: number
  logLevel: 'silent' | 'error' | 'warn' | 'info' | 'debug'
  /** bytes of an API body, once unpacked */
  bodyBytes: number
  /** bytes of a file given on a page */
  uploadBytes: number
  /** names this server answers to beside its own; guards against foreign names that point here */
  allowedHosts: string[]
  /** origin that people reach it by, through a proxy for one; null = as the request says */
  publicOrigin: string | null
  /** addresses of proxies whose word on who asks, and by which scheme, is taken */
  trustedProxies: string[]
  /** ms that a question may take */
  questionMs: number
  /** senders are held back while accepted events are not seen for longer, ms */
  behindMs: number
  /** a thread that says nothing for longer is ended and started again, ms */
  hungMs: number
  /** so much of the disk is left free, bytes */
  freeBytes: number
  /** of each key */
  eventsPerSecond: number
  questionsPerMinute: number
  /** people of the demo that is looked at in a workspace of one's own */
  demoPeople: number
  /** what secrets of destinations are sealed with; '' = a key that is made and kept beside the data */
  secretKey: string
  /** whether threads may be ended from outside: for trying out only */
  attackable: boolean
}

/** @throws Error that names the variable and what it takes */
export function readSettings(env: Record<string, string | undefined>): Settings {
  const parsed = schema.safeParse(env)
  if (!parsed.success) {
    const lines = parsed.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`)
    throw new Error(`Settings that cannot be used:\n${lines.join('\n')}`)
  }
  const s = parsed.data
  return {
    host: s.DOWSER_HOST,
    port: s.DOWSER_PORT,
    dataDir: path.resolve(projectRoot, s.DOWSER_DATA),
    threads: s.DOWSER_THREADS,
    logLevel: s.DOWSER_LOG,
    bodyBytes: s.DOWSER_BODY_MB * 1_048_576,
    uploadBytes: s.DOWSER_UPLOAD_MB * 1_048_576,
    allowedHosts: [
      ...listOf(s.DOWSER_ALLOWED_HOSTS),
      ...(s.DOWSER_PUBLIC_URL ? [new URL(s.DOWSER_PUBLIC_URL).hostname] : []),
    ],
    publicOrigin: s.DOWSER_PUBLIC_URL ? new URL(s.DOWSER_PUBLIC_URL).origin : null,
    trustedProxies: listOf(s.DOWSER_TRUST_PROXY),
    questionMs: s.DOWSER_QUESTION_SECONDS * 1000,
    behindMs: s.DOWSER_BEHIND_SECONDS * 1000,
    hungMs: s.DOWSER_HUNG_SECONDS * 1000,
    freeBytes: s.DOWSER_FREE_MB * 1_048_576,
    eventsPerSecond: s.DOWSER_EVENTS_PER_SECOND,
    questionsPerMinute: s.DOWSER_QUESTIONS_PER_MINUTE,
    demoPeople: s.DOWSER_DEMO_PEOPLE,
    secretKey: s.DOWSER_SECRET_KEY,
    attackable: s.DOWSER_ATTACK === '1',
  }
}

function listOf(text: string): string[] {
  return text.split(',').flatMap((part) => part.trim().toLowerCase() || [])
}
