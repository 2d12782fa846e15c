import { FindField } from '../ui/FindField.js'
import { own } from '../../core/names.js'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useRef, useState, type ReactNode } from 'react'
import { formatNumber } from '../../core/words/format.js'
import { put, useAddress } from '../ui/useAddress.js'
import { InPlace } from './InPlace.js'

const SEARCH_MS = 300

/** A list that is searched and narrowed in the address: what is typed, which filters are on, which row is open. */
export function useCatalogList<T>(options: {
  rows: readonly T[]
  /** the texts of a row that a search looks through */
  textsOf: (row: T) => readonly string[]
  filters: Readonly<Record<string, (row: T) => boolean>>
  /** the address's name for the open row */
  openAs: string
}) {
  const { rows, textsOf, filters, openAs } = options
  const [params, change] = useAddress()
  // What is typed counts at once; the address follows a moment later, so that no letter is lost on the way.
  const [search, setSearch] = useState(params.get('search') ?? '')
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const only = params.getAll('only').filter((name) => Object.hasOwn(filters, name))
  const open = params.get(openAs)
  const say = (name: string, value: string | null) => change((next) => put(next, name, value), { replace: true })
  const toggle = (name: string) =>
    change(
      (next) => {
        const on = next.getAll('only')
        next.delete('only')
        const rest = on.filter((each) => each !== name)
        for (const each of rest.length < on.length ? rest : [...on, name]) next.append('only', each)
      },
      { replace: true },
    )
  const wanted = search.toLowerCase()
  const shown = rows.filter(
    (row) =>
      only.every((name) => own(filters, name)!(row)) &&
      textsOf(row).some((text) => text.toLowerCase().includes(wanted)),
  )
  return {
    shown,
    open,
    setOpen: (name: string | null) => say(openAs, name === open ? null : name),
    /** what the bar above the list shows and does */
    bar: {
      search,
      onSearch: (text: string) => {
        setSearch(text)
        if (timer.current) clearTimeout(timer.current)
        timer.current = setTimeout(() => say('search', text), SEARCH_MS)
      },
      chips: Object.entries(filters).map(([name, holds]) => ({
        name,
        count: rows.filter(holds).length,
        on: only.includes(name),
      })),
      onChip: toggle,
    },
  }
}

export function ListBar(props: {
  bar: ReturnType<typeof useCatalogList>['bar']
  label: string
  placeholder: string
  children?: ReactNode
}) {
  const { bar, label, placeholder, children } = props
  return (
    <div className="row wrap catalog-bar">
      <FindField
        label={label}
        placeholder={placeholder}
        className="catalog-search"
        value={bar.search}
        onChange={bar.onSearch}
      />
      {bar.chips
        .filter(({ count, on }) => count > 0 || on)
        .map(({ name, count, on }) => (
          <button
            key={name}
            type="button"
            className={`chip${on ? ' on' : ''}`}
            aria-pressed={on}
            onClick={() => bar.onChip(name)}
          >
            {name} {formatNumber(count)}
          </button>
        ))}
      {children}
    </div>
  )
}

/** What can be said of several rows at once. */
export function BulkBar(props: {
  words: string
  onState: (state: 'live' | 'deprecated' | 'hidden') => void
  onOwner: (owner: string) => void
  onClear: () => void
}) {
  const { words, onState, onOwner, onClear } = props
  return (
    <>
      <strong>{words}</strong>
      <Select
        value=""
        displayEmpty
        aria-label="State of the chosen"
        renderValue={() => 'Set the state …'}
        onChange={(event) => onState(event.target.value as 'live')}
      >
        <MenuItem value="live">live</MenuItem>
        <MenuItem value="deprecated">deprecated</MenuItem>
        <MenuItem value="hidden">hidden</MenuItem>
      </Select>
      <InPlace label="Owner of the chosen" value="" empty="Set the owner …" onKeep={onOwner} />
      <Button onClick={onClear}>Clear</Button>
    </>
  )
}
