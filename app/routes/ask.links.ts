import { localDay } from '../../core/time/rangeSchema.js'
import { Temporal } from 'temporal-polyfill'
import { z } from 'zod'
import { startOfDay } from '../../core/time/range.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import type { Route } from './+types/ask.links'

const target = z.object({ kind: z.enum(['study', 'dashboard']), target: z.string().min(1) })
const form = target.extend({
  intent: z.enum(['make', 'revoke']),
  token: z.string().optional(),
  /** the last local day it works; empty = no end */
  ends: z.union([z.literal(''), localDay]).optional(),
})

/** The links to a study or dashboard. */
export function loader({ request }: Route.LoaderArgs) {
  const parsed = target.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  return { links: parsed.success ? dowser().links.list(parsed.data.kind, parsed.data.target) : [] }
}

export async function action({ request }: Route.ActionArgs) {
  const { kind, target: id, intent, token, ends } = form.parse(Object.fromEntries(await request.formData()))
  const { links, studies, dashboards, settings } = dowser()
  const now = Date.now()
  if (intent === 'make') {
    orMissing(() => (kind === 'study' ? studies.get(id) : dashboards.get(id)))
    const { zone } = settings.get()
    const endsMs = ends ? startOfDay(Temporal.PlainDate.from(ends).add({ days: 1 }), zone) : null
    links.create(kind, id, endsMs, now)
  } else if (token) links.revoke(token, now)
  return { links: links.list(kind, id) }
}
