import pino from 'pino'

/** Structured log lines on standard output. */
export function makeLogger(level: string) {
  return pino({ level, base: null, timestamp: pino.stdTimeFunctions.isoTime })
}
export type Logger = ReturnType<typeof makeLogger>
