import { Suspense, useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { deferred } from '../page/deferred.js'

const ShortcutList = deferred(async () => (await import('./ShortcutList.js')).ShortcutList)

/** Whether a key press belongs to something that is being typed into. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement
  return target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)
}

/** The keys that work on every page; a page adds its own. */
export function useShortcuts() {
  const [open, setOpen] = useState(false)
  const navigate = useNavigate()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return
      if (event.key === '?') setOpen(true)
      else if (event.key === 'n') void navigate('/studies/new?kind=trend')
      else if (event.key === '/') {
        const fields = [...document.querySelectorAll<HTMLInputElement>('[data-ask] input')]
        const field = fields.find((input) => input.offsetParent !== null)
        if (!field) return
        event.preventDefault()
        field.focus()
      }
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [navigate])
  return { open, show: () => setOpen(true), hide: () => setOpen(false) }
}

/** The list of them, fetched when it is first asked for. */
export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  const ever = useRef(false)
  ever.current ||= open
  if (!ever.current) return null
  return (
    <Suspense>
      <ShortcutList open={open} onClose={onClose} />
    </Suspense>
  )
}
