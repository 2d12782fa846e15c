import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import type { LikelihoodQuestion } from '../../../core/analyses/likelihood/question.js'
import { eventWords, type Words } from '../../../core/words/words.js'
import { useRevalidator } from 'react-router'
import { sendMend } from '../../catalog/sendMend.js'
import { placeUnder, TokenPopover } from '../../editors/TokenPopover.js'

/** Makes the chance, and the tenth a person stands in, properties of people, to filter by and to break down by. */
export default function KeepAsProperty({ question, words }: { question: LikelihoodQuestion; words: Words }) {
  const [at, setAt] = useState<{ left: number; top: number } | null>(null)
  const [name, setName] = useState(`Chance of ${eventWords(question.goal.event, words)}`)
  const [problem, setProblem] = useState<string | null>(null)
  const [kept, setKept] = useState(false)
  const [busy, setBusy] = useState(false)
  const { revalidate } = useRevalidator()
  const keep = async () => {
    setBusy(true)
    try {
      setProblem(await keepBoth())
    } catch {
      setProblem('The server did not answer. Try once more.')
    }
    setBusy(false)
  }
  const keepBoth = async (): Promise<string | null> => {
    for (const part of ['score', 'tenth'] as const) {
      const definition = {
        ...{ name: part === 'score' ? name : `${name}, tenth`, of: 'person', description: '' },
        recipe: { kind: 'chance', part, study: { ...question, show: { form: 'people' } } },
      }
      const { problems } = await sendMend({ do: 'save derived', definition })
      if (problems.length > 0) return problems[0]!.message
    }
    setKept(true)
    await revalidate()
    return null
  }
  if (kept) return <span role="status">It is a property of people now: “{name}”, in filters and breakdowns.</span>
  return (
    <>
      <button
        type="button"
        className="addition"
        aria-haspopup="dialog"
        onClick={(event) => setAt(placeUnder(event.currentTarget))}
      >
        + as a property of people
      </button>
      <TokenPopover at={at} label="As a property of people" onClose={() => setAt(null)}>
        <form
          className="stack pad"
          onSubmit={(event) => {
            event.preventDefault()
            void keep()
          }}
        >
          <TextField
            label="Name"
            value={name}
            autoFocus
            error={problem !== null}
            helperText={problem ?? 'The chance in percent, and the tenth by the same name; both as of now.'}
            slotProps={{ htmlInput: { maxLength: 180 } }}
            onChange={(event) => {
              setProblem(null)
              setName(event.target.value)
            }}
          />
          <Button type="submit" variant="contained" disabled={busy || name.trim() === ''}>
            Keep it
          </Button>
        </form>
      </TokenPopover>
    </>
  )
}
