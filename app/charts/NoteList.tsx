import type { PlacedAnnotation } from '../../core/analyses/trend/annotations.js'
import type { Bucket } from '../../core/time/buckets.js'
import { formatDay } from '../../core/words/format.js'
import type { Words } from '../../core/words/words.js'
import type { AnnotationDraft } from '../study/AnnotationDialog.js'

/** The dated notes of a chart in full, each to be changed, and a new one. */
export function NoteList(props: {
  placed: readonly PlacedAnnotation[]
  buckets: readonly Bucket[]
  words: Words
  onAnnotate: (draft: AnnotationDraft) => void
}) {
  const { placed, buckets, words, onAnnotate } = props
  const last = buckets.findLast(({ open }) => !open) ?? buckets.at(-1)
  return (
    <ul className="note-list" aria-label="Notes on the chart">
      {placed.map(({ annotation }) => (
        <li key={annotation.id}>
          <button type="button" className="note-chip" onClick={() => onAnnotate(annotation)}>
            <b>{formatDay(annotation.day, words.thisYear)}</b> {annotation.text}
          </button>
        </li>
      ))}
      {last && (
        <li>
          <button type="button" className="addition" onClick={() => onAnnotate(newNote(last.key))}>
            + note on the chart
          </button>
        </li>
      )}
    </ul>
  )
}

/** A note still to be written, on the first day of a bucket. */
export function newNote(bucketKey: string): AnnotationDraft {
  return { day: bucketKey.slice(0, 10), text: '', tags: [], study: null }
}
