import useAutocomplete from '@mui/material/useAutocomplete'
import { memo, useCallback, useDeferredValue, useMemo, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { segmentAddress, studyAddress } from '../address/address.js'
import type { askerOf } from '../ask/asker.js'
import type { Suggestion } from '../ask/suggest.js'
import { exampleOf } from '../ask/exampleOf.js'
import { useWorkspace } from '../page/workspace.js'

/** The question field: understands plain questions, and finds studies and dashboards. */
export const AskField = memo(function AskField({ variant }: { variant: 'bar' | 'home' }) {
  const workspace = useWorkspace()
  const navigate = useNavigate()
  const [text, setText] = useState('')
  const [reader, setReader] = useState<{ askerOf: typeof askerOf } | null>(null)
  const fetching = useRef<Promise<{ askerOf: typeof askerOf }> | null>(null)
  const fetchReader = useCallback(() => {
    fetching.current ??= import('../ask/asker.js').then((found) => {
      setReader({ askerOf: found.askerOf })
      return found
    })
    fetching.current.catch(() => (fetching.current = null))
    return fetching.current
  }, [])
  const asked = useDeferredValue(text)
  const asker = useMemo(() => reader?.askerOf(workspace) ?? null, [reader, workspace])
  const options = useMemo(() => asker?.(asked) ?? [], [asker, asked])
  const go = (choice: Suggestion | undefined) => {
    if (!choice) return
    if (choice.kind === 'Goes on as') return setText(`${choice.label} `)
    setText('')
    ;(document.activeElement as HTMLElement | null)?.blur()
    if (choice.kind !== 'Question') return void navigate(choice.to)
    const { question, rule } = choice.reading
    void navigate(question ? studyAddress(question) : segmentAddress(rule))
  }
  const field = useAutocomplete<Suggestion, false, false, true>({
    ...{ id: `ask-${variant}`, freeSolo: true, openOnFocus: false, autoHighlight: true },
    ...{ value: null, inputValue: text, options, filterOptions: (all) => all },
    groupBy: (option) => GROUPS[option.kind],
    getOptionLabel: (option) => (typeof option === 'string' ? option : option.label),
    getOptionKey: (option) => (typeof option === 'string' ? option : `${option.kind} ${option.label}`),
    onInputChange: (_event, value, reason) => {
      if (reason !== 'reset') setText(value)
    },
    onChange: (_event, choice) => {
      if (choice && typeof choice !== 'string') return go(choice)
      // What was typed last may be ahead of what is offered, and of what reads it.
      void fetchReader().then((found) => go(found.askerOf(workspace)(text)[0]))
    },
  })
  const groups = field.groupedOptions as unknown as {
    key: number
    group: string
    index: number
    options: Suggestion[]
  }[]
  const unknown = asker !== null && asked.trim().length > 2 && options.length === 0 && asked === text
  const example = useMemo(() => exampleOf(workspace), [workspace])
  return (
    <div className={`ask ask-${variant}`} data-ask="" {...field.getRootProps()}>
      <div className="ask-box">
        <input
          {...field.getInputProps()}
          type="text"
          placeholder={example ? `Type a question, e.g. ${example}` : 'Type a question'}
          aria-label="Type a question"
          aria-describedby={unknown ? `ask-${variant}-unknown` : undefined}
          onFocusCapture={() => void fetchReader()}
        />
        <kbd aria-hidden="true">{variant === 'home' ? 'Enter' : '/'}</kbd>
      </div>
      {unknown && (
        <p className="ask-unknown" id={`ask-${variant}-unknown`} role="status">
          Nothing by that name. Try the name of an event, a study or a dashboard, or look{' '}
          <Link to="/asking">what can be asked</Link>.
        </p>
      )}
      {field.popupOpen && options.length > 0 && (
        <ul className="ask-list" {...field.getListboxProps()}>
          {groups.map(({ key, group, index, options: own }) => (
            <li key={key}>
              <div className="ask-group">{group}</div>
              <ul>
                {own.map((option, place) => {
                  const { key: optionKey, ...props } = field.getOptionProps({ option, index: index + place })
                  return (
                    <li key={optionKey} {...props} className="ask-choice">
                      {option.kind === 'Question' ? (
                        <QuestionOption
                          text={asked}
                          option={option}
                          first={option === options.find(({ kind }) => kind === 'Question')}
                        />
                      ) : (
                        option.label
                      )}
                    </li>
                  )
                })}
              </ul>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
})

const GROUPS: Record<Suggestion['kind'], string> = {
  Study: 'Studies',
  Dashboard: 'Dashboards',
  Outreach: 'Outreach',
  Question: 'Asked as',
  'Goes on as': 'Goes on as',
}
/** A reading: the sentence it becomes, and how each part of the text was understood. */
function QuestionOption(props: { text: string; option: Extract<Suggestion, { kind: 'Question' }>; first: boolean }) {
  const { text, option, first } = props
  const { understood, unused, notes } = option.reading
  const said = (from: number, to: number) => text.slice(from, to).trim()
  return (
    <span className="ask-option">
      <span className="ask-sentence">{option.label}</span>
      {first && understood.length > 0 && (
        <span className="ask-parts">
          {understood.map(({ from, to, means }, index) => (
            <span key={index} className="ask-part">
              <span>{said(from, to)}</span> {means}
            </span>
          ))}
        </span>
      )}
      {first &&
        notes.map((note) => (
          <span key={note} className="ask-note">
            {note}
          </span>
        ))}
      {first && unused.length > 0 && (
        <span className="ask-unused">
          Not used:{' '}
          {unused.map(({ from, to }, index) => (
            <mark key={index}>{said(from, to)}</mark>
          ))}
        </span>
      )}
    </span>
  )
}
