import { Suspense } from 'react'
import { deferred } from '../page/deferred.js'
import { PeopleTray } from '../people/PeopleTray.js'
import type { Chosen } from './TrayChoices.js'

const TrayChoices = deferred(async () => (await import('./TrayChoices.js')).TrayChoices)

/** The people selected in a study's result. */
export function Tray(props: Chosen & { onClose: () => void }) {
  const { question, marks, onClose } = props
  return (
    <PeopleTray
      people={marks.length > 0 ? { study: question, marks: [...marks] } : null}
      first={
        <Suspense>
          <TrayChoices {...props} />
        </Suspense>
      }
      onClose={onClose}
    />
  )
}
