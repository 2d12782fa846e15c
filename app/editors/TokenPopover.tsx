import Popover from '@mui/material/Popover'
import type { ReactNode } from 'react'

/** The small editor of a token: opens where the token stands, stays there while the sentence changes, closes with Esc. */
export function TokenPopover(props: {
  at: { left: number; top: number } | null
  label: string
  onClose: () => void
  children: ReactNode
  width?: number
}) {
  const { at, label, onClose, children, width = 340 } = props
  return (
    <Popover
      open={at !== null}
      onClose={onClose}
      anchorReference="anchorPosition"
      anchorPosition={at ?? { left: 0, top: 0 }}
      transitionDuration={{ enter: 90, exit: 0 }}
      slotProps={{ paper: { role: 'dialog', 'aria-label': label, style: { width, maxWidth: 'calc(100vw - 24px)' } } }}
    >
      <div className="editor">{children}</div>
    </Popover>
  )
}

export function placeUnder(element: HTMLElement): { left: number; top: number } {
  const box = element.getBoundingClientRect()
  return { left: box.left, top: box.bottom + 6 }
}
