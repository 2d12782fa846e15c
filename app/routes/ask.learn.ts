import { data } from 'react-router'
import { parseQuestion } from '../../core/analyses/registry.js'
import { readJson } from '../../core/questions/readJson.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.learn'

/** Has what a question foretells learned anew: the next answer is one of a model that is trained for it. */
export async function action({ request }: Route.ActionArgs): Promise<unknown> {
  const text = (await request.formData()).get('question')
  const { question, faults } = parseQuestion(readJson(typeof text === 'string' ? text : 'null'))
  if (faults.length > 0) return data({ problem: 'This question cannot be read.' }, { status: 400 })
  await dowser().learnAnew(question)
  return {}
}
