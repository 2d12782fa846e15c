import CloseIcon from '@mui/icons-material/Close'
import IconButton from '@mui/material/IconButton'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { countOf, formatDay, formatNumber, formatPercent, MISSING } from '../../core/words/format.js'
import type { PropertyDetail } from '../../server/engine/catalog.js'
import { CatalogTable, createColumnHelper, type ColumnDef } from '../catalog/CatalogTable.js'
import { BulkBar, ListBar, useCatalogList } from '../catalog/catalogList.js'
import { dayIn } from '../catalog/days.js'
import { UsesList } from '../catalog/EventPanel.js'
import { InPlace } from '../catalog/InPlace.js'
import { KIND_WORDS } from '../catalog/kindWords.js'
import { MergeField } from '../catalog/MergeField.js'
import { StateChip } from '../catalog/StateChip.js'
import { useMend } from '../catalog/useMend.js'
import { Sparkline } from '../charts/Sparkline.js'
import { dowser } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.properties'

export async function loader({ request }: Route.LoaderArgs) {
  const url = new URL(request.url)
  const of = url.pathname.includes('/people') ? ('person' as const) : ('event' as const)
  const detail = await dowser().catalogDetail()
  const open = url.searchParams.get('property')
  return {
    of,
    properties: detail.properties.filter((property) => property.of === of),
    uses: open === null ? null : dowser().usesOfProperty({ of, name: open }),
  }
}

const filters = {
  'no description': (property: PropertyDetail) => property.description === '' && !property.mergedInto,
  'several types': (property: PropertyDetail) => property.kinds.length > 1,
  'no values': (property: PropertyDetail) => property.events === 0,
  'deprecated or merged': (property: PropertyDetail) =>
    property.state === 'deprecated' || property.state === 'hidden' || !!property.mergedInto,
}

export default function CatalogProperties({ loaderData }: Route.ComponentProps) {
  const { of, properties, uses } = loaderData
  const { mend } = useMend()
  const list = useCatalogList({
    rows: properties,
    filters,
    openAs: 'property',
    textsOf: (property) => [
      ...[property.name, property.display, property.description, property.owner],
      ...property.values.map(({ value }) => value),
    ],
  })
  const open = properties.find((property) => property.name === list.open) ?? null
  const columns = usePropertyColumns(of)
  const whose = of === 'event' ? 'event' : 'profile'
  return (
    <div className={`catalog-split${open ? ' with-panel' : ''}`}>
      <div>
        <ListBar bar={list.bar} label="Search properties" placeholder="Search names, meanings, values" />
        <CatalogTable
          label={`Properties of ${of === 'event' ? 'events' : 'people'}`}
          rows={list.shown}
          columns={columns}
          idOf={(property) => property.name}
          open={open?.name ?? null}
          onOpen={(property) => list.setOpen(property.name)}
          start={[{ id: 'name', desc: false }]}
          bulk={(chosen, clear) => {
            const names = chosen.map(({ name }) => name)
            return (
              <BulkBar
                words={countOf(chosen.length, 'property', 'properties')}
                onState={(state) => void mend({ do: 'describe properties', of, names, said: { state } }).then(clear)}
                onOwner={(owner) => void mend({ do: 'describe properties', of, names, said: { owner } }).then(clear)}
                onClear={clear}
              />
            )
          }}
          empty={
            <p>
              {properties.length === 0
                ? `Every ${whose} property that arrives would be listed here, with its type and commonest values.`
                : 'No property fits that search. Take a word or a chip away.'}
            </p>
          }
        />
      </div>
      {open && <PropertyPanel property={open} properties={properties} uses={uses} onClose={() => list.setOpen(null)} />}
    </div>
  )
}

function usePropertyColumns(of: 'event' | 'person') {
  const { mend } = useMend()
  const { zone, thisYear } = useWorkspace()
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- columns differ in the type of their values
  return useMemo<ColumnDef<PropertyDetail, any>[]>(() => {
    const column = createColumnHelper<PropertyDetail>()
    const say = (
      property: PropertyDetail,
      said: { description: string } | { owner: string } | { state: 'live' | 'deprecated' | 'hidden' },
    ) => void mend({ do: 'describe properties', of, names: [property.name], said })
    return [
      column.accessor((property) => property.display || property.name, {
        id: 'name',
        header: 'Property',
        cell: ({ row: { original: property } }) => (
          <button type="button" className="name-link">
            {property.display || property.name}
            {property.display && <small>{property.name}</small>}
          </button>
        ),
      }),
      column.accessor('description', {
        header: 'Meaning',
        cell: ({ row: { original: property } }) => (
          <InPlace
            label={`Meaning of ${property.name}`}
            value={property.description}
            empty="+ say what it means"
            onKeep={(description) => say(property, { description })}
          />
        ),
      }),
      column.accessor('state', {
        header: 'State',
        cell: ({ row: { original: property } }) => (
          <StateChip
            state={property.state}
            merged={property.mergedInto}
            label={property.name}
            {...(property.state === 'planned'
              ? {}
              : { onChange: (state: 'live' | 'deprecated' | 'hidden') => say(property, { state }) })}
          />
        ),
      }),
      column.accessor((property) => property.kind ?? '', {
        id: 'kind',
        header: 'Type',
        cell: ({ row: { original: property } }) =>
          property.kind === null ? (
            MISSING
          ) : (
            <>
              {KIND_WORDS[property.kind]}
              {property.kinds.length > 1 && (
                <span
                  className="hazel"
                  title={property.kinds
                    .map(({ kind, values }) => `${KIND_WORDS[kind]} ${formatNumber(values)}`)
                    .join(', ')}
                >
                  {' '}
                  +{property.kinds.length - 1}
                </span>
              )}
            </>
          ),
      }),
      column.accessor('owner', {
        header: 'Owner',
        meta: { wide: true },
        cell: ({ row: { original: property } }) => (
          <InPlace
            label={`Owner of ${property.name}`}
            value={property.owner}
            empty="+ owner"
            most={200}
            onKeep={(owner) => say(property, { owner })}
          />
        ),
      }),
      column.accessor((property) => property.values.map(({ value }) => value).join(', '), {
        id: 'values',
        header: 'Commonest values',
        enableSorting: false,
        cell: ({ getValue }) => <span className="soft value-list">{getValue<string>() || MISSING}</span>,
      }),
      column.accessor((property) => property.share ?? -1, {
        id: 'share',
        header: of === 'event' ? 'Of events' : 'Of people',
        sortDescFirst: true,
        meta: { number: true },
        cell: ({ row: { original: property } }) => formatPercent(property.share, 0),
      }),
      ...(of === 'event'
        ? [
            column.accessor((property: PropertyDetail) => property.lastMs ?? 0, {
              id: 'last',
              header: 'Last seen',
              sortDescFirst: true,
              meta: { wide: true, number: true },
              cell: ({ row: { original: property } }) =>
                property.lastMs === null ? MISSING : formatDay(dayIn(property.lastMs, zone), thisYear),
            }),
            column.accessor('recent', {
              header: '30 days',
              sortDescFirst: true,
              meta: { number: true },
              cell: ({ row: { original: property } }) =>
                property.events === 0 ? MISSING : formatNumber(property.recent),
            }),
            column.display({
              id: 'weeks',
              header: '8 weeks',
              meta: { width: '96px', wide: true },
              cell: ({ row: { original: property } }) => (
                <span className="small-curve">
                  {property.weeks.some((n) => n > 0) && (
                    <Sparkline values={property.weeks} open={false} colour="var(--water)" />
                  )}
                </span>
              ),
            }),
          ]
        : []),
    ]
  }, [mend, of, zone, thisYear])
}

function PropertyPanel(props: {
  property: PropertyDetail
  properties: readonly PropertyDetail[]
  uses: Parameters<typeof UsesList>[0]['uses'] | null
  onClose: () => void
}) {
  const { property, properties, uses, onClose } = props
  const { mend } = useMend()
  const { of, name } = property
  const { zone, thisYear } = useWorkspace()
  return (
    <aside className="sheet pad panel" aria-label={name}>
      <div className="row between">
        <h2 className="panel-title">{property.display || name}</h2>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </div>
      <p className="soft">{property.description || 'Nobody has said yet what it means.'}</p>
      <p className="hint">
        Called in sentences:{' '}
        <InPlace
          label={`Display name of ${name}`}
          value={property.display}
          empty="as it arrives"
          most={200}
          onKeep={(display) => void mend({ do: 'describe properties', of, names: [name], said: { display } })}
        />
      </p>
      <p className="hint">
        Other words for it, in typed questions:{' '}
        <InPlace
          label={`Other words for ${name}`}
          value={property.synonyms}
          empty="+ words, with commas"
          most={500}
          onKeep={(synonyms) => void mend({ do: 'describe properties', of, names: [name], said: { synonyms } })}
        />
      </p>
      {property.firstMs !== null && (
        <p className="hint">
          First {formatDay(dayIn(property.firstMs, zone), thisYear)}, last{' '}
          {formatDay(dayIn(property.lastMs!, zone), thisYear)}, {formatNumber(property.events)} events in all.
        </p>
      )}
      {property.kinds.length > 1 && (
        <p className="caution">
          Its values are of several types:{' '}
          {property.kinds.map(({ kind, values }) => `${KIND_WORDS[kind]} ${formatNumber(values)} times`).join(', ')}.
          The text “5” is never taken for the number 5.
        </p>
      )}
      {property.values.length > 0 && (
        <>
          <h3 className="overline">Commonest values</h3>
          <ul className="panel-list">
            {property.values.map(({ value, count }) => (
              <li key={value}>
                <span className="value-text">{value || 'empty text'}</span>
                <span>{formatNumber(count)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {property.carriedBy.length > 0 && (
        <>
          <h3 className="overline">Carried by</h3>
          <ul className="panel-list">
            {property.carriedBy.slice(0, 8).map(({ event, share }) => (
              <li key={event}>
                <Link to={`/catalog/events/${encodeURIComponent(event)}`}>{event}</Link>
                <span>{formatPercent(share, 0)}</span>
              </li>
            ))}
            {property.carriedBy.length > 8 && <li className="soft">and {property.carriedBy.length - 8} more</li>}
          </ul>
        </>
      )}
      {uses && <UsesList uses={uses} />}
      <MergeField
        what="property"
        of={of}
        from={name}
        into={property.mergedInto}
        choices={properties.filter((each) => each.name !== name && !each.mergedInto).map((each) => each.name)}
      />
    </aside>
  )
}
