import Button from '@mui/material/Button'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { countOf, formatDay, formatNumber, joinWords, MISSING } from '../../core/words/format.js'
import type { EventDetail } from '../../server/engine/catalog.js'
import { CatalogTable, createColumnHelper, type ColumnDef } from '../catalog/CatalogTable.js'
import { BulkBar, ListBar, useCatalogList } from '../catalog/catalogList.js'
import { EventPanel } from '../catalog/EventPanel.js'
import { InPlace } from '../catalog/InPlace.js'
import { StateChip } from '../catalog/StateChip.js'
import { useMend } from '../catalog/useMend.js'
import { Sparkline } from '../charts/Sparkline.js'
import { dowser } from '../door/dowser.server.js'
import { dayIn } from '../catalog/days.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.events'

export async function loader({ request }: Route.LoaderArgs) {
  const { events } = await dowser().catalogDetail()
  const open = new URL(request.url).searchParams.get('event')
  return { events, uses: open === null ? null : dowser().usesOfEvent(open) }
}

/** More event types than this are hard to know by heart, and then the wrong ones get counted. */
const EASY = 50

const filters = {
  live: (event: EventDetail) => event.state === 'live' && !event.mergedInto,
  planned: (event: EventDetail) => event.state === 'planned',
  deprecated: (event: EventDetail) => event.state === 'deprecated' || event.state === 'hidden' || !!event.mergedInto,
  'no description': (event: EventDetail) => event.description === '',
  'not in the last 30 days': (event: EventDetail) => event.events > 0 && event.recent === 0,
  'not in the plan': (event: EventDetail) => !event.planned && !event.mergedInto,
}

export default function CatalogEvents({ loaderData }: Route.ComponentProps) {
  const { events, uses } = loaderData
  const { mend } = useMend()
  const list = useCatalogList({
    rows: events,
    filters,
    openAs: 'event',
    textsOf: (event) => [
      ...[event.name, event.display, event.description, event.owner],
      ...event.properties.map(({ name }) => name),
    ],
  })
  const open = events.find((event) => event.name === list.open) ?? null
  const live = events.filter(filters.live).length
  const columns = useEventColumns()
  return (
    <>
      {live > EASY && (
        <p className="caution">
          <strong>{live} live event types</strong> are more than most people can know by heart; beyond about {EASY}, the
          wrong one gets counted. Deprecate what nobody asks about, or count several as one.{' '}
          <Link to="?only=not+in+the+last+30+days">Start with what no longer arrives.</Link>
        </p>
      )}
      <div className={`catalog-split${open ? ' with-panel' : ''}`}>
        <div>
          <ListBar bar={list.bar} label="Search events" placeholder="Search names, meanings, owners">
            <span className="soft catalog-count">
              {live} live of {EASY} that stay easy to know
            </span>
          </ListBar>
          <CatalogTable
            label="Events"
            rows={list.shown}
            columns={columns}
            idOf={(event) => event.name}
            open={open?.name ?? null}
            onOpen={(event) => list.setOpen(event.name)}
            start={[{ id: 'recent', desc: true }]}
            bulk={(chosen, clear) => {
              const names = chosen.map(({ name }) => name)
              return (
                <BulkBar
                  words={countOf(chosen.length, 'event', 'events')}
                  onState={(state) => void mend({ do: 'describe events', names, said: { state } }).then(clear)}
                  onOwner={(owner) => void mend({ do: 'describe events', names, said: { owner } }).then(clear)}
                  onClear={clear}
                />
              )
            }}
            empty={
              events.length === 0 ? (
                <>
                  <p>
                    Every kind of event that arrives would be listed here, with what it means and how often it comes.
                  </p>
                  <Button variant="contained" component={Link} to="/catalog/sending">
                    Send the first event
                  </Button>
                </>
              ) : (
                <p>No event fits that search. Take a word or a chip away.</p>
              )
            }
          />
        </div>
        {open && <EventPanel event={open} uses={uses} events={events} onClose={() => list.setOpen(null)} />}
      </div>
    </>
  )
}

function useEventColumns() {
  const { mend } = useMend()
  const { zone, thisYear } = useWorkspace()
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- columns differ in the type of their values
  return useMemo<ColumnDef<EventDetail, any>[]>(() => {
    const column = createColumnHelper<EventDetail>()
    const day = (ms: number | null) => (ms === null ? MISSING : formatDay(dayIn(ms, zone), thisYear))
    return [
      column.accessor((event) => event.display || event.name, {
        id: 'name',
        header: 'Event',
        // The press opens the row, as anywhere in it; a button, so that the keyboard can.
        cell: ({ row: { original: event } }) => (
          <button type="button" className="name-link">
            {event.display || event.name}
            {event.display && <small>{event.name}</small>}
          </button>
        ),
      }),
      column.accessor('description', {
        header: 'Meaning',
        cell: ({ row: { original: event } }) => (
          <InPlace
            label={`Meaning of ${event.name}`}
            value={event.description}
            empty="+ say what it means"
            onKeep={(description) => void mend({ do: 'describe events', names: [event.name], said: { description } })}
          />
        ),
      }),
      column.accessor('state', {
        header: 'State',
        cell: ({ row: { original: event } }) => (
          <StateChip
            state={event.state}
            merged={event.mergedInto}
            label={event.name}
            {...(event.state === 'planned'
              ? {}
              : {
                  onChange: (state: 'live' | 'deprecated' | 'hidden') =>
                    void mend({ do: 'describe events', names: [event.name], said: { state } }),
                })}
          />
        ),
      }),
      column.accessor('owner', {
        header: 'Owner',
        meta: { wide: true },
        cell: ({ row: { original: event } }) => (
          <InPlace
            label={`Owner of ${event.name}`}
            value={event.owner}
            empty="+ owner"
            most={200}
            onKeep={(owner) => void mend({ do: 'describe events', names: [event.name], said: { owner } })}
          />
        ),
      }),
      column.accessor((event) => event.sources.map(({ name }) => name ?? '').join(', '), {
        id: 'from',
        header: 'From',
        cell: ({ row: { original: event } }) => (
          <span className="soft">
            {joinWords(
              event.sources.map(({ name }) => name ?? 'no source'),
              'and',
            ) || MISSING}
          </span>
        ),
      }),
      column.accessor((event) => event.firstMs ?? 0, {
        id: 'first',
        header: 'First seen',
        sortDescFirst: true,
        meta: { wide: true, number: true },
        cell: ({ row: { original: event } }) => day(event.firstMs),
      }),
      column.accessor((event) => event.lastMs ?? 0, {
        id: 'last',
        header: 'Last seen',
        sortDescFirst: true,
        meta: { wide: true, number: true },
        cell: ({ row: { original: event } }) => day(event.lastMs),
      }),
      column.accessor('recent', {
        header: '30 days',
        sortDescFirst: true,
        meta: { number: true },
        cell: ({ row: { original: event } }) => (event.events === 0 ? MISSING : formatNumber(event.recent)),
      }),
      column.display({
        id: 'weeks',
        header: '8 weeks',
        meta: { width: '96px' },
        cell: ({ row: { original: event } }) => (
          <span className="small-curve">
            {event.weeks.some((n) => n > 0) && <Sparkline values={event.weeks} open={false} colour="var(--water)" />}
          </span>
        ),
      }),
    ]
  }, [mend, zone, thisYear])
}
