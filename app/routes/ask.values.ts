import { readJson } from '../../core/questions/readJson.js'
import { propertySchema } from '../../core/questions/parts.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.values'

/** The commonest values of a property that contain what was typed. */
export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const property = propertySchema.safeParse(parse(search.get('property')))
  const text = search.get('search') ?? ''
  if (!property.success) return { values: [], search: text }
  const found = await dowser().values(property.data, text, 40)
  return { search: text, values: found.map(({ value, count }) => ({ value: String(value), count })) }
}

function parse(text: string | null): unknown {
  try {
    return readJson(text ?? 'null') as unknown
  } catch {
    return null
  }
}
