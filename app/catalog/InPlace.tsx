import { useEffect, useRef, useState } from 'react'

/** A text that is edited where it stands: press or Enter to change, Enter or leaving keeps it, Esc takes it back. */
export function InPlace(props: {
  label: string
  value: string
  /** what stands there while there is none */
  empty: string
  onKeep: (value: string) => void
  most?: number
}) {
  const { label, value, empty, onKeep, most = 1000 } = props
  const [draft, setDraft] = useState<string | null>(null)
  const button = useRef<HTMLButtonElement>(null)
  const wasOpen = useRef(false)
  useEffect(() => {
    // The focus goes back to where it was, so that the keyboard goes on from there.
    if (draft === null && wasOpen.current) button.current?.focus()
    wasOpen.current = draft !== null
  }, [draft])
  const close = (keep: boolean) => {
    if (draft === null) return
    setDraft(null)
    if (keep && draft.trim() !== value) onKeep(draft.trim())
  }
  if (draft !== null)
    return (
      <input
        className="in-place-input"
        aria-label={label}
        autoFocus
        value={draft}
        maxLength={most}
        onFocus={(event) => event.target.select()}
        onClick={(event) => event.stopPropagation()}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={() => close(true)}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key !== 'Enter' && event.key !== 'Escape') return
          // The focus goes back to the button, which the same key would press again.
          event.preventDefault()
          if (event.key === 'Enter') close(true)
          else setDraft(null)
        }}
      />
    )
  return (
    <button
      ref={button}
      type="button"
      className={`in-place${value ? '' : ' missing'}`}
      aria-label={`${label}: ${value || empty}. Change`}
      onClick={(event) => {
        event.stopPropagation()
        setDraft(value)
      }}
    >
      {value || empty}
    </button>
  )
}
