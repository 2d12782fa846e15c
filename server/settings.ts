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
    allowedHosts: s.DOWSER_ALLOWED_HOSTS.split(',').flatMap((host) => host.trim().toLowerCase() || []),
  }
}
