import Button from '@mui/material/Button'
import { Link } from 'react-router'
import { kindName } from '../../core/analyses/inWords.js'
import { usualTrend } from '../../core/analyses/trend/question.js'
import type { AnalysisKind, Question } from '../../core/analyses/registry.js'
import { usualFunnel } from '../../core/analyses/funnel/question.js'
import type { Split } from '../../core/questions/split.js'
import { splitWords, type Words } from '../../core/words/words.js'
import { formatMoment, formatNumber } from '../../core/words/format.js'
import { studyAddress } from '../address.js'
import { dowser } from '../dowser.server.js'
import { commonEvents, startingQuestion } from '../study/starting.js'
import { AskField } from '../ui/AskField.js'
import { useWorkspace } from '../workspace.js'
import type { Route } from './+types/home'

export function loader() {
  const { studies, dashboards } = dowser()
  return { studies: studies.list().slice(0, 6), dashboards: dashboards.list().slice(0, 6) }
}

export const meta = () => [{ title: 'Dowser' }]

export default function Home({ loaderData }: Route.ComponentProps) {
  const { catalog, status, name, zone, thisYear, words } = useWorkspace()
  const { studies, dashboards } = loaderData
  const starts = startsOf(commonEvents(catalog).map((event) => event.name))
  const empty = status.ready && status.events === 0
  const tables = crosstabsOf(startingQuestion('crosstab', catalog), words)
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
          <KindCard title="How many?" kind="trend" looks={starts.trends}>
            <svg viewBox="0 0 140 34" aria-hidden="true">
              <polyline
                points="0,30 20,26 40,28 60,18 80,20 100,11 120,14 140,4"
                fill="none"
                stroke="var(--water)"
                strokeWidth="2"
              />
            </svg>
          </KindCard>
          <KindCard title="How far do they get?" kind="funnel" looks={starts.funnels}>
            <svg viewBox="0 0 140 34" aria-hidden="true">
              {[140, 94, 52, 48, 42].map((width, i) => (
                <rect
                  key={width}
                  x="0"
                  y={i * 7}
                  width={width}
                  height="5"
                  rx="1"
                  fill="var(--water)"
                  opacity={1 - i * 0.16}
                />
              ))}
            </svg>
          </KindCard>
          <KindCard title="How does it break down?" kind="crosstab" looks={tables}>
            <svg viewBox="0 0 140 34" aria-hidden="true">
              {[0, 1, 2].flatMap((row) =>
                [0.9, 0.5, 0.25, 0.6].map((shade, column) => (
                  <rect
                    key={`${row} ${column}`}
                    x={column * 36}
                    y={row * 12}
                    width="32"
                    height="9"
                    rx="1"
                    fill="var(--water)"
                    opacity={[shade, shade * 0.7, 1 - shade][row]}
                  />
                )),
              )}
            </svg>
          </KindCard>
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
          <span>Reading the events: {formatNumber(status.loaded)} so far</span>
        )}
        <span className="home-name">
          {name} · {zone}
        </span>
      </footer>
    </main>
  )
}

interface Start {
  label: string
  question: Question
}

function KindCard(props: { title: string; kind: AnalysisKind; looks: Start[]; children: React.ReactNode }) {
  const { title, kind, looks, children } = props
  return (
    <section className="sheet kind-card">
      <div className="kind-picture">{children}</div>
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
  )
}

/** A table of the commonest event by what tells most about people, and each half of it. */
function crosstabsOf(question: Question, words: Words): Start[] {
  if (question.kind !== 'crosstab') return []
  const { column, rows, ...rest } = question
  const [first] = rows
  const name = (split: Split) => splitWords(split.by, words)
  if (!column) return [{ label: `By ${name(first)}`, question }]
  return [
    { label: `${name(first)} by ${name(column)}`, question },
    {
      label: `${name(column)}, and how often each comes`,
      question: {
        ...rest,
        rows: [column],
        series: [rest.series[0], { ...rest.series[0], measure: 'events per person' }],
      },
    },
  ]
}

/** Finished first questions around the most frequent events. */
function startsOf([first, second, third, fourth]: string[]): { trends: Start[]; funnels: Start[] } {
  const trends: Start[] = []
  const funnels: Start[] = []
  if (first) trends.push({ label: `People who did ${first} each week`, question: usualTrend(first) })
  if (second)
    trends.push({
      label: `${second} each day`,
      question: {
        ...usualTrend(second),
        series: [{ event: { names: [second] }, measure: 'events' }],
        every: 'day',
        range: { last: 28, unit: 'day' },
      },
    })
  trends.push({
    label: 'Active people each month',
    question: {
      ...usualTrend('…'),
      series: [{ event: { activity: true }, measure: 'people' }],
      every: 'month',
      range: { last: 12, unit: 'month' },
    },
  })
  const steps = (...names: string[]) => ({
    ...usualFunnel(names[0]),
    steps: names.map((name) => ({ event: { names: [name] } })),
  })
  if (first && second) funnels.push({ label: `From ${first} to ${second}`, question: steps(first, second) })
  if (first && second && third)
    funnels.push({ label: `From ${first} over ${second} to ${third}`, question: steps(first, second, third) })
  if (third && fourth) funnels.push({ label: `From ${third} to ${fourth}`, question: steps(third, fourth) })
  return { trends, funnels }
}
