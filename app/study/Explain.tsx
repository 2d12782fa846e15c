import { Suspense, useState } from 'react'
import type { Question } from '../../core/analyses/registry.js'
import { deferred } from '../page/deferred.js'

const ExplainDialog = deferred(async () => (await import('./ExplainDialog.js')).ExplainDialog)

/** "How is this counted?" */
export function Explain({ question, zone }: { question: Question; zone: string }) {
  const [open, setOpen] = useState(false)
  const [everOpen, setEverOpen] = useState(false)
  return (
    <>
      <button
        type="button"
        className="link-button"
        onClick={() => {
          setEverOpen(true)
          setOpen(true)
        }}
      >
        How is this counted?
      </button>
      {everOpen && (
        <Suspense>
          <ExplainDialog question={question} zone={zone} open={open} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  )
}
