import Button from '@mui/material/Button'
import { useFetcher } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import type { ApiKey } from '../../server/store/access.js'
import { useWorkspace } from '../page/workspace.js'

/** The keys there are: what each may do, when it was last used, and a way to revoke it. */
export function KeyList({ keys }: { keys: readonly ApiKey[] }) {
  const { zone, thisYear } = useWorkspace()
  const fetcher = useFetcher()
  if (keys.length === 0) return <p className="soft">There are no keys yet.</p>
  return (
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
  )
}
