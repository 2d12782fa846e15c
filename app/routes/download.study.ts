import { dowser } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import { readQuestion } from '../address/readAddress.server.js'
import type { Route } from './+types/download.study'

/** A study's definition and result, as the API gives them. */
export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const read = readQuestion(search)
  if (!read) return new Response('The address has no study.', { status: 400 })
  const reply = await dowser().run(read.question, request.signal)
  const body = {
    question: read.question,
    asOf: new Date(reply.now).toISOString(),
    result: reply.result,
    faults: reply.faults,
  }
  return new Response(JSON.stringify(body, null, 2), {
    headers: fileHeaders(search.get('name') ?? 'study', 'json', 'application/json'),
  })
}
