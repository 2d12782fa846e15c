import { dowser } from '../door/dowser.server.js'
import { readQuestion } from '../address/readAddress.server.js'
import type { Route } from './+types/ask.progress'

/** How far the answer to a question is, in people scanned; null when it is not being worked on. */
export async function loader({ request }: Route.LoaderArgs) {
  const read = readQuestion(new URL(request.url).searchParams)
  return read ? dowser().progress(read.question) : null
}
