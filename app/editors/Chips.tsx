/** What has been chosen, each with a way to let it go. */
export function Chips(props: {
  items: readonly { key: string; label: string }[]
  verb: string
  onRemove: (index: number) => void
  /** opens the condition of one */
  onOpen?: (index: number) => void
}) {
  const { items, verb, onRemove, onOpen } = props
  if (items.length === 0) return null
  return (
    <div className="chips">
      {items.map(({ key, label }, index) => (
        <span className="row" key={key}>
          {onOpen && (
            <button type="button" className="chip" aria-label={`${label}: only where`} onClick={() => onOpen(index)}>
              {label}
            </button>
          )}
          <button
            type="button"
            className="chip"
            aria-label={`${verb} ${label}`}
            onClick={(event) => {
              keepFocus(event.currentTarget)
              onRemove(index)
            }}
          >
            {onOpen ? '×' : `${label} ×`}
          </button>
        </span>
      ))}
    </div>
  )
}

/** What is pressed goes away: the focus stays in the editor. */
function keepFocus(pressed: HTMLElement): void {
  const editor = pressed.closest<HTMLElement>('.stack')
  const field = editor?.querySelector<HTMLElement>('input')
  if (field) field.focus()
  else if (editor) {
    editor.tabIndex = -1
    editor.focus()
  }
}
