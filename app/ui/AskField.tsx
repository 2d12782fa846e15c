import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'
import { memo, useState } from 'react'
import { useNavigate } from 'react-router'
import { studyAddress } from '../address.js'
import { suggest, type Suggestion } from '../study/suggest.js'
import { useWorkspace } from '../workspace.js'

/** The question field: finds studies and dashboards, and makes questions from the events it knows. */
export const AskField = memo(function AskField({ variant }: { variant: 'bar' | 'home' }) {
  const { catalog, studies, dashboards } = useWorkspace()
  const navigate = useNavigate()
  const [text, setText] = useState('')
  const options = suggest(text, catalog, { studies, dashboards })
  const example = catalog.events.length > 0 ? 'e.g. riders by plan' : 'e.g. sign-ups each day'
  const go = (choice: Suggestion) => {
    setText('')
    ;(document.activeElement as HTMLElement | null)?.blur()
    void navigate(choice.to ?? studyAddress(choice.question!))
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
      groupBy={(option) => option.kind}
      getOptionLabel={(option) => (typeof option === 'string' ? option : option.label)}
      onInputChange={(_event, value, reason) => {
        if (reason !== 'reset') setText(value)
      }}
      onChange={(_event, choice) => {
        if (choice && typeof choice !== 'string') go(choice)
        else if (options[0]) go(options[0])
      }}
      noOptionsText="Nothing by that name. Try the name of an event, a study or a dashboard."
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder={`Type a question, ${example}`}
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
