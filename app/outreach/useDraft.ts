import { useCallback, useRef, useState } from 'react'
import { useUndoKeys } from '../editors/useUndoKeys.js'

interface Steps<T> {
  before: T[]
  now: T
  after: T[]
}

/** A definition that is being written, with its steps back and forth. Typing in one field is one step. */
export function useDraft<T>(saved: T) {
  const [steps, setSteps] = useState<Steps<T>>({ before: [], now: saved, after: [] })
  const typing = useRef(false)
  const edit = useCallback((now: T, how: 'choose' | 'type' = 'choose') => {
    const isSame = how === 'type' && typing.current
    typing.current = how === 'type'
    setSteps((at) => ({ before: isSame ? at.before : [...at.before, at.now], now, after: [] }))
  }, [])
  const endTyping = useCallback(() => {
    typing.current = false
  }, [])
  const undo = useCallback(() => {
    typing.current = false
    setSteps((at) =>
      at.before.length === 0
        ? at
        : { before: at.before.slice(0, -1), now: at.before.at(-1)!, after: [at.now, ...at.after] },
    )
  }, [])
  const redo = useCallback(() => {
    setSteps((at) =>
      at.after.length === 0 ? at : { before: [...at.before, at.now], now: at.after[0]!, after: at.after.slice(1) },
    )
  }, [])
  useUndoKeys(undo, redo)
  return {
    ...{ now: steps.now, edit, endTyping, undo, redo },
    ...{ canUndo: steps.before.length > 0, canRedo: steps.after.length > 0 },
  }
}
