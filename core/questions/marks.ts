import type { Mark } from './parts.js'

/** One text for one mark, in whatever order its parts were written. */
function markText(mark: Mark): string {
  return JSON.stringify(mark, (_key, value: unknown) =>
    value !== null && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  )
}

export function sameMark(a: Mark, b: Mark): boolean {
  return markText(a) === markText(b)
}

export function hasMark(chosen: readonly Mark[], mark: Mark): boolean {
  return chosen.some((other) => sameMark(other, mark))
}

/** The same for many marks: made once, asked of every cell of a table. */
export function amongMarks(chosen: readonly Mark[]): (mark: Mark) => boolean {
  const texts = new Set(chosen.map(markText))
  return texts.size === 0 ? () => false : (mark) => texts.has(markText(mark))
}

/**
 * What is chosen after a mark was pressed: alone it replaces the others, added it joins them, and pressed again it goes.
 * The one mark that was chosen, pressed again, leaves nothing chosen.
 */
export function pressMark(chosen: readonly Mark[], mark: Mark, add: boolean): Mark[] {
  if (!hasMark(chosen, mark)) return add ? [...chosen, mark] : [mark]
  if (add) return chosen.filter((other) => !sameMark(other, mark))
  return chosen.length > 1 ? [mark] : []
}
