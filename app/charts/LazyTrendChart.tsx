import { lazy, Suspense, type ComponentProps } from 'react'
import { Mounted } from '../ui/Mounted.js'

const Drawn = lazy(() => import('./TrendChart.js'))

/** The chart, loaded when first needed, in a box that already has its height. */
export function LazyTrendChart(props: ComponentProps<typeof Drawn>) {
  return (
    <div className="chart-space">
      <Mounted>
        <Suspense>
          <Drawn {...props} />
        </Suspense>
      </Mounted>
    </div>
  )
}
