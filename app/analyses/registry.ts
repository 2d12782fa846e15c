import type { AnalysisKind, Question, Result } from '../../core/analyses/registry.js'
import type { FunnelQuestion } from '../../core/analyses/funnel/question.js'
import type { FunnelResult } from '../../core/analyses/funnel/finish.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { CrosstabQuestion } from '../../core/analyses/crosstab/question.js'
import type { CrosstabResult } from '../../core/analyses/crosstab/finish.js'
import type { OverlapQuestion } from '../../core/analyses/overlap/question.js'
import type { OverlapResult } from '../../core/analyses/overlap/finish.js'
import type { GapsQuestion } from '../../core/analyses/gaps/question.js'
import type { GapsResult } from '../../core/analyses/gaps/finish.js'
import type { GrowthQuestion } from '../../core/analyses/growth/question.js'
import type { GrowthResult } from '../../core/analyses/growth/finish.js'
import type { HabitQuestion } from '../../core/analyses/habit/question.js'
import type { HabitResult } from '../../core/analyses/habit/finish.js'
import type { RetentionQuestion } from '../../core/analyses/retention/question.js'
import type { RetentionResult } from '../../core/analyses/retention/finish.js'
import { crosstabView } from './crosstab/CrosstabView.js'
import { funnelView } from './funnel/FunnelView.js'
import { gapsView } from './gaps/GapsView.js'
import { growthView } from './growth/GrowthView.js'
import { habitView } from './habit/HabitView.js'
import { overlapView } from './overlap/OverlapView.js'
import { retentionView } from './retention/RetentionView.js'
import { trendView } from './trend/TrendView.js'
import type { AnalysisView } from './view.js'

interface Kinds {
  trend: [TrendQuestion, TrendResult]
  funnel: [FunnelQuestion, FunnelResult]
  crosstab: [CrosstabQuestion, CrosstabResult]
  overlap: [OverlapQuestion, OverlapResult]
  retention: [RetentionQuestion, RetentionResult]
  habit: [HabitQuestion, HabitResult]
  growth: [GrowthQuestion, GrowthResult]
  gaps: [GapsQuestion, GapsResult]
}

/** Does not compile until a new kind has its chart, table and editors. */
const views: { [K in AnalysisKind]: AnalysisView<Kinds[K][0], Kinds[K][1]> } = {
  trend: trendView,
  funnel: funnelView,
  crosstab: crosstabView,
  overlap: overlapView,
  retention: retentionView,
  habit: habitView,
  growth: growthView,
  gaps: gapsView,
}

/** The view of a kind, with its types forgotten: a question and its own result go in together. */
export function viewOf(kind: AnalysisKind): AnalysisView<Question, Result> {
  return views[kind] as unknown as AnalysisView<Question, Result>
}
