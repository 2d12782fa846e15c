import { data, redirect } from 'react-router'
import { z } from 'zod'
import { destinationSchema } from '../../core/outreach/destination.js'
import { syncSchema } from '../../core/outreach/sync.js'
import { readJson } from '../../core/questions/readJson.js'
import { dayIn } from '../catalog/days.js'
import { dowser } from '../door/dowser.server.js'

/** What came of a change to what is kept in step, or to a destination. */
export type Acted =
  { done: string } | { problem: string } | { secret: string; id: string } | { tookMs: number; why: string | null }

const id = z.string().min(1).max(40)
const keptForm = z.discriminatedUnion('intent', [
  z.object({ intent: z.enum(['save', 'start']), id: id.optional(), kept: z.string().max(20_000) }),
  z.object({
    intent: z.enum(['bring back', 'pause', 'resume', 'run', 'anew', 'follow', 'keep', 'unpark', 'delete', 'copy']),
    id,
  }),
])

/** Carries out what the page of something that is kept in step says. */
export async function actOnKept(form: FormData) {
  const read = keptForm.safeParse(Object.fromEntries(form))
  if (!read.success) return refused('Nothing was changed: something in the form is missing.')
  const { syncs, toWrite } = dowser()
  const nowMs = Date.now()
  try {
    if (read.data.intent === 'save' || read.data.intent === 'start') {
      const kept = syncSchema.safeParse(readJson(read.data.kept))
      if (!kept.success) return refused(kept.error.issues.map(({ message }) => message).join(' '))
      const { until } = kept.data
      const today = dayIn(await dowser().clock.now(), dowser().settings.get().zone)
      if (until !== undefined && until < today)
        return refused('The last day has passed: choose a later one, or no end.')
      await toWrite()
      const own = read.data.id ?? syncs.create(kept.data, nowMs)
      if (read.data.id) await syncs.save(own, kept.data)
      if (read.data.intent === 'start') await syncs.start(own)
      return redirect(`/outreach/kept/${own}`)
    }
    const { intent, id: own } = read.data
    await toWrite()
    switch (intent) {
      case 'bring back':
        syncs.bringBack(own)
        return redirect(`/outreach/kept/${own}`)
      case 'pause':
        syncs.setState(own, 'paused')
        return done('Nothing more is sent until you resume it.')
      case 'resume':
        await syncs.start(own)
        return done('It goes on.')
      case 'run':
        await syncs.runNow(own)
        return done('It looks who is in the segment now.')
      case 'anew':
        syncs.forgetAll(own)
        await syncs.runNow(own)
        return done('Everybody is sent anew.')
      case 'follow':
      case 'keep':
        await syncs.settle(own, intent)
        return done(intent === 'keep' ? 'Those already there stay.' : 'Those who are not in it any more are taken out.')
      case 'unpark':
        syncs.unpark(own)
        await syncs.runNow(own)
        return done('They are tried anew.')
      case 'copy': {
        const { definition } = syncs.get(own)
        return redirect(`/outreach/kept/${syncs.create({ ...definition, name: `${definition.name}, copy` }, nowMs)}`)
      }
      case 'delete':
        syncs.setState(own, 'ended')
        syncs.remove(own, nowMs)
        return redirect('/outreach')
    }
  } catch (error) {
    return refused((error as Error).message)
  }
}

const destinationForm = z.discriminatedUnion('intent', [
  z.object({
    intent: z.literal('save'),
    id: id.optional(),
    name: z.string().trim().min(1, 'Give the destination a name.').max(100),
    setup: z.string().max(10_000),
  }),
  z.object({ intent: z.enum(['try', 'new secret', 'delete', 'bring back']), id }),
])

/** Carries out what the page of a destination says. */
export async function actOnDestination(form: FormData) {
  const read = destinationForm.safeParse(Object.fromEntries(form))
  if (!read.success) return refused(read.error.issues.map(({ message }) => message).join(' '))
  const { destinations, syncs, messages, toWrite } = dowser()
  const nowMs = Date.now()
  try {
    if (read.data.intent === 'save') {
      const setup = destinationSchema.safeParse(readJson(read.data.setup))
      if (!setup.success) return refused(setup.error.issues.map(({ message }) => message).join(' '))
      await toWrite()
      if (read.data.id) {
        destinations.save(read.data.id, read.data.name, setup.data)
        return done('Saved.')
      }
      const { id: own, secret } = destinations.create(read.data.name, setup.data, nowMs)
      return secret === null ? redirect(`/outreach/destinations/${own}`) : { secret, id: own }
    }
    const { intent, id: own } = read.data
    if (intent === 'try') return await destinations.tryOut(own)
    await toWrite()
    if (intent === 'bring back') {
      destinations.bringBack(own)
      return redirect(`/outreach/destinations/${own}`)
    }
    if (intent === 'new secret') return { secret: await destinations.newSecret(own), id: own }
    const using = syncs.list().filter(({ definition, state }) => definition.destination === own && state !== 'ended')
    const sending = messages
      .list()
      .filter(({ definition, state }) => definition.destination === own && state !== 'ended')
    const inUse = [...using, ...sending].map(({ definition }) => `“${definition.name}”`)
    if (inUse.length > 0) return refused(`It is still in use: end ${inUse.join(', ')} first.`)
    destinations.remove(own, nowMs)
    return redirect('/outreach')
  } catch (error) {
    return refused((error as Error).message)
  }
}

/** It was carried out. */
export const done = (words: string): Acted => ({ done: words })
/** It was not, and why. */
export const refused = (problem: string) => data<Acted>({ problem }, { status: 422 })
