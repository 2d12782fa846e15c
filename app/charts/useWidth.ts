import { useEffect, useState, type RefObject } from 'react'

/** How wide a box is, px, as it changes. @param start what is thought of it before it is measured */
export function useWidth(box: RefObject<HTMLElement | null>, start: number): number {
  const [width, setWidth] = useState(start)
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.round(entry.contentRect.width)))
    if (box.current) observer.observe(box.current)
    return () => observer.disconnect()
  }, [box])
  return width
}
