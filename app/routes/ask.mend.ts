import { readJson } from '../../core/questions/readJson.js'
import { data } from 'react-router'
import { carryOut, mendSchema, type Mended } from '../catalog/mend.server.js'
import type { Route } from './+types/ask.mend'

/** A change to what is said, planned or made of the data. */
export async function action({ request }: Route.ActionArgs) {
  const parsed = mendSchema.safeParse(await request.text().then(readJson))
  if (parsed.success) return carryOut(parsed.data)
  const problems = parsed.error.issues.slice(0, 5).map(({ message, path }) => ({
    message: `That cannot be kept: ${message}.`,
    path: path.map((key) => (typeof key === 'symbol' ? String(key) : key)),
  }))
  return data<Mended>({ done: null, undo: null, problems }, { status: 400 })
}
