import AddIcon from '@mui/icons-material/Add'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { data, Link, useFetcher } from 'react-router'
import { countOf, formatMoment, formatNumber } from '../../core/words/format.js'
import { dowser } from '../door/dowser.server.js'
import { PeopleTabs } from '../people/PeopleTabs.js'
import { actOnSegments, type SegmentActed } from '../segments/act.server.js'
import { DeleteSegmentDialog } from '../segments/DeleteSegmentDialog.js'
import { RuleText } from '../segments/RuleText.js'
import { placesOf } from '../segments/segment.js'
import { UploadDialog } from '../segments/UploadDialog.js'
import { put, useAddress } from '../ui/useAddress.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/segments'

export async function loader({ request }: Route.LoaderArgs) {
  const { segments } = dowser()
  const { ready } = await dowser().status()
  const list = await Promise.all(
    segments.list().map(async (segment) => {
      const counted = ready
        ? await segments.count({ kind: 'segment', segment: segment.id }, undefined, request.signal)
        : null
      const uses = segments.usesOf(segment.id)
      return {
        ...segment,
        people: counted && 'members' in counted ? counted.members : null,
        week: counted && 'members' in counted ? counted.week : null,
        uses,
      }
    }),
  )
  return { list, deleted: segments.deleted() }
}

export async function action({ request }: Route.ActionArgs) {
  const acted = await actOnSegments(await request.formData())
  return 'problem' in acted ? data(acted, { status: 422 }) : acted
}

export const meta = () => [{ title: 'Segments · Dowser' }]

type Listed = Route.ComponentProps['loaderData']['list'][number]

export default function Segments({ loaderData }: Route.ComponentProps) {
  const { list, deleted } = loaderData
  const { zone, thisYear } = useWorkspace()
  const [search, change] = useAddress()
  const [leaving, setLeaving] = useState<Listed | null>(null)
  const [uploading, setUploading] = useState(false)
  const fetcher = useFetcher<SegmentActed>()
  const find = (search.get('find') ?? '').toLowerCase()
  const tag = search.get('tag')
  const shown = list.filter(
    (segment) =>
      (find === '' ||
        [segment.name, segment.description, ...segment.tags].some((text) => text.toLowerCase().includes(find))) &&
      (tag === null || segment.tags.includes(tag)),
  )
  const tags = [...new Set(list.flatMap((segment) => segment.tags))].sort()
  const say = (key: string, value: string) => change((next) => put(next, key, value), { replace: true })
  return (
    <main className="page">
      <div className="page-head">
        <h1 className="question">Segments</h1>
        <div className="page-actions">
          <Button variant="outlined" onClick={() => setUploading(true)}>
            Upload a list
          </Button>
          {list.length > 1 && (
            <Button variant="outlined" component={Link} to="/studies/new?kind=overlap">
              See how they overlap
            </Button>
          )}
          <Button variant="contained" startIcon={<AddIcon />} component={Link} to="/people/segments/new">
            New segment
          </Button>
        </div>
      </div>
      <PeopleTabs />
      {list.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            Segments would be here: people described by what they did and who they are. They hold past data from the day
            they are made, and people come in and go out by themselves.
          </p>
          <Button variant="contained" component={Link} to="/people/segments/new">
            Build the first one
          </Button>
        </section>
      ) : (
        <>
          <div className="row wrap list-tools">
            <TextField
              type="search"
              placeholder="Find a segment"
              defaultValue={search.get('find') ?? ''}
              slotProps={{ htmlInput: { 'aria-label': 'Find a segment' } }}
              onChange={(event) => say('find', event.target.value)}
            />
            {tags.map((each) => (
              <Button
                key={each}
                variant={tag === each ? 'contained' : 'outlined'}
                onClick={() => say('tag', tag === each ? '' : each)}
              >
                {each}
              </Button>
            ))}
          </div>
          <section className="sheet list segments">
            {shown.length === 0 && <p className="pad soft">No segment by that name.</p>}
            <ul>
              {shown.map((segment) => (
                <li key={segment.id}>
                  <div className="list-main">
                    <Link to={`/people/segments/${segment.id}`} className="list-name">
                      {segment.name}
                    </Link>
                    <span className="list-question">
                      {segment.description || (segment.rule && <RuleText rule={segment.rule} />) || segment.origin}
                    </span>
                  </div>
                  <span className={segment.frozenMs === null ? 'state-chip live' : 'state-chip'}>
                    {segment.frozenMs === null ? 'live' : `frozen ${formatMoment(segment.frozenMs, zone, thisYear)}`}
                  </span>
                  <span className="list-figure">
                    <strong>{formatNumber(segment.people)}</strong> people
                    {segment.week && segment.frozenMs === null && (
                      <small>
                        {formatNumber(segment.week.in)} came in, {formatNumber(segment.week.out)} went out in 7 days
                      </small>
                    )}
                  </span>
                  <span className="soft list-when">{usesText(segment)}</span>
                  <Button color="error" onClick={() => setLeaving(segment)} aria-label={`Delete ${segment.name}`}>
                    Delete
                  </Button>
                </li>
              ))}
            </ul>
          </section>
        </>
      )}
      {deleted.length > 0 && (
        <details className="deleted">
          <summary>{countOf(deleted.length, 'segment', 'segments')} deleted</summary>
          <ul>
            {deleted.map((segment) => (
              <li key={segment.id}>
                {segment.name} <span className="soft">deleted {formatMoment(segment.deletedMs!, zone, thisYear)}</span>
                <Button
                  onClick={() =>
                    void fetcher.submit(
                      { intent: 'bring back', id: segment.id },
                      { method: 'post', action: '/people/segments' },
                    )
                  }
                >
                  Bring back
                </Button>
              </li>
            ))}
          </ul>
          {fetcher.data && 'problem' in fetcher.data && <p className="loss">{fetcher.data.problem}</p>}
        </details>
      )}
      <DeleteSegmentDialog segment={leaving} uses={leaving?.uses ?? null} onClose={() => setLeaving(null)} />
      <UploadDialog open={uploading} onClose={() => setUploading(false)} />
    </main>
  )
}

function usesText({ uses }: Listed): string {
  const many = placesOf(uses)
  return many === 0 ? 'not used yet' : `used in ${countOf(many, 'place', 'places')}`
}
