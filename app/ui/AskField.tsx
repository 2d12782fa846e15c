import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'
import { memo, useDeferredValue, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { studyAddress } from '../address/address.js'
import { suggest, type Suggestion } from '../ask/suggest.js'
import { vocabularyOf } from '../ask/vocabulary.js'
import { dayIn } from '../catalog/days.js'
import { useWorkspace } from '../page/workspace.js'

/** The question field: understands plain questions, and finds studies and dashboards. */
export const AskField = memo(function AskField({ variant }: { variant: 'bar' | 'home' }) {
  const { catalog, segments, studies, dashboards, words, status, zone, firstDayOfWeek } = useWorkspace()
  const navigate = useNavigate()
  const [text, setText] = useState('')
  const asked = useDeferredValue(text)
  const vocabulary = useMemo(
    () => vocabularyOf(catalog, words, dayIn(status.now, zone), segments),
    [catalog, words, status.now, zone, segments],
  )
  const options = useMemo(
    () => suggest(asked, vocabulary, { studies, dashboards }, words, firstDayOfWeek),
    [asked, vocabulary, studies, dashboards, words, firstDayOfWeek],
  )
  const example = catalog.events.length > 0 ? 'e.g. riders by plan last month' : 'e.g. sign-ups each day'
  const go = (choice: Suggestion) => {
    if (choice.kind === 'Goes on as') return setText(`${choice.label} `)
    setText('')
    ;(document.activeElement as HTMLElement | null)?.blur()
    void navigate(choice.kind === 'Question' ? studyAddress(choice.reading.question) : choice.to)
  }
  return (
    <Autocomplete<Suggestion, false, false, true>
      className={`ask ask-${variant}`}
      data-ask=""
      freeSolo
      openOnFocus={false}
      value={null}
      inputValue={text}
      options={options}
      filterOptions={(all) => all}
      autoHighlight
      groupBy={(option) => GROUPS[option.kind]}
      getOptionLabel={(option) => (typeof option === 'string' ? option : option.label)}
      getOptionKey={(option) => (typeof option === 'string' ? option : `${option.kind} ${option.label}`)}
      onInputChange={(_event, value, reason) => {
        if (reason !== 'reset') setText(value)
      }}
      onChange={(_event, choice) => {
        if (choice && typeof choice !== 'string') go(choice)
        // What was typed last may be ahead of what is offered.
        else go(suggest(text, vocabulary, { studies, dashboards }, words, firstDayOfWeek)[0] ?? NOTHING)
      }}
      renderOption={({ key, ...props }, option) => (
        <li key={key} {...props}>
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
      )}
      slotProps={{ popper: { className: 'ask-popper', placement: 'bottom-start' } }}
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder={`Type a question, ${example}`}
          {...(asked.trim().length > 2 && options.length === 0 && asked === text
            ? { helperText: 'Nothing by that name. Try the name of an event, a study or a dashboard.' }
            : {})}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, 'aria-label': 'Type a question' },
            input: {
              ...params.slotProps.input,
              endAdornment: <kbd aria-hidden="true">{variant === 'home' ? 'Enter' : '/'}</kbd>,
            },
          }}
        />
      )}
    />
  )
})

const NOTHING: Suggestion = { kind: 'Goes on as', label: '' }

const GROUPS: Record<Suggestion['kind'], string> = {
  Study: 'Studies',
  Dashboard: 'Dashboards',
  Question: 'Asked as',
  'Goes on as': 'Goes on as',
}

/** A reading: the sentence it becomes, and how each part of the text was understood. */
function QuestionOption(props: { text: string; option: Extract<Suggestion, { kind: 'Question' }>; first: boolean }) {
  const { text, option, first } = props
  const { understood, unused } = option.reading
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
