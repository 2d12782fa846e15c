import { explainOverlap } from './explain.js'
import { overlapSchema, parseOverlap } from './schema.js'
import type { Analysis } from '../analysis.js'
import { overlapFindings } from './findings.js'
import { finishOverlap, type OverlapResult } from './finish.js'
import { nextOverlap, planOverlap, type OverlapPart, type OverlapPlan } from './plan.js'
import { usualOverlap, type OverlapQuestion } from './question.js'
import { mergeOverlap, scanOverlap, selectOverlap } from './scan.js'
import { overlapMark, type OverlapMark } from './marks.js'
import { partMarks, overlaps } from './printed.js'
import { spokenOverlap } from './spoken.js'

export const overlap: Analysis<OverlapQuestion, OverlapMark, OverlapPlan, OverlapPart, OverlapResult> = {
  ...spokenOverlap,
  explain: explainOverlap,
  schema: overlapSchema,
  markSchemas: [overlapMark],
  usual: usualOverlap,
  parse: parseOverlap,
  plan: planOverlap,
  scan: scanOverlap,
  merge: mergeOverlap,
  next: nextOverlap,
  finish: finishOverlap,
  reads: () => true,
  select: selectOverlap,
  printed: overlaps,
  printedMarks: partMarks,
  findings: overlapFindings,
}
