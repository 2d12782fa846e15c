import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { USUAL_REACTIONS, type Reactions } from '../../core/outreach/simulated.js'
import { Knob } from './Knob.js'

const SHARES = [
  ['delivered', 'Reached, of those sent'],
  ['opened', 'Open it, of those reached'],
  ['pressed', 'Press it, of those who open'],
  ['optOut', 'Decline further ones, of those reached'],
] as const
const PLACES = ['first', 'second', 'third', 'fourth', 'fifth']

/** What the simulated people behind a channel do with messages, and what is true of them. */
export function ReactionsEditor({
  value,
  onChange,
}: {
  value: Reactions | undefined
  onChange: (next: Reactions) => void
}) {
  const model = value ?? USUAL_REACTIONS
  const set = (more: Partial<Reactions>) => onChange({ ...model, ...more })
  return (
    <section className="sheet pad stack" aria-label="The people behind it">
      <h2 className="overline">The people behind it</h2>
      <FormControlLabel
        control={<Switch checked={model.react} onChange={(_event, react) => set({ react })} />}
        label="Simulated people answer messages"
      />
      {model.react && (
        <>
          {SHARES.map(([name, label]) => (
            <Knob key={name} label={label} unit="%" value={model[name]} onChange={(share) => set({ [name]: share })} />
          ))}
          <p className="hint">
            The true effect: of a hundred it reaches, so many do what the message is for beside all that people do by
            themselves.
          </p>
          {PLACES.map((name, place) => (
            <Knob
              key={name}
              label={`By the ${name} variant`}
              unit="of 100"
              value={model.effects[place] ?? 0}
              onChange={(points) =>
                set({ effects: PLACES.map((_, i) => (i === place ? points : (model.effects[i] ?? 0))) })
              }
            />
          ))}
          <Knob
            label="Do it again in each week after"
            unit="%"
            value={model.again}
            onChange={(again) => set({ again })}
          />
          <TextField
            label="Profile property by which it differs"
            placeholder="none"
            value={model.by}
            onChange={(event) => set({ by: event.target.value.trim() })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          {model.by !== '' && (
            <>
              {model.times.map((each, place) => (
                <div className="row" key={place}>
                  <TextField
                    label="Value"
                    value={each.value}
                    onChange={(event) =>
                      set({ times: model.times.with(place, { ...each, value: event.target.value }) })
                    }
                  />
                  <Knob
                    label="times"
                    unit="×"
                    most={20}
                    value={each.times}
                    onChange={(times) => set({ times: model.times.with(place, { ...each, times }) })}
                  />
                  <Button onClick={() => set({ times: model.times.toSpliced(place, 1) })}>Remove</Button>
                </div>
              ))}
              {model.times.length < 20 && (
                <Button onClick={() => set({ times: [...model.times, { value: '', times: 1 }] })}>Another value</Button>
              )}
            </>
          )}
        </>
      )}
      <p className="hint">What they do comes in as ordinary events with the property simulated.</p>
    </section>
  )
}
