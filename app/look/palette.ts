/** The colours, by name. Paper, ink, water and hazel; the dark scheme has the same hues on an ink-blue ground. */
export interface Palette {
  paper: string
  sheet: string
  ink: string
  soft: string
  faint: string
  rule: string
  hairline: string
  water: string
  waterTint: string
  hazel: string
  hazelTint: string
  brick: string
  brickTint: string
  moss: string
  mossTint: string
  /** in this order; everything else is always the last */
  series: readonly string[]
  /** the bar that rises with a selection */
  tray: string
  trayInk: string
  onWater: string
}

export const light: Palette = {
  paper: '#F6F4EE',
  sheet: '#FFFFFF',
  ink: '#1D2B2F',
  soft: '#59686B',
  faint: '#8B9696',
  rule: '#E2DDD1',
  hairline: '#EEEAE0',
  water: '#0B6B67',
  waterTint: '#E3F0EE',
  hazel: '#8F5514',
  hazelTint: '#F7EBDB',
  brick: '#A63F2A',
  brickTint: '#F8E4DE',
  moss: '#4C7023',
  mossTint: '#EBF1E0',
  series: ['#0C695B', '#B88C1F', '#37529B', '#9E4537', '#819140', '#602B56', '#4A93BC', '#70848F'],
  tray: '#1D2B2F',
  trayInk: '#FFFFFF',
  onWater: '#FFFFFF',
}

export const dark: Palette = {
  paper: '#11191E',
  sheet: '#18232A',
  ink: '#E9EDEB',
  soft: '#A7B4B7',
  faint: '#76858A',
  rule: '#33424A',
  hairline: '#26333A',
  water: '#62C6BE',
  waterTint: '#173A3B',
  hazel: '#E0AA6E',
  hazelTint: '#3A2F20',
  brick: '#EC937C',
  brickTint: '#45281F',
  moss: '#A3CB75',
  mossTint: '#2A3A1D',
  series: ['#35AE98', '#D3AA45', '#8AA0E6', '#D88373', '#AEBE68', '#C08AB5', '#73B7DC', '#9AAEB6'],
  tray: '#2A3A43',
  trayInk: '#F4F6F5',
  onWater: '#0D1A1B',
}

/** The palettes as custom properties, for style sheets. */
export function paletteCss(): string {
  const block = (palette: Palette) =>
    Object.entries(palette)
      .flatMap(([name, value]) =>
        Array.isArray(value)
          ? value.map((colour, i) => `--series-${i}:${colour}`)
          : [`--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}:${value as string}`],
      )
      .join(';')
  return `:root{${block(light)};color-scheme:light}[data-scheme="dark"]{${block(dark)};color-scheme:dark}`
}

/** The colour of the k-th group; the rest, and whatever comes after the seventh, is grey. */
export function seriesColour(palette: Palette, index: number, rest: boolean): string {
  return palette.series[seriesPlace(index, rest)]
}

/** The same for style sheets. */
export function seriesVar(index: number, rest = false): string {
  return `var(--series-${seriesPlace(index, rest)})`
}

/** The last colour is that of everything else alone. */
function seriesPlace(index: number, rest: boolean): number {
  const last = light.series.length - 1
  return rest ? last : index % last
}
