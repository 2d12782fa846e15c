import { own } from '../../core/names.js'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Problem } from '../../core/plan/quality.js'
import { policies, type Policy } from '../../core/plan/plan.js'
import { countOf, formatDay, formatMoment, formatNumber, MISSING } from '../../core/words/format.js'
import type { AsideGroup, AsideRow } from '../../server/store/setAside.js'
import type { StoredEvent } from '../../server/store/events.js'
import { useCatalogList, ListBar } from '../catalog/catalogList.js'
import { dayIn } from '../catalog/days.js'
import { EventSample } from '../catalog/EventSample.js'
import { InPlace } from '../catalog/InPlace.js'
import { MergeField } from '../catalog/MergeField.js'
import { problemWords } from '../catalog/problemWords.js'
import { allowWords, likelyEvent, likelyName } from '../catalog/remedies.js'
import { TakenList } from '../catalog/TakeBack.js'
import { useMend } from '../catalog/useMend.js'
import { Sparkline } from '../charts/Sparkline.js'
import { dowser } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.quality'

export async function loader({ request }: Route.LoaderArgs) {
  const problems = await dowser().problems()
  const aside = dowser().aside.groups()
  const open = new URL(request.url).searchParams.get('problem')
  const problem = problems.find((each) => keyOf(each) === open) ?? null
  const group = aside.find((each) => asideKey(each) === open) ?? null
  const detail = await dowser().catalogDetail()
  const plan = dowser().plan.get()
  return {
    problems,
    aside,
    policy: plan.policy,
    mergedEvents: dowser().mending.get().mergedEvents,
    planned: plan.events.map(({ name, properties }) => ({ name, properties: properties.map((each) => each.name) })),
    events: detail.events.filter(({ mergedInto }) => !mergedInto).map(({ name }) => name),
    carries: problem
      ? (detail.events.find(({ name }) => name === problem.event)?.properties.map(({ name }) => name) ?? [])
      : [],
    samples: problem ? dowser().eventsBySeq(problem.samples) : [],
    taken: dowser().takeBack.list(),
    asideSamples: group ? dowser().aside.samples(group, 5) : [],
  }
}

const keyOf = ({ rule, event, property }: { rule: string; event: string | null; property: string | null }) =>
  [rule, event ?? '', property ?? ''].join('|')
const asideKey = (group: AsideGroup) => `aside|${keyOf(group)}`

const POLICY_WORDS: Record<Policy, string> = {
  accept: 'accept it, and say nothing',
  flag: 'accept it, and flag it here',
  'set aside': 'set it aside, out of all numbers',
}

export default function CatalogQuality({ loaderData }: Route.ComponentProps) {
  const { problems, aside, policy, planned, mergedEvents, events, carries, samples, asideSamples, taken } = loaderData
  const { mend } = useMend()
  const [params] = useSearchParams()
  const list = useCatalogList({
    rows: problems,
    openAs: 'problem',
    textsOf: (problem) => [
      problem.event,
      problem.property ?? '',
      problem.rule,
      ...problem.bySource.map(({ name }) => name ?? ''),
    ],
    filters: {
      'unknown events': ({ rule }) => rule === 'unknown event',
      'unknown properties': ({ rule }) => rule === 'unknown property',
      'missing or wrong': ({ rule }) => rule !== 'unknown event' && rule !== 'unknown property',
      'in the last week': ({ weeks }) => (weeks.at(-1) ?? 0) > 0,
    },
  })
  const open = params.get('problem')
  return (
    <>
      <div className="row between wrap">
        <div className="row">
          Data that does not fit the plan:
          <Select
            value={policy}
            aria-label="What happens to data that does not fit"
            onChange={(event) => void mend({ do: 'policy', policy: event.target.value as Policy })}
          >
            {policies.map((each) => (
              <MenuItem key={each} value={each}>
                {POLICY_WORDS[each]}
              </MenuItem>
            ))}
          </Select>
        </div>
        <p className="soft">
          All events are held against the <Link to="/catalog/plan">plan</Link> as it is now, past ones too. An event can
          have a policy of its own.
        </p>
      </div>
      {planned.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            There is no tracking plan yet, so nothing can fail to fit. Take over what has been seen as a first plan,
            then watch what departs from it.
          </p>
          <Button variant="contained" component={Link} to="/catalog/plan">
            Make a plan
          </Button>
        </section>
      ) : (
        <>
          {problems.length > 0 && (
            <ListBar bar={list.bar} label="Search problems" placeholder="Search events, properties, sources" />
          )}
          <section className="sheet">
            {list.shown.length === 0 ? (
              <p className="pad soft">
                {problems.length === 0
                  ? 'Everything that has come fits the plan.'
                  : 'No problem fits that search. Take a word or a chip away.'}
              </p>
            ) : (
              <ul className="problems">
                {list.shown.map((problem) => (
                  <ProblemRow
                    key={keyOf(problem)}
                    problem={problem}
                    open={open === keyOf(problem)}
                    onOpen={() => list.setOpen(keyOf(problem))}
                    samples={samples}
                    planned={planned}
                    events={events}
                    carries={carries}
                    countsAs={own(mergedEvents, problem.event) ?? problem.event}
                  />
                ))}
              </ul>
            )}
          </section>
        </>
      )}
      <h2 className="overline aside-head">Set aside, out of all numbers</h2>
      <section className="sheet">
        {aside.length === 0 ? (
          <p className="pad soft">
            Nothing. What is refused at the door, or set aside by policy or by hand, is kept here.
          </p>
        ) : (
          <ul className="problems">
            {aside.map((group) => (
              <AsideItem
                key={asideKey(group)}
                group={group}
                open={open === asideKey(group)}
                onOpen={() => list.setOpen(asideKey(group))}
                samples={asideSamples}
              />
            ))}
          </ul>
        )}
      </section>
      {taken.length > 0 && (
        <>
          <h2 className="overline aside-head">Taken back by hand</h2>
          <section className="sheet pad">
            <TakenList taken={taken} />
          </section>
        </>
      )}
    </>
  )
}

function ProblemRow(props: {
  problem: Problem
  open: boolean
  onOpen: () => void
  samples: StoredEvent[]
  planned: { name: string; properties: string[] }[]
  events: string[]
  carries: string[]
  /** the planned event it is judged as */
  countsAs: string
}) {
  const { problem, open, onOpen, samples, planned, events, carries, countsAs } = props
  const { zone, thisYear } = useWorkspace()
  const { rule, event, property } = problem
  const day = (ms: number) => formatDay(dayIn(ms, zone), thisYear)
  return (
    <li className={open ? 'open' : ''}>
      <button type="button" className="problem-head" aria-expanded={open} onClick={onOpen}>
        <span className="problem-words">
          <strong>{event}</strong>
          <span className="soft">{problemWords(rule, event, property)}</span>
        </span>
        <span className="small-curve">
          <Sparkline values={problem.weeks} open={false} colour="var(--brick)" />
        </span>
        <span className="number">
          {formatNumber(problem.events)}
          <small className="soft"> events</small>
        </span>
        <span className="number">
          {formatNumber(problem.people)}
          <small className="soft"> people</small>
        </span>
        <span className="number soft problem-when">
          {day(problem.firstMs)} – {day(problem.lastMs)}
        </span>
      </button>
      {open && (
        <div className="problem-body">
          <Remedies problem={problem} planned={planned} events={events} carries={carries} countsAs={countsAs} />
          <div className="problem-facts">
            {problem.values.length > 0 && (
              <Breakdown
                title="Values"
                rows={problem.values.map(({ text, events: n }) => ({ name: text || 'empty text', events: n }))}
              />
            )}
            <Breakdown
              title="By source"
              rows={problem.bySource.map(({ name, events: n }) => ({ name: name ?? 'no source', events: n }))}
            />
            <Breakdown
              title="By app version"
              rows={problem.byVersion.map(({ name, events: n }) => ({ name: name ?? 'not said', events: n }))}
            />
          </div>
          <h3 className="overline">The newest</h3>
          <ul className="samples">
            {samples.map((sample) => (
              <EventSample key={sample.seq} event={sample} />
            ))}
          </ul>
        </div>
      )}
    </li>
  )
}

function Breakdown({ title, rows }: { title: string; rows: { name: string; events: number }[] }) {
  const most = Math.max(1, ...rows.map(({ events }) => events))
  return (
    <div>
      <h3 className="overline">{title}</h3>
      <ul className="value-bars">
        {rows.slice(0, 6).map(({ name, events }) => (
          <li key={name}>
            <span className="value-text">{name}</span>
            <span className="value-bar brick">
              <span style={{ width: `${(100 * events) / most}%` }} />
            </span>
            <span className="number">{formatNumber(events)}</span>
          </li>
        ))}
      </ul>
    </div>
  )
}

/** From a problem to its remedy in one step: allow it, map it to the right one, rename it, set it aside. */
function Remedies(props: {
  problem: Problem
  planned: { name: string; properties: string[] }[]
  events: string[]
  carries: string[]
  countsAs: string
}) {
  const { problem, planned, events, carries, countsAs } = props
  const { rule, event, property } = problem
  const { mend, busy } = useMend()
  const [chosen] = useState(() => problem.values.map(({ text }) => text))
  const own = planned.find(({ name }) => name === countsAs)?.properties ?? []
  const plannedNames = planned.map(({ name }) => name)
  const which = { rule, event, property }
  return (
    <div className="remedies">
      <Button
        variant="outlined"
        disabled={busy}
        onClick={() => void mend({ do: 'allow', problem: which, values: rule === 'value not allowed' ? chosen : [] })}
      >
        {allowWords(rule, property)}
      </Button>
      {rule === 'unknown event' && (
        <>
          <MergeField
            key={event}
            what="event"
            from={event}
            into={null}
            choices={[...plannedNames, ...events.filter((name) => name !== event && !plannedNames.includes(name))]}
            {...proposed(likelyName(event, plannedNames) ?? likelyEvent(carries, planned))}
          />
          <span className="row">
            or call it{' '}
            <InPlace
              label={`Another name for ${event}`}
              value=""
              empty="another name …"
              most={200}
              onKeep={(display) => void mend({ do: 'describe events', names: [event], said: { display } })}
            />
          </span>
        </>
      )}
      {rule === 'unknown property' && property !== null && (
        <>
          <MergeField
            key={property}
            what="property"
            from={property}
            into={null}
            choices={own.filter((name) => name !== property)}
            {...proposed(likelyName(property, own))}
          />
          <span className="row">
            or call it{' '}
            <InPlace
              label={`Another name for ${property}`}
              value=""
              empty="another name …"
              most={200}
              onKeep={(display) =>
                void mend({ do: 'describe properties', of: 'event', names: [property], said: { display } })
              }
            />
          </span>
        </>
      )}
      <Button
        color="error"
        disabled={busy}
        onClick={() => void mend({ do: 'set problem aside', problem: which })}
        title="Moves them out of all numbers; they can be let in again"
      >
        Set {countOf(problem.events, 'event', 'events')} aside
      </Button>
    </div>
  )
}

const proposed = (name: string | undefined) => (name === undefined ? {} : { proposed: name })

function AsideItem(props: { group: AsideGroup; open: boolean; onOpen: () => void; samples: AsideRow[] }) {
  const { group, open, onOpen, samples } = props
  const { zone, thisYear } = useWorkspace()
  const { mend, busy } = useMend()
  const choice = { rule: group.rule, event: group.event, property: group.property }
  return (
    <li className={open ? 'open' : ''}>
      <button type="button" className="problem-head" aria-expanded={open} onClick={onOpen}>
        <span className="problem-words">
          <strong>{group.event ?? 'Not readable'}</strong>
          <span className="soft">{problemWords(group.rule, group.event, group.property)}</span>
        </span>
        <span />
        <span className="number">
          {formatNumber(group.events)}
          <small className="soft"> events</small>
        </span>
        <span />
        <span className="number soft problem-when">received {formatMoment(group.lastMs, zone, thisYear)}</span>
      </button>
      {open && (
        <div className="problem-body">
          <div className="remedies">
            {group.whole && group.rule === 'clock ahead' && (
              <Button
                variant="outlined"
                disabled={busy}
                onClick={() => void mend({ do: 'let in', choice, atReceipt: true })}
              >
                Let them in with the time they were received
              </Button>
            )}
            {group.whole && group.rule !== 'clock ahead' && (
              <Button
                variant="outlined"
                disabled={busy}
                onClick={() => void mend({ do: 'let in', choice, atReceipt: false })}
              >
                Let them in
              </Button>
            )}
            {!group.whole && (
              <span className="soft">They cannot be let in as they are: correct them and send them again.</span>
            )}
            <Discard choice={choice} events={group.events} />
          </div>
          <h3 className="overline">The newest</h3>
          <ul className="samples">
            {samples.map((row) => (
              <li key={row.id} className="sample">
                <span className="sample-when">{formatMoment(row.receivedMs, zone, thisYear)}</span>
                <span className="sample-main">
                  <span>{row.reason}</span>
                  <code className="sample-content">{row.content.slice(0, 400) || MISSING}</code>
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </li>
  )
}

/** Throwing away cannot be undone, so it is asked for twice. */
function Discard({
  choice,
  events,
}: {
  choice: Extract<Parameters<ReturnType<typeof useMend>['mend']>[0], { do: 'discard' }>['choice']
  events: number
}) {
  const { mend, busy } = useMend()
  const [sure, setSure] = useState(false)
  if (!sure) return <Button onClick={() => setSure(true)}>Throw away …</Button>
  return (
    <span className="row">
      Throw {countOf(events, 'event', 'events')} away for good?
      <Button color="error" variant="contained" disabled={busy} onClick={() => void mend({ do: 'discard', choice })}>
        Throw away
      </Button>
      <Button onClick={() => setSure(false)}>Keep</Button>
    </span>
  )
}
