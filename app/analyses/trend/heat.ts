/** Shades a cell by its size: from the sheet's own ground at 0 to the colour of water at the largest. */
export function heatStyle(value: number | null, most: number): { background?: string } {
  if (value === null || !(most > 0) || value <= 0) return {}
  return { background: `color-mix(in srgb, var(--water) ${Math.round(4 + (value / most) * 42)}%, var(--sheet))` }
}
