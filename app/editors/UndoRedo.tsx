import RedoIcon from '@mui/icons-material/Redo'
import UndoIcon from '@mui/icons-material/Undo'
import IconButton from '@mui/material/IconButton'

/** The two buttons of a page head that step back and forth. */
export function UndoRedo(props: { undo: () => void; redo: () => void; canUndo: boolean; canRedo: boolean }) {
  const { undo, redo, canUndo, canRedo } = props
  return (
    <>
      <IconButton size="small" aria-label="Undo" disabled={!canUndo} onClick={undo}>
        <UndoIcon fontSize="small" />
      </IconButton>
      <IconButton size="small" aria-label="Redo" disabled={!canRedo} onClick={redo}>
        <RedoIcon fontSize="small" />
      </IconButton>
    </>
  )
}
