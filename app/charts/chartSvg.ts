import { Chart } from 'chart.js'
import { Context } from 'svgcanvas'

/**
 * Draws the chart of a canvas anew as SVG: the same lines, words and plugins, as shapes that can be scaled and edited.
 * @param title stands in the file as its title
 * @returns null where the canvas has no chart
 */
export function chartSvg(canvas: HTMLCanvasElement, title: string): string | null {
  const chart = Chart.getChart(canvas)
  if (!chart) return null
  const { width, height } = chart
  const context = new Context({ width, height }) as unknown as CanvasRenderingContext2D & {
    getSerializedSvg(fixNamedEntities?: boolean): string
  }
  // Chart.js looks at the canvas behind the context, and sets its size: a plain one that hands out this context will do.
  const stand = document.createElement('canvas')
  stand.width = width
  stand.height = height
  Object.defineProperty(context, 'canvas', { value: stand, configurable: true })
  stand.getContext = (() => context) as unknown as typeof stand.getContext
  // What only screens have: clearing, and the transform that undoes itself.
  const drawn = new Chart(stand, {
    ...chart.config,
    type: (chart.config as { type: 'line' }).type,
    data: {
      ...chart.config.data,
      // Lines with a style for their pieces are drawn stroke by stroke; all others are kept as paths of the browser's own,
      // which nothing else can read.
      datasets: chart.config.data.datasets.map((set) => ({ segment: {}, ...set })),
    },
    options: {
      ...chart.config.options,
      responsive: false,
      animation: false,
      devicePixelRatio: 1,
      events: [],
    },
    plugins: chart.config.plugins ?? [],
  } as ConstructorParameters<typeof Chart>[1])
  const svg = context.getSerializedSvg(true)
  drawn.destroy()
  const escaped = title.replace(/&/g, '&amp;').replace(/</g, '&lt;')
  // Room around it: where the page's typeface is missing, another one takes more.
  return svg.replace(
    /<svg([^>]*?) width="[^"]*" height="[^"]*">/,
    `<svg$1 width="${width + 64}" height="${height + 16}" viewBox="-12 -8 ${width + 64} ${height + 16}"><title>${escaped}</title>`,
  )
}
