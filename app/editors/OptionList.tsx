import { Command } from 'cmdk'
import type { ReactNode } from 'react'
import { matchScore } from './match.js'

export interface ListOption<T> {
  key: string
  label: string
  /** what it means, under the label */
  note?: string
  /** at the right: a count, a type */
  side?: string
  /** further words that find it */
  find?: readonly string[]
  value: T
  chosen?: boolean
  group?: string
}

/** A list to choose from by typing, arrows and Enter, or the mouse. */
export function OptionList<T>(props: {
  label: string
  options: readonly ListOption<T>[]
  onChoose: (value: T) => void
  search?: string
  empty?: ReactNode
  /** shown as an entry when what was typed is none of the options */
  onTyped?: ((text: string) => void) | undefined
  footer?: ReactNode
}) {
  const { label, options, onChoose, search, empty = 'Nothing by that name.', footer } = props
  const groups = [...new Set(options.map((option) => option.group ?? ''))]
  return (
    <Command
      label={label}
      loop
      className="options"
      filter={(_value, typed, texts) => matchScore(typed, texts ?? [])}
      defaultValue={options.find((option) => option.chosen)?.key ?? ''}
    >
      {/* Without a field to type in, the list itself takes the keys. */}
      <Command.Input
        placeholder={search ?? ''}
        aria-label={search ?? label}
        autoFocus
        className={search ? 'option-search' : 'sr-only'}
      />
      <Command.List className="option-list" label={label}>
        <Command.Empty className="option-empty">{empty}</Command.Empty>
        {groups.map((group) => (
          <Command.Group key={group} heading={group || undefined}>
            {options
              .filter((option) => (option.group ?? '') === group)
              .map((option) => (
                <Command.Item
                  key={option.key}
                  value={option.key}
                  keywords={[option.label, option.note ?? '', ...(option.find ?? [])]}
                  onSelect={() => onChoose(option.value)}
                  className={`option${option.chosen ? ' chosen' : ''}`}
                >
                  <span className="option-text">
                    <span className="option-label">{option.label}</span>
                    {option.note && <span className="option-note">{option.note}</span>}
                  </span>
                  {option.side && <span className="option-side">{option.side}</span>}
                </Command.Item>
              ))}
          </Command.Group>
        ))}
      </Command.List>
      {footer}
    </Command>
  )
}
