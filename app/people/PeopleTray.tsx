import { deferred } from '../page/deferred.js'
import CloseIcon from '@mui/icons-material/Close'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import { Suspense, useEffect, useState, type ReactNode } from 'react'
import { Link, useFetcher } from 'react-router'
import { creditedWords, type Credited } from '../../core/analyses/attribution/listedWords.js'
import type { PeopleRef } from '../../core/analyses/people.js'
import { peopleWords } from '../analyses/words.js'
import { countOf } from '../../core/words/format.js'
import { amongThem, peopleParams, studyAddress } from '../address/address.js'
import { listAddress, listsOf } from './listAddress.js'
import { isTyping } from '../ui/Shortcuts.js'
import { useWorkspace } from '../page/workspace.js'

/** How many people a selection holds, and of one of conversions how many those are. */
export type Selection = { count: number; conversions: Credited | null } | { problem: string }

const SavePeopleDialog = deferred(async () => (await import('../segments/SavePeopleDialog.js')).SavePeopleDialog)

/** Rises when people are selected anywhere: how many, who they are, and what can be done with them. */
export function PeopleTray(props: {
  /** null = nobody is selected */
  people: PeopleRef | null
  /** other people that the selection leads to */
  choices?: readonly { label: string; choose: () => void }[]
  /** stands before what can be done with any people */
  first?: ReactNode
  onClose: () => void
}) {
  const { people, choices = [], first, onClose } = props
  const { words } = useWorkspace()
  const fetcher = useFetcher<Selection>()
  const [saving, setSaving] = useState(false)
  const [everSaved, setEverSaved] = useState(false)
  const save = () => {
    setEverSaved(true)
    setSaving(true)
  }
  const params = people && peopleParams(people)
  const list = people && listAddress(people)
  const { load } = fetcher
  useEffect(() => {
    if (params) void load(`/ask/selection?${params}`)
  }, [load, params])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !isTyping(event) && !document.querySelector('.MuiPopover-root, .MuiDialog-root'))
        onClose()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [onClose])
  if (!people) return null
  // The number of another selection is not the number of this one.
  const data = fetcher.state === 'idle' ? fetcher.data : undefined
  const known = data && 'count' in data ? data.count : null
  const conversions = data && 'count' in data ? data.conversions : null
  return (
    <section className="tray" aria-label="Selected people">
      <p aria-live="polite">
        <strong>
          {known === null
            ? data && 'problem' in data
              ? data.problem
              : 'Counting …'
            : countOf(known, 'person', 'people')}
        </strong>
        {conversions && <span> · {creditedWords(people, conversions, words)}</span>}
        <span> · {peopleWords(people, words)}</span>
      </p>
      <div className="tray-actions">
        {first}
        {choices.map(({ label, choose }) => (
          <Button key={label} onClick={choose}>
            {label}
          </Button>
        ))}
        <Button component={Link} to={`/people?${params}`}>
          See them
        </Button>
        {list !== null && (
          <Button component={Link} to={list}>
            See their {listsOf(people)}
          </Button>
        )}
        {known !== 0 && (
          <Button component={Link} to={`/people/retrace?${params}`}>
            Retrace one
          </Button>
        )}
        <Button component={Link} to={studyAddress(amongThem(people))}>
          Study them
        </Button>
        <Button component="a" href={`/download/people.csv?${params}`} download>
          Download list
        </Button>
        <Button onClick={save}>Save as segment</Button>
        <IconButton size="small" aria-label="Let the selection go" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </div>
      {everSaved && (
        <Suspense>
          <SavePeopleDialog open={saving} people={people} count={known} onClose={() => setSaving(false)} />
        </Suspense>
      )}
    </section>
  )
}
