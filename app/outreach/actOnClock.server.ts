import { z } from 'zod'
import { countOf } from '../../core/words/format.js'
import { SPEEDS } from '../../core/outreach/clock.js'
import { dowser } from '../door/dowser.server.js'
import { done, refused } from './act.server.js'

const form = z.discriminatedUnion('intent', [
  z.object({
    intent: z.literal('run'),
    speed: z.coerce.number().refine((speed): speed is (typeof SPEEDS)[number] => SPEEDS.some((each) => each === speed)),
  }),
  z.object({ intent: z.literal('wipe') }),
])

/** The workspace's clock is run or stopped, or what simulated people did is taken out. */
export async function actOnClock(sent: FormData) {
  const read = form.safeParse(Object.fromEntries(sent))
  if (!read.success) return refused('Nothing was changed: something in the form is missing.')
  if (read.data.intent === 'run') {
    dowser().clock.run(read.data.speed)
    return done(read.data.speed === 0 ? 'The clock stands.' : 'The clock runs.')
  }
  const events = await dowser().wipeSimulated()
  return done(
    events === 0
      ? 'Simulated people had done nothing.'
      : `${countOf(events, 'event', 'events')} of simulated people taken out.`,
  )
}
