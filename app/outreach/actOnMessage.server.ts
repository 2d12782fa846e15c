import { redirect } from 'react-router'
import { z } from 'zod'
import { messageSchema } from '../../core/outreach/message.js'
import { readJson } from '../../core/questions/readJson.js'
import { dowser } from '../door/dowser.server.js'
import { done, refused } from './act.server.js'
import type { Checked } from './message.js'

const id = z.string().min(1).max(40)
const form = z.discriminatedUnion('intent', [
  z.object({ intent: z.enum(['save', 'start', 'check']), id: id.optional(), message: z.string().max(200_000) }),
  z.object({
    intent: z.literal('test copy'),
    message: z.string().max(200_000),
    variant: z.coerce.number().int().min(0).max(4),
    person: z.string().trim().min(1, 'Say to whom: one of the ids of a person.').max(200),
  }),
  z.object({ intent: z.enum(['pause', 'resume', 'stop', 'delete', 'copy', 'bring back']), id }),
])

/** Carries out what the page of a message says. */
export async function actOnMessage(sent: FormData) {
  const read = form.safeParse(Object.fromEntries(sent))
  if (!read.success) return refused(read.error.issues.map(({ message }) => message).join(' '))
  const { messages, toWrite } = dowser()
  const nowMs = Date.now()
  try {
    if ('message' in read.data) {
      const definition = messageSchema.safeParse(readJson(read.data.message))
      if (read.data.intent === 'check') {
        const checked = messageSchema.safeParse({ ...(readJson(read.data.message) as object), name: 'x' })
        return checked.success ? await check(checked.data) : problems(checked.error)
      }
      if (!definition.success) return problems(definition.error)
      if (read.data.intent === 'test copy') {
        const outcome = await messages.testCopy(definition.data, read.data.variant, read.data.person)
        return outcome.taken
          ? done('The copy was taken. It is counted nowhere.')
          : refused(`It was not taken: ${outcome.reason}.`)
      }
      await toWrite()
      const own = read.data.id ?? messages.create(definition.data, nowMs)
      if (read.data.id) {
        if (messages.get(own).startedMs !== null)
          return refused('What has been started stays as it is. Copy it to change it.')
        messages.save(own, definition.data, nowMs)
      }
      if (read.data.intent === 'start') await messages.start(own)
      return redirect(`/outreach/messages/${own}`)
    }
    const { intent, id: own } = read.data
    await toWrite()
    switch (intent) {
      case 'pause':
        await messages.pause(own)
        return done('Nobody comes in, and nothing is sent, until you resume it.')
      case 'resume':
        await messages.start(own)
        return done('It goes on.')
      case 'stop':
        await messages.stop(own)
        return done('It has ended. What was still to be sent is not.')
      case 'copy': {
        const { definition } = messages.get(own)
        return redirect(
          `/outreach/messages/${messages.create({ ...definition, name: freeName(definition.name) }, nowMs)}`,
        )
      }
      case 'delete':
        if (['running', 'paused'].includes(messages.get(own).state)) await messages.stop(own)
        messages.remove(own, nowMs)
        return redirect('/outreach')
      case 'bring back':
        messages.bringBack(own)
        return redirect(`/outreach/messages/${own}`)
    }
  } catch (error) {
    return refused((error as Error).message)
  }
}

async function check(definition: z.infer<typeof messageSchema>): Promise<Checked> {
  const { messages } = dowser()
  const faults = messages.faults(definition)
  const { ready } = await dowser().status()
  if (!ready || (definition.segment === '' && definition.trigger.kind !== 'event'))
    return { faults, ahead: null, problem: null }
  try {
    return { faults, ahead: await messages.ahead(definition), problem: null }
  } catch (error) {
    return { faults, ahead: null, problem: (error as Error).message }
  }
}

/** `Third ride, copy`, `Third ride, copy 2`. */
function freeName(name: string): string {
  const taken = new Set(
    dowser()
      .messages.list()
      .map(({ definition }) => definition.name.toLowerCase()),
  )
  for (let n = 1; ; n++) {
    const copy = `${name.slice(0, 85)}, copy${n === 1 ? '' : ` ${n}`}`
    if (!taken.has(copy.toLowerCase())) return copy
  }
}

const problems = (error: z.ZodError) => refused(error.issues.map(({ message }) => message).join(' '))
