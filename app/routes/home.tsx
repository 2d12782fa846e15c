import { readSoFar } from '../ui/readSoFar.js'
import Button from '@mui/material/Button'
import { useMemo, type ReactNode } from 'react'
import { Link } from 'react-router'
import { kindName } from '../../core/analyses/inWords.js'
import type { AnalysisKind } from '../../core/analyses/registry.js'
import { formatMoment, formatNumber } from '../../core/words/format.js'
import { studyAddress } from '../address/address.js'
import { dowser } from '../door/dowser.server.js'
import { homeCards } from '../study/homeStarts.js'
import { AskField } from '../ui/AskField.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/home'

export function loader() {
  const { studies, dashboards } = dowser()
  return { studies: studies.list().slice(0, 6), dashboards: dashboards.list().slice(0, 6) }
}

export const meta = () => [{ title: 'Dowser' }]

export default function Home({ loaderData }: Route.ComponentProps) {
  const { catalog, status, name, zone, thisYear, words } = useWorkspace()
  const { studies, dashboards } = loaderData
  const cards = useMemo(() => homeCards(catalog, words), [catalog, words])
  const empty = status.ready && status.events === 0
  const undescribed = catalog.events.filter((event) => !event.description && event.events > 0).length
  return (
    <main className="page home">
      <h1 className="home-title">What do you want to find out?</h1>
      <AskField variant="home" />
      {empty ? (
        <section className="sheet pad empty">
          <p>
            There are no events yet. Bring in a file of events, or send them from a program; the first question can be
            asked a moment later.
          </p>
          <div className="row">
            <Button variant="contained" component={Link} to="/import">
              Bring in a file
            </Button>
            <Button variant="outlined" component={Link} to="/keys">
              Make a key for a program
            </Button>
          </div>
        </section>
      ) : (
        <div className="home-cards">
          {cards.map(({ title, kind, looks }) => (
            <section className="sheet kind-card" key={kind}>
              <div className="kind-picture">
                <svg viewBox="0 0 140 34" aria-hidden="true">
                  {PICTURES[kind]}
                </svg>
              </div>
              <h2>
                <Link to={`/studies/new?kind=${kind}`}>{title}</Link>
              </h2>
              <ul>
                {looks.map(({ label, question }) => (
                  <li key={label}>
                    <Link to={studyAddress(question)}>{label}</Link>
                  </li>
                ))}
              </ul>
            </section>
          ))}
        </div>
      )}
      <div className="home-lists">
        <section className="sheet pad">
          <h2 className="overline">Your studies</h2>
          {studies.length === 0 && <p className="soft">What you save is listed here.</p>}
          <ul className="plain-list">
            {studies.map((study) => (
              <li key={study.id}>
                <Link to={`/studies/${study.id}`}>{study.name}</Link>
                <span className="soft">{kindName(study.question.kind)}</span>
              </li>
            ))}
          </ul>
        </section>
        <section className="sheet pad">
          <h2 className="overline">Your dashboards</h2>
          {dashboards.length === 0 && (
            <p className="soft">Put studies side by side: “Add to dashboard” on a study makes the first.</p>
          )}
          <ul className="plain-list">
            {dashboards.map((dashboard) => (
              <li key={dashboard.id}>
                <Link to={`/dashboards/${dashboard.id}`}>{dashboard.name}</Link>
                <span className="soft">
                  {dashboard.studies} {dashboard.studies === 1 ? 'study' : 'studies'}
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
      <footer className="home-foot">
        {status.ready ? (
          <>
            <span>
              <b>{formatNumber(status.events)}</b> events
              {status.newestMs !== null && `, newest ${formatMoment(status.newestMs, zone, thisYear)}`}
            </span>
            <span>
              <b>{formatNumber(status.people)}</b> people
            </span>
            <span>
              <b>{formatNumber(catalog.events.filter((event) => event.events > 0 && !event.deprecated).length)}</b> live
              event types
            </span>
            {undescribed > 0 && (
              <span className="hazel">
                {undescribed} undescribed {undescribed === 1 ? 'event' : 'events'}
              </span>
            )}
          </>
        ) : (
          <span>Reading the events: {readSoFar(status)}</span>
        )}
        <span className="home-name">
          {name} · {zone}
        </span>
      </footer>
    </main>
  )
}

/** What each kind of answer looks like, in little. */
const PICTURES: Partial<Record<AnalysisKind, ReactNode>> = {
  trend: (
    <polyline
      points="0,30 20,26 40,28 60,18 80,20 100,11 120,14 140,4"
      fill="none"
      stroke="var(--water)"
      strokeWidth="2"
    />
  ),
  funnel: [140, 94, 52, 48, 42].map((width, i) => (
    <rect key={width} x="0" y={i * 7} width={width} height="5" rx="1" fill="var(--water)" opacity={1 - i * 0.16} />
  )),
  retention: <path d="M0,2 C10,24 26,29 60,30 S110,31 140,31" fill="none" stroke="var(--water)" strokeWidth="2" />,
  habit: [30, 24, 19, 15, 12, 9, 7, 5, 4, 3].map((height, i) => (
    <rect
      key={i}
      x={i * 14}
      y={34 - height}
      width="11"
      height={height}
      rx="1"
      fill="var(--water)"
      opacity={i < 6 ? 0.5 : 1}
    />
  )),
  growth: [
    [15, 4, 9],
    [16, 3, 7],
    [15, 5, 10],
    [17, 4, 8],
    [18, 4, 7],
    [17, 5, 11],
    [18, 4, 8],
    [19, 5, 7],
  ].map(([kept, fresh, lost], i) => (
    <g key={i}>
      <rect x={i * 17.5} y={24 - kept} width="13" height={kept} fill="var(--water)" />
      <rect x={i * 17.5} y={24 - kept - fresh} width="13" height={fresh} fill="var(--series-1)" />
      <rect x={i * 17.5} y="25" width="13" height={lost} fill="var(--series-3)" />
    </g>
  )),
}
