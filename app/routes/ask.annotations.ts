import { annotationSchema } from '../../core/analyses/trend/annotationSchema.js'
import { readJson } from '../../core/questions/readJson.js'
import { z } from 'zod'
import { dowser, orMissing } from '../door/dowser.server.js'
import type { Route } from './+types/ask.annotations'

const form = z.object({
  intent: z.enum(['save', 'remove']),
  id: z.string().max(40).optional(),
  annotation: z.string().optional(),
})

/** Writes and removes the dated notes of charts. */
export async function action({ request }: Route.ActionArgs): Promise<{ saved?: string; problem?: string }> {
  const { intent, id, annotation } = form.parse(Object.fromEntries(await request.formData()))
  const { annotations, studies } = dowser()
  if (intent === 'remove') {
    if (id) annotations.remove(id)
    return {}
  }
  const read = annotationSchema.safeParse(readJson(annotation ?? 'null'))
  if (!read.success)
    return { problem: `The note was not kept: ${read.error.issues[0]?.message ?? 'it cannot be read'}.` }
  const { study } = read.data
  if (study !== null) orMissing(() => studies.get(study))
  return { saved: annotations.save(read.data, Date.now(), id) }
}
