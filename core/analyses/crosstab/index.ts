import { explainCrosstab } from './explain.js'
import { pickOf } from '../../questions/pickOf.js'
import { crosstabSchema, parseCrosstab } from './schema.js'
import type { Analysis } from '../analysis.js'
import { crosstabFindings } from './findings.js'
import { finishCrosstab, type CrosstabResult } from './finish.js'
import { nextCrosstab, planCrosstab, type CrosstabPart, type CrosstabPlan } from './plan.js'
import { usualCrosstab, type CrosstabQuestion } from './question.js'
import { mergeCrosstab, scanCrosstab, selectCrosstab } from './scan.js'
import { crosstabMark, type CrosstabMark } from './marks.js'
import { cellMarks, crosstabs } from './printed.js'
import { spokenCrosstab } from './spoken.js'

export const crosstab: Analysis<CrosstabQuestion, CrosstabMark, CrosstabPlan, CrosstabPart, CrosstabResult> = {
  ...spokenCrosstab,
  explain: explainCrosstab,
  schema: crosstabSchema,
  markSchemas: [crosstabMark],
  usual: usualCrosstab,
  turn: {
    picks: ({ series }) => series.map(pickOf),
    about: (picks) => ({ ...usualCrosstab(''), series: picks.map((pick) => ({ ...pick, measure: 'people' })) }),
    splits: ({ rows, column }) => (column ? [...rows, column] : rows),
    splitBy: (rows) => ({ rows }),
  },
  parse: parseCrosstab,
  plan: planCrosstab,
  scan: scanCrosstab,
  merge: mergeCrosstab,
  next: nextCrosstab,
  finish: finishCrosstab,
  reads: ({ pass }) => pass === 'count',
  select: selectCrosstab,
  printed: crosstabs,
  printedMarks: cellMarks,
  findings: crosstabFindings,
}
