import { z } from 'zod'
import { recipeSchema } from '../../core/made/definitions.js'
import { propertySchema } from '../../core/questions/parts.js'
import { readJson } from '../../core/questions/readJson.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.tryEvent'

const tried = z.strictObject({
  recipe: recipeSchema,
  values: z.array(z.strictObject({ property: propertySchema, text: z.string().max(500) })).max(200),
})

/** The row of a rule set that catches an event with these values; null where the rules are not whole. */
export async function action({ request }: Route.ActionArgs): Promise<{ row: number | null }> {
  const asked = tried.safeParse(await request.text().then(readJson))
  if (!asked.success || asked.data.recipe.kind !== 'rules') return { row: null }
  return { row: await dowser().tryEvent(asked.data.recipe, asked.data.values) }
}
