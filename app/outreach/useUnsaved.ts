import { useEffect } from 'react'
import { useBeforeUnload, useBlocker } from 'react-router'

const ASK = 'What you have written is not saved. Leave it?'

/** Asks before what is not saved is left. @param own addresses that saving leads to begin so */
export function useUnsaved(unsaved: boolean, own: string): void {
  useBeforeUnload((event) => {
    if (unsaved) event.preventDefault()
  })
  const blocker = useBlocker(
    ({ nextLocation }) => unsaved && !nextLocation.pathname.startsWith(own) && !window.confirm(ASK),
  )
  useEffect(() => {
    if (blocker.state === 'blocked') blocker.reset()
  }, [blocker])
}
