import { Chart, type ChartConfiguration } from 'chart.js'
import '../app/charts/register.js'

/** What was drawn, in the order in which it was. */
export type Drawn =
  | { did: 'stroke'; colour: string; dashed: boolean; points: [number, number][]; clipped: number | null }
  | { did: 'fill'; colour: string; points: [number, number][] }
  | { did: 'text'; colour: string; text: string; x: number; y: number }

interface State {
  strokeStyle: string
  fillStyle: string
  dash: number[]
  /** px from the left, beyond which nothing is drawn; null = everywhere */
  clip: number | null
  /** px that the origin was moved by */
  origin: [number, number]
}

/** A canvas that writes down what is drawn on it; its letters are 6 px wide. */
function notingCanvas(width: number, height: number): { canvas: HTMLCanvasElement; drawn: Drawn[] } {
  const drawn: Drawn[] = []
  let state: State = { strokeStyle: '', fillStyle: '', dash: [], clip: null, origin: [0, 0] }
  const kept: State[] = []
  let points: [number, number][] = []
  let right: number | null = null
  const to = (x: number, y: number) => void points.push([x, y])
  const did: Record<string, unknown> = {
    save: () => kept.push({ ...state }),
    restore: () => (state = kept.pop() ?? state),
    beginPath: () => {
      points = []
      right = null
    },
    moveTo: to,
    lineTo: to,
    arc: to,
    rect(x: number, y: number, wide: number, high: number) {
      right = x + wide
      points.push([x, y], [x + wide, y + high])
    },
    translate: (x: number, y: number) => (state.origin = [state.origin[0] + x, state.origin[1] + y]),
    clip: () => (state.clip = Math.min(state.clip ?? Infinity, right ?? Infinity)),
    setLineDash: (dash: number[]) => (state.dash = dash),
    getLineDash: () => state.dash,
    stroke: () =>
      drawn.push({
        ...{ did: 'stroke', colour: state.strokeStyle, dashed: state.dash.length > 0 },
        ...{ points, clipped: state.clip },
      }),
    fill: () => drawn.push({ did: 'fill', colour: state.fillStyle, points }),
    fillText: (text: string, x: number, y: number) =>
      drawn.push({
        did: 'text',
        colour: state.fillStyle,
        text: String(text),
        x: x + state.origin[0],
        y: y + state.origin[1],
      }),
    measureText: (text: string) => ({ width: text.length * 6 }),
  }
  const context = new Proxy(did, {
    get: (target, name) =>
      name in target
        ? target[name as string]
        : name in state
          ? state[name as 'dash']
          : name === 'canvas'
            ? canvas
            : () => null,
    set(target, name, value) {
      if (name in state) state = { ...state, [name]: value as string }
      else target[name as string] = value
      return true
    },
  })
  const canvas = { width, height, style: {}, getContext: () => context } as unknown as HTMLCanvasElement
  return { canvas, drawn }
}

/** Draws a chart for real, on a canvas that writes down what is drawn. */
export function drawnBy(config: ChartConfiguration<never, never, never> | object, width = 900, height = 400) {
  const { canvas, drawn } = notingCanvas(width, height)
  const { options, ...rest } = config as ChartConfiguration
  const chart = new Chart(canvas, { ...rest, options: { ...options, responsive: false, devicePixelRatio: 1 } })
  const placesOf = (dataset: number) =>
    chart.getDatasetMeta(dataset).data.map((each) => each.getProps(['x', 'y'], true) as { x: number; y: number })
  const places = chart.data.datasets.map((_, index) => placesOf(index))
  const { chartArea } = chart
  chart.destroy()
  return { drawn, places, chartArea }
}
