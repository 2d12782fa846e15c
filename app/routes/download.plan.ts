import { dowser } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import type { Route } from './+types/download.plan'

/** The tracking plan as CSV or as JSON Schema. */
export function loader({ request }: Route.LoaderArgs) {
  const name = `${dowser().settings.get().name} tracking plan`
  if (new URL(request.url).pathname.endsWith('.csv'))
    return new Response(dowser().plan.csv(), { headers: fileHeaders(name, 'csv', 'text/csv') })
  return new Response(JSON.stringify(dowser().plan.jsonSchema(), null, 2), {
    headers: fileHeaders(name, 'schema.json', 'application/schema+json'),
  })
}
