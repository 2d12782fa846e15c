import { knowKinds } from '../../core/analyses/kinds.js'
import type { AnyMark } from '../../core/questions/study.js'
import type { AnalysisKind, Question, Result } from '../../core/analyses/registry.js'
import { attribution } from './attribution/index.js'
import { crosstab } from './crosstab/index.js'
import { effect } from './effect/index.js'
import { funnel } from './funnel/index.js'
import { gaps } from './gaps/index.js'
import { growth } from './growth/index.js'
import { habit } from './habit/index.js'
import { likelihood } from './likelihood/index.js'
import { overlap } from './overlap/index.js'
import { paths } from './paths/index.js'
import { retention } from './retention/index.js'
import { sessions } from './sessions/index.js'
import { tipping } from './tipping/index.js'
import { trend } from './trend/index.js'
import type { ShownKind } from './view.js'

/** The kinds of study as pages show them, in the order of Home. Does not compile until a new kind has its line. */
export const shownKinds = {
  trend,
  crosstab,
  funnel,
  paths,
  retention,
  tipping,
  likelihood,
  habit,
  growth,
  gaps,
  sessions,
  attribution,
  overlap,
  effect,
} satisfies Record<AnalysisKind, unknown>
// A page knows of each kind what it says; how it is counted stays on the server.
knowKinds(shownKinds)

type AnyKind = ShownKind<Question, AnyMark, Result>

/** The view of a kind, with its types forgotten: a question and its own result go in together. */
export function viewOf(kind: AnalysisKind): AnyKind {
  return shownKinds[kind] as unknown as AnyKind
}
