// Some programs read the full-width forms of the signs as the signs, and begin anew after a line's end.
const RISKY = /^[=+\-@\t\r\n＝＋－＠]/
const NUMBER = /^[-+]?(\d+([.,]\d+)*|[.,]\d+)(e[-+]?\d+)?%?$/i

/**
 * A cell of an exported table that no spreadsheet takes for a formula: a text that begins like one gets an apostrophe
 * before it. Numbers, also written as text, stay as they are.
 */
export function safeCell<T>(cell: T): T | string {
  return typeof cell === 'string' && RISKY.test(cell) && !NUMBER.test(cell) ? `'${cell}` : cell
}

/** Takes the apostrophe away again, of a cell that `safeCell` made. */
export function plainCell(cell: string): string {
  return cell.startsWith("'") && RISKY.test(cell.slice(1)) ? cell.slice(1) : cell
}
