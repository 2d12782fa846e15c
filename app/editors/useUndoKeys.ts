import { useEffect } from 'react'
import { isTyping } from '../ui/Shortcuts.js'

/** Ctrl+Z steps back, Ctrl+Shift+Z and Ctrl+Y forth; in a field they are the field's own. */
export function useUndoKeys(undo: () => void, redo: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || !(event.ctrlKey || event.metaKey)) return
      const key = event.key.toLowerCase()
      if (key !== 'z' && key !== 'y') return
      event.preventDefault()
      if (key === 'y' || event.shiftKey) redo()
      else undo()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [undo, redo])
}
