import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import Switch from '@mui/material/Switch'
import { useFetcher } from 'react-router'
import type { SimulatorState } from '../../server/doors/simulator.js'

const RATES = [2, 10, 50, 200]

/** Switches the simulator on and off: made-up events in real time, to see everything move. */
export function SimulatorSwitch({ state }: { state: SimulatorState }) {
  const fetcher = useFetcher<SimulatorState>()
  const { running, rate } = fetcher.data ?? state
  const post = (on: boolean, perSecond: number) =>
    void fetcher.submit({ on: String(on), rate: String(perSecond) }, { method: 'post', action: '/ask/simulator' })
  return (
    <span className="row simulator">
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={running}
            disabled={fetcher.state !== 'idle'}
            onChange={(_event, on) => post(on, rate)}
          />
        }
        label="Simulator"
      />
      <Select value={rate} aria-label="Events a second" onChange={(event) => post(running, Number(event.target.value))}>
        {RATES.map((each) => (
          <MenuItem key={each} value={each}>
            {each} a second
          </MenuItem>
        ))}
      </Select>
    </span>
  )
}
