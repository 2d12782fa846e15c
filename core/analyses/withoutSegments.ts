import type { Fault } from '../questions/faults.js'
import type { Split } from '../questions/split.js'
import type { Question } from './registry.js'

type Path = Fault['path']

/** A question with nothing of segments in it, and where its parts stand in the question that it was. */
export interface WithoutSegments {
  question: Question
  placeOf: (path: Path) => Path
}

/**
 * What can still be read of a question when the people it speaks of cannot: so that everything else that is wrong is
 * told at once.
 * @returns null where nothing is left
 */
export function withoutSegments(question: Question): WithoutSegments | null {
  if (question.kind === 'overlap') return null
  const { among: _among, ...rest } = question
  if (rest.kind === 'growth' || rest.kind === 'gaps') return { question: rest, placeOf: (path) => path }
  if (rest.kind === 'crosstab') {
    const { column, ...laid } = rest
    const rows = left(rest.rows)
    const kept = column && column.by.of !== 'segments' ? { column } : {}
    // A table has rows: those of the weekdays are never wrong.
    const asked = rows.length > 0 ? rows.map(({ split }) => split) : [{ by: { of: 'weekday' as const }, keep: 7 }]
    return { question: { ...laid, rows: asked, ...kept }, placeOf: backTo('rows', rows) }
  }
  const breakdowns = left((rest.breakdowns ?? []) as Split[])
  const { breakdowns: _breakdowns, ...plain } = rest
  const asked = breakdowns.length > 0 ? { breakdowns: breakdowns.map(({ split }) => split) } : {}
  return { question: { ...plain, ...asked } as Question, placeOf: backTo('breakdowns', breakdowns) }
}

function left(splits: readonly Split[]): { split: Split; index: number }[] {
  return splits.map((split, index) => ({ split, index })).filter(({ split }) => split.by.of !== 'segments')
}

function backTo(list: string, kept: readonly { index: number }[]): (path: Path) => Path {
  return (path) => {
    const [head, place, ...rest] = path
    return head === list && typeof place === 'number' ? [head, kept[place]?.index ?? place, ...rest] : path
  }
}
