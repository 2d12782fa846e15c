import { z } from 'zod'
import { readJson } from '../../core/questions/readJson.js'
import { cutsSchema, sessionMinutes } from '../../core/sessions/settings.js'
import type { Catalog } from '../../server/engine/catalog.js'
import type { SessionSettings } from '../../server/doors/sessions.js'

const settingsSchema = z.strictObject({ minutes: sessionMinutes, cuts: cutsSchema })

/** What was sent as a way of cutting sessions, or what is wrong with it, in words. */
export function readSettings(text: string, catalog: Catalog): SessionSettings | { problem: string } {
  let input: unknown
  try {
    input = readJson(text)
  } catch {
    return { problem: 'The settings could not be read.' }
  }
  const read = settingsSchema.safeParse(input)
  if (!read.success) return { problem: read.error.issues.map(sentenceOf).join(' ') }
  const known = new Set(catalog.events.map(({ name }) => name))
  const { starts = [], ends = [] } = read.data.cuts
  const unknown = [...starts, ...ends].find((name) => !known.has(name))
  if (unknown !== undefined) return { problem: `“${unknown}” is no event of this workspace: choose one of the list.` }
  return read.data
}

const WHERE = new Map([
  ['minutes', 'The time-out for all'],
  ['bySource', 'A time-out of a source'],
])

function sentenceOf({ path, message }: z.core.$ZodIssue): string {
  const [head] = path.slice(path[0] === 'cuts' ? 1 : 0)
  return `${WHERE.get(String(head)) ?? 'The settings'}: ${message}.`
}
