import { useEffect, useRef, type RefObject } from 'react'
import { isTyping } from '../ui/Shortcuts.js'

/** `s` and Ctrl+S press the button that saves, where there is one that can be pressed; in a field they are the field's own. */
export function useSaveKey(): RefObject<HTMLButtonElement | null> {
  const button = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.key !== 's' || event.altKey || event.shiftKey) return
      if (event.ctrlKey || event.metaKey) event.preventDefault()
      button.current?.click()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  return button
}
