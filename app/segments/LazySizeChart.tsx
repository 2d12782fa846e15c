import { lazy, Suspense, type ComponentProps } from 'react'

const Drawn = lazy(() => import('./SizeChart.js'))

/** The chart of sizes, loaded when first needed. */
export function LazySizeChart(props: ComponentProps<typeof Drawn>) {
  return (
    <Suspense>
      <Drawn {...props} />
    </Suspense>
  )
}
