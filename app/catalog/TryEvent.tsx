import TextField from '@mui/material/TextField'
import { useState } from 'react'
import type { Recipe } from '../../core/made/definitions.js'
import { propertiesIn } from '../../core/questions/named.js'
import { propertyWords } from '../../core/words/words.js'
import { useWorkspace } from '../page/workspace.js'
import { usePosted } from './usePosted.js'

type Rules = Extract<Recipe, { kind: 'rules' }>

/** An event that is made up: which row catches it, before the rules are kept. */
export function TryEvent({ recipe, gives }: { recipe: Rules; gives: string }) {
  const { words } = useWorkspace()
  const [typed, setTyped] = useState<ReadonlyMap<string, string>>(new Map())
  const inputs = propertiesIn(recipe.rows.map(({ where }) => where))
  const values = inputs.map((property) => ({ property, text: typed.get(JSON.stringify(property)) ?? '' }))
  const { reply, waiting } = usePosted<{ row: number | null }>('/ask/tryEvent', { recipe, values }, 200)
  const row = reply?.row ?? null
  if (inputs.length === 0) return null
  return (
    <section className="sheet pad stack">
      <h2 className="overline">Try an event</h2>
      {inputs.map((property) => {
        const key = JSON.stringify(property)
        return (
          <TextField
            key={key}
            label={propertyWords(property, words)}
            placeholder="no value"
            value={typed.get(key) ?? ''}
            slotProps={{ htmlInput: { maxLength: 500 }, inputLabel: { shrink: true } }}
            onChange={(event) => setTyped(new Map(typed).set(key, event.target.value))}
          />
        )
      })}
      <p role="status" className={waiting ? 'dimmed' : ''} aria-busy={waiting}>
        {row === null ? '' : caughtWords(recipe, row, gives)}
      </p>
    </section>
  )
}

function caughtWords({ rows, otherwise }: Rules, row: number, gives: string): string {
  const given = row < rows.length ? rows[row]!.gives : otherwise
  const value =
    given === undefined ? `no ${gives}` : 'text' in given ? given.text : 'number' in given ? String(given.number) : ''
  const why = row < rows.length ? `Row ${row + 1} catches it` : 'No row catches it'
  return value === '' ? `${why}.` : `${why}: ${value}.`
}
