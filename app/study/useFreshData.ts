import { useEffect } from 'react'
import { useRevalidator } from 'react-router'

/** Asks now and then whether data came in, and shows the new numbers. @param version state that the page is from */
export function useFreshData(version: number): void {
  const { revalidate, state } = useRevalidator()
  useEffect(() => {
    const timer = setInterval(() => {
      if (document.visibilityState !== 'visible' || state !== 'idle') return
      fetch('/ask/version')
        .then((response) => response.json() as Promise<{ version: number }>)
        .then((now) => {
          if (now.version > version) void revalidate()
        })
        .catch(() => {
          // The server is away for a moment: the next time tells.
        })
    }, 2000)
    return () => clearInterval(timer)
  }, [version, revalidate, state])
}
