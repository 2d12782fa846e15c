import type { Analysis } from '../analysis.js'
import { overlapFindings } from './findings.js'
import { finishOverlap, type OverlapResult } from './finish.js'
import { nextOverlap, planOverlap, type OverlapPart, type OverlapPlan } from './plan.js'
import { overlapSchema, parseOverlap, usualOverlap, type OverlapQuestion } from './question.js'
import { mergeOverlap, scanOverlap, selectOverlap } from './scan.js'
import { overlapSentence } from './sentence.js'

export const overlap: Analysis<OverlapQuestion, OverlapPlan, OverlapPart, OverlapResult> = {
  kind: 'overlap',
  schema: overlapSchema,
  usual: usualOverlap,
  parse: parseOverlap,
  plan: planOverlap,
  scan: scanOverlap,
  merge: mergeOverlap,
  next: nextOverlap,
  finish: finishOverlap,
  reads: () => true,
  select: selectOverlap,
  sentence: overlapSentence,
  findings: overlapFindings,
}
