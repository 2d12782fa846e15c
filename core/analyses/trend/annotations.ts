import type { Bucket } from '../../time/buckets.js'
import type { Annotation } from '../../words/words.js'
import type { TrendQuestion } from './question.js'

export interface PlacedAnnotation {
  annotation: Annotation
  /** index of the bucket that its day lies in */
  bucket: number
}

/** The notes whose day lies in one of the buckets, as far as the question shows them, by day. */
export function annotationsIn(
  buckets: readonly Bucket[],
  annotations: readonly Annotation[] | undefined,
  notes: TrendQuestion['show']['notes'],
): PlacedAnnotation[] {
  const last = buckets.at(-1)
  if (!annotations || !last || notes === 'none') return []
  return annotations.flatMap((annotation) => {
    if (notes && !annotation.tags.includes(notes.tag)) return []
    const bucket = buckets.findLastIndex(({ key }) => key.slice(0, 10) <= annotation.day)
    const inside = bucket >= 0 && (bucket < buckets.length - 1 || Date.parse(`${annotation.day}T00:00:00Z`) < last.end)
    return inside ? [{ annotation, bucket }] : []
  })
}
