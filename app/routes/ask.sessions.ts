import { dowser } from '../door/dowser.server.js'
import type { FiguresReply } from '../sessions/SessionForm.js'
import { readSettings } from '../sessions/readSettings.server.js'
import type { Route } from './+types/ask.sessions'

/** What sessions are as they are cut now, and what they would be. */
export async function loader({ request }: Route.LoaderArgs): Promise<FiguresReply> {
  const text = new URL(request.url).searchParams.get('settings') ?? ''
  const { sessions } = dowser()
  const read = readSettings(text, await dowser().catalog())
  if ('problem' in read) return { asked: text, ...read }
  const [now, then] = await Promise.all([
    sessions.figures(sessions.get(), request.signal),
    sessions.figures(read, request.signal),
  ])
  return { asked: text, now, then }
}
