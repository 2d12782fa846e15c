import Button from '@mui/material/Button'
import Snackbar from '@mui/material/Snackbar'
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { useRevalidator } from 'react-router'
import type { Mend, Mended } from './mend.server.js'
import { sendMend } from './sendMend.js'

interface Mending {
  /** Carries out a change and shows it; a short message offers to undo it. @returns what came of it */
  mend: (change: Mend) => Promise<Mended>
  busy: boolean
}
const MendContext = createContext<Mending | null>(null)

export function useMend(): Mending {
  const mending = useContext(MendContext)
  if (!mending) throw new Error('used outside of MendProvider')
  return mending
}

/** Where changes to the catalog go through: one at a time, each told of, each undone by a press or by Ctrl+Z. */
export function MendProvider({ children }: { children: ReactNode }) {
  const { revalidate } = useRevalidator()
  const [told, setTold] = useState<{ text: string; undo: Mend | null; bad: boolean } | null>(null)
  const [busy, setBusy] = useState(false)
  const undoable = useRef<Mend[]>([])

  const send = useCallback(
    async (change: Mend, isUndo: boolean): Promise<Mended> => {
      setBusy(true)
      try {
        const result = await sendMend(change)
        if (result.done !== null) {
          if (result.undo && !isUndo) undoable.current.push(result.undo)
          setTold({
            text: isUndo ? `Undone: ${result.done}` : result.done,
            undo: isUndo ? null : result.undo,
            bad: false,
          })
        }
        await revalidate()
        return result
      } catch {
        const message = 'The server did not answer. Nothing was changed; try once more.'
        setTold({ text: message, undo: null, bad: true })
        return { done: null, undo: null, problems: [{ message, path: [] }] }
      } finally {
        setBusy(false)
      }
    },
    [revalidate],
  )
  const undoLast = useCallback(() => {
    const last = undoable.current.pop()
    if (last) void send(last, true)
  }, [send])

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.shiftKey || event.key.toLowerCase() !== 'z') return
      const target = event.target as HTMLElement
      if (/^(input|textarea|select)$/i.test(target.tagName) || target.isContentEditable) return
      if (undoable.current.length === 0) return
      event.preventDefault()
      undoLast()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [undoLast])

  const value = useMemo(() => ({ mend: (change: Mend) => send(change, false), busy }), [send, busy])
  return (
    <MendContext value={value}>
      {children}
      <Snackbar
        open={told !== null}
        autoHideDuration={told?.bad ? 10_000 : 6000}
        onClose={(_event, why) => why !== 'clickaway' && setTold(null)}
        message={told?.text}
        action={
          told?.undo && (
            <Button
              className="snack-undo"
              onClick={() => {
                setTold(null)
                undoLast()
              }}
            >
              Undo
            </Button>
          )
        }
      />
    </MendContext>
  )
}
