import { readJson } from '../../core/questions/readJson.js'
import type { MadePreview, RulesCaught } from '../../core/made/preview.js'
import { findNever, type Never } from '../../core/made/never.js'
import { dowser } from '../door/dowser.server.js'
import type { Mended } from '../catalog/mend.server.js'
import type { Route } from './+types/ask.preview'

/** What a definition would give; or what is wrong with it. */
export type PreviewReply =
  | { problems: Mended['problems'] }
  | {
      problems: []
      preview: MadePreview
      /** of rules: what each row catches, the fallback last, and rows that can never match */
      counts: RulesCaught | null
      never: (Never | null)[]
    }

export async function action({ request }: Route.ActionArgs): Promise<PreviewReply> {
  const read = dowser().mending.readDerived(await request.text().then(readJson))
  if ('problems' in read) return { problems: read.problems }
  const { definition } = read
  const isRules = definition.recipe.kind === 'rules'
  return {
    problems: [],
    preview: await dowser().previewDerived(definition),
    counts: isRules && definition.of === 'event' ? await dowser().countRules(definition) : null,
    never: definition.recipe.kind === 'rules' ? findNever(definition.recipe.rows) : [],
  }
}
