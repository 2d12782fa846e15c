import { readJson } from '../../core/questions/readJson.js'
import type { GapsResult } from '../../core/analyses/gaps/finish.js'
import { analysisOf } from '../../core/analyses/registry.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.usage'

/** How often people naturally come: what the choice of an interval is helped by. null where it cannot be told. */
export async function loader({ request }: Route.LoaderArgs): Promise<GapsResult | null> {
  const text = new URL(request.url).searchParams.get('q') ?? ''
  let asked: unknown = null
  try {
    asked = readJson(text)
  } catch {
    return null
  }
  const { question, faults } = analysisOf('gaps').parse(asked)
  if (faults.length > 0) return null
  const { result } = await dowser().run(question)
  return result?.kind === 'gaps' ? result : null
}
