import { readSoFar } from '../ui/readSoFar.js'
import { Suspense } from 'react'
import { Link } from 'react-router'
import { kindName } from '../analyses/words.js'
import { formatMoment, formatNumber } from '../../core/words/format.js'
import { studyAddress } from '../address/address.js'
import { dowser } from '../door/dowser.server.js'
import { viewOf } from '../analyses/registry.js'
import { homeCards } from '../study/lead.server.js'
import { near } from '../study/near.server.js'
import { AskField } from '../ui/AskField.js'
import { deferred } from '../page/deferred.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/home'

const FirstSteps = deferred(async () => (await import('../page/FirstSteps.js')).FirstSteps)
const DemoHere = deferred(async () => (await import('../page/DemoHere.js')).DemoHere)

export async function loader() {
  const { studies, dashboards } = dowser()
  const status = await dowser().status()
  const demo = dowser().demo.state()
  return {
    studies: studies.list().slice(0, 6),
    dashboards: dashboards.list().slice(0, 6),
    demo,
    cards: await homeCards(await near(status)),
    // Only who begins is asked for it.
    zones: status.ready && status.events === 0 ? ['UTC', ...Intl.supportedValuesOf('timeZone')] : [],
  }
}

export const meta = () => [{ title: 'Dowser' }]

export default function Home({ loaderData }: Route.ComponentProps) {
  const { catalog, status, name, zone, thisYear } = useWorkspace()
  const { studies, dashboards, cards, demo } = loaderData
  const moving = demo.at === 'coming' || demo.at === 'going'
  const empty = status.ready && status.events === 0
  const undescribed = catalog.events.filter((event) => !event.description && event.events > 0).length
  return (
    <main className="page home">
      <h1 className="home-title">What do you want to find out?</h1>
      <AskField variant="home" />
      {demo.at !== 'nowhere' && (
        <Suspense>
          <DemoHere state={demo} />
        </Suspense>
      )}
      {moving ? null : empty ? (
        <Suspense>
          <FirstSteps zones={loaderData.zones} problem={demo.problem} />
        </Suspense>
      ) : (
        <div className="home-cards">
          {cards.map(({ title, kind, looks }) => (
            <section className="sheet kind-card" key={kind}>
              <div className="kind-picture">
                <svg viewBox="0 0 140 34" aria-hidden="true">
                  {viewOf(kind).glyph}
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
