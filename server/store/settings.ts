import { z } from 'zod'
import { isLocalDay, isZone } from '../../core/time/range.js'
import { cutsSchema, sessionMinutes } from '../../core/sessions/settings.js'
import type { Db } from './database.js'

export const workspaceSettings = z.object({
  name: z.string().min(1).max(100).default('My workspace'),
  /** IANA time zone */
  zone: z.string().refine(isZone, 'a time zone such as Europe/Lisbon').default('UTC'),
  firstDayOfWeek: z.int().min(1).max(7).default(1),
  /** a gap of more than this between two events of a person starts a new session */
  sessionMinutes,
  /** where sessions are cut beside that */
  sessionCuts: cutsSchema.default({}),
  /** ISO 4217 */
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, 'a currency as EUR')
    .default('EUR'),
  /** demo data is read as of its own last event */
  now: z.enum(['clock', 'last event']).default('clock'),
  /** and, where its clock was run beyond that, as of then; epoch ms */
  ranTo: z.int().default(0),
  /** events of before this day are refused: a clock that was never set is mostly in 1970 or 2000 */
  oldest: z
    .string()
    .refine((day) => isLocalDay(day) && day >= '1970-01-01', 'a day from 1970 on, as 1970-01-01')
    .default('1970-01-01'),
  /** the segment whose people no study counts: staff, test accounts, robots; '' = none */
  leftOut: z.string().max(100).default(''),
  /** the profile property that says that somebody wants to be sent nothing */
  optOut: z.string().max(200).default('opted_out'),
  /** hosts, and private addresses, that webhooks may be sent to */
  webhookHosts: z.array(z.string().trim().toLowerCase().min(1).max(253)).max(50).default([]),
  /** the event property that says which version of the app sent an event */
  versionProperty: z.string().max(200).default('app_version'),
})
export type WorkspaceSettings = z.infer<typeof workspaceSettings>

export function settingsStore(db: Db) {
  const all = db.prepare<[], { key: string; value: string }>('SELECT key, value FROM settings')
  const put = db.prepare(
    'INSERT INTO settings (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value',
  )
  return {
    get(): WorkspaceSettings {
      return workspaceSettings.parse(Object.fromEntries(all.all().map((row) => [row.key, JSON.parse(row.value)])))
    },
    set(settings: Partial<WorkspaceSettings>): void {
      for (const [key, value] of Object.entries(settings)) put.run(key, JSON.stringify(value))
    },
  }
}
