const RISKY = /^[=+\-@\t\r]/
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
  return /^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell
}
