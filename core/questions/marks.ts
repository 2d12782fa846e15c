import type { AnyMark } from './study.js'

/** One text for one mark, in whatever order its parts were written. */
function markText(mark: AnyMark): string {
  return JSON.stringify(mark, (_key, value: unknown) =>
    value !== null && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  )
}

export function sameMark(a: AnyMark, b: AnyMark): boolean {
  return markText(a) === markText(b)
}

export function hasMark(chosen: readonly AnyMark[], mark: AnyMark): boolean {
  return chosen.some((other) => sameMark(other, mark))
}

/** The same for many marks: made once, asked of every cell of a table. */
export function amongMarks(chosen: readonly AnyMark[]): (mark: AnyMark) => boolean {
  const texts = new Set(chosen.map(markText))
  return texts.size === 0 ? () => false : (mark) => texts.has(markText(mark))
}

/**
 * What is chosen after a mark was pressed: alone it replaces the others, added it joins them, and pressed again it goes.
 * The one mark that was chosen, pressed again, leaves nothing chosen.
 */
export function pressMark<M extends AnyMark>(chosen: readonly M[], mark: M, add: boolean): M[] {
  if (!hasMark(chosen, mark)) return add ? [...chosen, mark] : [mark]
  if (add) return chosen.filter((other) => !sameMark(other, mark))
  return chosen.length > 1 ? [mark] : []
}
