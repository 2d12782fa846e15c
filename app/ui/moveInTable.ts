import type { KeyboardEvent } from 'react'
import { arrowMove } from './arrows.js'

/** Arrow keys go from cell to cell. */
export function moveInTable(event: KeyboardEvent<HTMLTableElement>): void {
  const move = arrowMove(event.key)
  const here = (event.target as HTMLElement).closest('td')
  if (!move || !here) return
  const row = here.parentElement as HTMLTableRowElement
  const rows = [...event.currentTarget.tBodies[0].rows]
  let r = rows.indexOf(row)
  let c = here.cellIndex
  for (;;) {
    r += move[0]
    c += move[1]
    const next = rows[r]?.cells[c]
    if (!next) return
    const button = next.matches('[data-cell]') ? next : next.querySelector<HTMLElement>('[data-cell]')
    if (button) {
      event.preventDefault()
      return button.focus()
    }
  }
}
