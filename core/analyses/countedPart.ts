import { isKind, kindOf } from './kinds.js'
import type { StudyDefinition } from '../questions/study.js'

/** What of a definition decides its numbers: how a result is drawn does not, where its kind does not say otherwise. */
export function countedPart(definition: object): object {
  if (!('kind' in definition) || typeof definition.kind !== 'string' || !isKind(definition.kind))
    return { ...definition, show: undefined }
  const study = definition as StudyDefinition
  return kindOf(study.kind).counted?.(study) ?? { ...study, show: undefined }
}
