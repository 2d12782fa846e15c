import { data } from 'react-router'
import { readJson } from '../../core/questions/readJson.js'
import type { TakeView } from '../../server/doors/takeBack.js'
import { takeChoiceSchema } from '../door/dowser.shared.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.takeBack'

/** What would be taken back; nothing is changed. */
export async function action({ request }: Route.ActionArgs) {
  const choice = takeChoiceSchema.safeParse(await request.text().then(readJson))
  if (!choice.success)
    return data<{ problem: string }>({ problem: 'What is to be taken back was not understood.' }, 400)
  return dowser().takeBack.look(choice.data) as Promise<TakeView>
}
