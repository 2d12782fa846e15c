import type { Analysis } from '../analysis.js'
import { explainEffect } from './explain.js'
import { effectFindings } from './findings.js'
import { finishEffect, type EffectResult } from './finish.js'
import { effectMark, type EffectMark } from './marks.js'
import { planEffect, type EffectPlan } from './plan.js'
import { effectMarks, effects } from './printed.js'
import { usualEffect, type EffectQuestion } from './question.js'
import { mergeEffect, nextEffect, scanEffect, selectEffect, type EffectPart } from './scan.js'
import { effectSchema, parseEffect } from './schema.js'
import { spokenEffect } from './spoken.js'

export const effect: Analysis<EffectQuestion, EffectMark, EffectPlan, EffectPart, EffectResult> = {
  ...spokenEffect,
  explain: explainEffect,
  schema: effectSchema,
  markSchemas: [effectMark],
  usual: usualEffect,
  parse: parseEffect,
  plan: planEffect,
  scan: scanEffect,
  merge: mergeEffect,
  next: nextEffect,
  finish: finishEffect,
  reads: ({ pass }) => pass === 'count',
  select: selectEffect,
  printed: effects,
  printedMarks: effectMarks,
  findings: effectFindings,
}
