import { Link } from 'react-router'
import { dowser } from '../door/dowser.server.js'
import { SessionForm, type SaveReply } from '../sessions/SessionForm.js'
import { readSettings } from '../sessions/readSettings.server.js'
import type { Route } from './+types/workspace.sessions'

export async function loader() {
  const { ready } = await dowser().status()
  const sources = ready ? await dowser().values({ of: 'source' }, '', 50) : []
  return { settings: dowser().sessions.get(), sources: sources.map(({ value }) => String(value)) }
}

export async function action({ request }: Route.ActionArgs): Promise<SaveReply> {
  const text = String((await request.formData()).get('settings') ?? '')
  const read = readSettings(text, await dowser().catalog())
  if ('problem' in read) return read
  const before = dowser().sessions.get()
  await dowser().sessions.set(read)
  return { saved: true, before }
}

export const meta = () => [{ title: 'Sessions · Dowser' }]

/** How the workspace cuts what people do into sessions, with what a change does to their number and length. */
export default function SessionsRoute({ loaderData }: Route.ComponentProps) {
  const { settings, sources } = loaderData
  return (
    <main className="page narrow">
      <nav className="crumbs" aria-label="Breadcrumbs">
        <Link to="/workspace">Workspace</Link>
        <span aria-hidden="true">›</span>
        <strong>Sessions</strong>
      </nav>
      <h1 className="question">When does a session end?</h1>
      <SessionForm settings={settings} sources={sources} />
    </main>
  )
}
