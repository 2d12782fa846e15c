import { Chart } from 'chart.js'
import { useEffect, useRef } from 'react'
import { seriesColour } from '../look/palette.js'
import { usePalette } from '../look/usePalette.js'
import './register.js'
import type { ChartLine } from './trendSeries.js'

/** Shares of a whole as a ring. The names and numbers stand beside it, so it is for the eye alone. */
export default function RingChart({
  lines,
  onPress,
}: {
  lines: readonly Pick<ChartLine, 'label' | 'total' | 'place' | 'rest'>[]
  onPress?: (place: number, add: boolean) => void
}) {
  const palette = usePalette()
  const canvas = useRef<HTMLCanvasElement>(null)
  const latest = useRef(onPress)
  latest.current = onPress
  useEffect(() => {
    const made = new Chart(canvas.current!, {
      type: 'doughnut',
      data: {
        labels: lines.map(({ label }) => label),
        datasets: [
          {
            data: lines.map(({ total }) => total ?? 0),
            backgroundColor: lines.map((line) => seriesColour(palette, line.place, line.rest)),
            borderColor: palette.sheet,
            borderWidth: 2,
          },
        ],
      },
      options: {
        responsive: true,
        maintainAspectRatio: false,
        cutout: '62%',
        plugins: { tooltip: { enabled: false } },
        onClick(event, [hit]) {
          const native = event.native as MouseEvent
          if (hit) latest.current?.(hit.index, native.shiftKey || native.ctrlKey || native.metaKey)
        },
      },
    })
    return () => made.destroy()
  }, [lines, palette])
  return <canvas ref={canvas} aria-hidden="true" />
}
