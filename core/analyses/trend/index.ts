import { explainTrend } from './explain.js'
import { pickOf } from '../../questions/pickOf.js'
import { parseTrend, trendSchema } from './schema.js'
import type { TrendPlan } from './shape.js'
import type { Analysis } from '../analysis.js'
import { annotationsIn } from './annotations.js'
import { trendFindings } from './findings.js'
import { finishTrend, type TrendResult } from './finish.js'
import { nextTrend, planTrend, type TrendPart } from './plan.js'
import { usualTrend, type TrendQuestion } from './question.js'
import { mergeTrend, scanTrend } from './scan.js'
import { momentOfTrend, selectTrend } from './select.js'
import { trendMark, type TrendMark } from './marks.js'
import { pointMarks, trends } from './printed.js'
import { smoothedResult } from './shown.js'
import { spokenTrend } from './spoken.js'

export const trend: Analysis<TrendQuestion, TrendMark, TrendPlan, TrendPart, TrendResult> = {
  ...spokenTrend,
  explain: explainTrend,
  schema: trendSchema,
  markSchemas: [trendMark],
  usual: usualTrend,
  turn: {
    picks: ({ series }) => series.map(pickOf),
    about: (picks) => ({ ...usualTrend(''), series: picks.map((pick) => ({ ...pick, measure: 'people' })) }),
  },
  parse: parseTrend,
  plan: planTrend,
  scan: scanTrend,
  merge: mergeTrend,
  next: nextTrend,
  finish: finishTrend,
  reads: ({ pass }) => pass === 'count',
  select: selectTrend,
  moment: momentOfTrend,
  notesOn: ({ buckets }, notes) => annotationsIn(buckets, notes, undefined).map(({ annotation }) => annotation),
  printed: trends,
  printedMarks: pointMarks,
  given: smoothedResult,
  findings: trendFindings,
}
