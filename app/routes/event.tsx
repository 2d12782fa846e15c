import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { Link } from 'react-router'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import { usualTrend, type TrendQuestion } from '../../core/analyses/trend/question.js'
import { formatMoment, formatNumber, formatPercent, joinWords, MISSING } from '../../core/words/format.js'
import { studyAddress } from '../address/address.js'
import { EventSample } from '../catalog/EventSample.js'
import { UsesList } from '../catalog/EventPanel.js'
import { InPlace } from '../catalog/InPlace.js'
import { KIND_WORDS } from '../catalog/kindWords.js'
import { MergeField } from '../catalog/MergeField.js'
import { StateChip } from '../catalog/StateChip.js'
import { TakeBackButton } from '../catalog/TakeBack.js'
import { useMend } from '../catalog/useMend.js'
import { LazyTrendChart } from '../charts/LazyTrendChart.js'
import { dowser, missing } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/event'

export async function loader({ params, request }: Route.LoaderArgs) {
  const { events, properties } = await dowser().catalogDetail()
  const event = events.find(({ name }) => name === params.name)
  if (!event) missing(`No event “${params.name}” has arrived or is planned.`)
  const trend = usualTrend(event.name)
  const question: TrendQuestion = {
    ...trend,
    series: [{ ...trend.series[0], measure: 'events' }],
    every: 'day',
    range: { last: 12, unit: 'week' },
  }
  const reply = event.events > 0 ? await dowser().run(question, request.signal) : null
  const plan = dowser().plan.get()
  return {
    event,
    names: events.filter((each) => each.name !== event.name && !each.mergedInto).map(({ name }) => name),
    properties: event.properties.map((carried) => ({
      ...carried,
      ...properties.find((each) => each.of === 'event' && each.name === carried.name)!,
      carried: carried.events,
    })),
    question,
    result: (reply?.result ?? null) as TrendResult | null,
    samples: await dowser().newestOfEvent(event.name, 10),
    uses: dowser().usesOfEvent(event.name),
    planned: plan.events.find(({ name }) => name === event.name) ?? null,
    problems: (await dowser().problems()).filter((problem) => problem.event === event.name).length,
  }
}

export const meta = ({ params }: Route.MetaArgs) => [{ title: `${params.name} · Dowser` }]

export default function EventPage({ loaderData }: Route.ComponentProps) {
  const { event, names, properties, question, result, samples, uses, planned, problems } = loaderData
  const { zone, thisYear, words } = useWorkspace()
  const { mend } = useMend()
  const say = (said: Extract<Parameters<typeof mend>[0], { do: 'describe events' }>['said']) =>
    void mend({ do: 'describe events', names: [event.name], said })
  const title = event.display || event.name
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/catalog">Catalog</Link>
          <span aria-hidden="true">›</span>
          <strong>{event.name}</strong>
        </nav>
        <div className="page-actions">
          <Button variant="outlined" component={Link} to={`/catalog/plan?event=${encodeURIComponent(event.name)}`}>
            {planned ? 'Change its plan' : 'Take it into the plan'}
          </Button>
          <Button variant="contained" component={Link} to={studyAddress(question)}>
            Ask about it
          </Button>
        </div>
      </div>
      <h1 className="question">
        <strong>{title}</strong>
      </h1>
      <p className="event-meaning">
        <InPlace
          label="Meaning"
          value={event.description}
          empty="+ say what it means"
          onKeep={(description) => say({ description })}
        />
      </p>
      <div className="event-body">
        <div className="stack">
          <section className="sheet pad">
            {result ? (
              <LazyTrendChart result={result} question={question} words={words} selected={[]} />
            ) : (
              <p className="soft">
                {event.events > 0
                  ? 'The curve could not be worked out.'
                  : 'It has not arrived yet. Its curve would be here.'}
              </p>
            )}
          </section>
          <section className="sheet">
            <h2 className="overline pad-head">What it carries</h2>
            {properties.length === 0 ? (
              <p className="pad soft">No properties have come with it.</p>
            ) : (
              <div className="table-scroll" tabIndex={0} role="region" aria-label="Properties">
                <table className="catalog-table">
                  <thead>
                    <tr>
                      <th scope="col">Property</th>
                      <th scope="col">Meaning</th>
                      <th scope="col">Type</th>
                      <th scope="col">Commonest values</th>
                      <th scope="col" className="number">
                        Of events
                      </th>
                    </tr>
                  </thead>
                  <tbody>
                    {properties.map((property) => (
                      <tr key={property.name}>
                        <td>
                          <Link
                            className="name-link"
                            to={`/catalog/properties?property=${encodeURIComponent(property.name)}`}
                          >
                            {property.name}
                          </Link>
                        </td>
                        <td className="soft">{property.description || MISSING}</td>
                        <td>{property.kind ? KIND_WORDS[property.kind] : MISSING}</td>
                        <td className="soft value-list">
                          {property.values.map(({ value }) => value).join(', ') || MISSING}
                        </td>
                        <td className="number">{formatPercent(property.carried / event.events, 0)}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            )}
          </section>
          <section className="sheet">
            <h2 className="overline pad-head">The last ones, as they came</h2>
            {samples.length === 0 ? (
              <p className="pad soft">None yet.</p>
            ) : (
              <ul className="samples">
                {samples.map((sample) => (
                  <EventSample key={sample.seq} event={sample} />
                ))}
              </ul>
            )}
          </section>
        </div>
        <aside className="sheet pad stack event-side">
          <div>
            <h2 className="overline">In short</h2>
            <dl className="facts">
              <dt>State</dt>
              <dd>
                <StateChip
                  state={event.state}
                  merged={event.mergedInto}
                  label={event.name}
                  {...(event.state === 'planned'
                    ? {}
                    : { onChange: (state: 'live' | 'deprecated' | 'hidden') => say({ state }) })}
                />
              </dd>
              <dt>Called</dt>
              <dd>
                <InPlace
                  label="Display name"
                  value={event.display}
                  empty="as it arrives"
                  most={200}
                  onKeep={(display) => say({ display })}
                />
              </dd>
              <dt>Also</dt>
              <dd>
                <InPlace
                  label="Other words for it"
                  value={event.synonyms}
                  empty="+ other words for it"
                  most={500}
                  onKeep={(synonyms) => say({ synonyms })}
                />
              </dd>
              <dt>Owner</dt>
              <dd>
                <InPlace
                  label="Owner"
                  value={event.owner}
                  empty="+ owner"
                  most={200}
                  onKeep={(owner) => say({ owner })}
                />
              </dd>
              <dt>From</dt>
              <dd>
                {joinWords(
                  event.sources.map(({ name }) => name ?? 'no source'),
                  'and',
                ) || MISSING}
              </dd>
              <dt>30 days</dt>
              <dd>{formatNumber(event.recent)}</dd>
              <dt>In all</dt>
              <dd>{formatNumber(event.events)}</dd>
              <dt>First</dt>
              <dd>{event.firstMs === null ? MISSING : formatMoment(event.firstMs, zone, thisYear)}</dd>
              <dt>Last</dt>
              <dd>{event.lastMs === null ? MISSING : formatMoment(event.lastMs, zone, thisYear)}</dd>
            </dl>
            <FormControlLabel
              control={
                <Switch size="small" checked={!event.passive} onChange={(_event, on) => say({ passive: !on })} />
              }
              label="Counts as being active"
            />
          </div>
          <div>
            <UsesList uses={uses} />
            <RemovalWords event={event} uses={uses} />
          </div>
          <div>
            <h3 className="overline">Plan</h3>
            <p>
              {planned ? `Planned with ${planned.properties.length} properties.` : 'It is not in the tracking plan.'}{' '}
              {problems > 0 && (
                <Link to={`/catalog/quality?search=${encodeURIComponent(event.name)}`}>
                  {problems === 1 ? 'One thing does' : `${problems} things do`} not fit.
                </Link>
              )}
            </p>
          </div>
          <div>
            <h3 className="overline">Merge</h3>
            <MergeField what="event" from={event.name} into={event.mergedInto} choices={names} />
          </div>
          {event.events > 0 && (
            <div>
              <h3 className="overline">Undo</h3>
              <TakeBackButton what={`all “${event.name}”`} choice={{ of: 'event', name: event.name }}>
                Take back all of them …
              </TakeBackButton>
            </div>
          )}
        </aside>
      </div>
    </main>
  )
}

/** What would break if the event stopped arriving. */
function RemovalWords({ event, uses }: Pick<Route.ComponentProps['loaderData'], 'event' | 'uses'>) {
  const parts = [
    [uses.studies.length, 'study', 'studies'],
    [uses.dashboards.length, 'dashboard', 'dashboards'],
    [uses.made.length, 'definition made here', 'definitions made here'],
  ] as const
  const broken = parts.flatMap(([n, one, many]) => (n === 0 ? [] : [`${n} ${n === 1 ? one : many}`]))
  return (
    <p className={broken.length > 0 ? 'caution' : 'hint'}>
      {broken.length > 0
        ? `If it were no longer sent, ${joinWords(broken, 'and')} would lose its numbers.`
        : `If ${event.name} were no longer sent, nothing saved here would change.`}
    </p>
  )
}
