import Button from '@mui/material/Button'
import { useState } from 'react'
import { useFetcher } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import type { ApiKey } from '../../server/store/access.js'
import { useWorkspace } from '../page/workspace.js'
import { KeySpanDialog } from './KeySpanDialog.js'

/** The keys there are: what each may do, when it was last used, and a way to revoke it. */
export function KeyList({ keys }: { keys: readonly ApiKey[] }) {
  const { zone, thisYear } = useWorkspace()
  const fetcher = useFetcher()
  const [taking, setTaking] = useState<ApiKey | null>(null)
  if (keys.length === 0) return <p className="soft">There are no keys yet.</p>
  return (
    <>
      {taking && <KeySpanDialog apiKey={taking} onClose={() => setTaking(null)} />}
      <ul className="keys">
        {keys.map((key) => (
          <li key={key.id}>
            <div className="list-main">
              <span className="list-name">{key.name}</span>
              <span className="list-question">
                <code>{key.hint}</code> · may {key.scope} · made {formatMoment(key.createdMs, zone, thisYear)} ·{' '}
                {key.usedMs === null ? 'never used' : `last used ${formatMoment(key.usedMs, zone, thisYear)}`}
              </span>
            </div>
            {key.scope === 'write' && key.usedMs !== null && (
              <Button aria-label={`Take back what ${key.name} sent`} onClick={() => setTaking(key)}>
                Take back …
              </Button>
            )}
            <Button
              color="error"
              aria-label={`Revoke ${key.name}`}
              onClick={() => void fetcher.submit({ intent: 'revoke', id: key.id }, { method: 'post', action: '/keys' })}
            >
              Revoke
            </Button>
          </li>
        ))}
      </ul>
    </>
  )
}
