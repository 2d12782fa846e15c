import type { ReactNode } from 'react'
import { hasMark } from '../../core/questions/marks.js'
import type { AnyMark } from '../../core/questions/study.js'

/** A figure of a table that is its people: pressing it selects them. */
export function PeopleCell<Mark extends AnyMark>(props: {
  children: ReactNode
  /** null = nobody, or nothing that people can be read from */
  mark: Mark | null
  selected: readonly Mark[]
  onSelect: ((mark: Mark, add: boolean) => void) | undefined
  /** the one that Tab comes to */
  first?: boolean
  className?: string
  title?: string
}) {
  const { children, mark, selected, onSelect, first = false, className = '', title } = props
  if (!mark || !onSelect)
    return (
      <td className={`number ${className}`} title={title}>
        {children}
      </td>
    )
  const isChosen = hasMark(selected, mark)
  return (
    <td
      className={`number pressable ${className}${isChosen ? ' chosen' : ''}`}
      title={title}
      tabIndex={first ? 0 : -1}
      aria-selected={isChosen}
      data-cell=""
      onClick={(event) => onSelect(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return
        event.preventDefault()
        onSelect(mark, event.shiftKey || event.ctrlKey)
      }}
    >
      {children}
    </td>
  )
}
