import { own } from '../../core/names.js'
import { useCallback, useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { PeopleRef } from '../../core/analyses/people.js'
import { faultWords } from '../../core/questions/faults.js'
import { isGroup, type Rule, type RuleGroup } from '../../core/segments/rule.js'
import { countOf, formatMoment, formatNumber, formatPercent } from '../../core/words/format.js'
import { peopleParams } from '../address/address.js'
import { useEditing } from '../editors/useEditing.js'
import { personAddress } from '../people/personAddress.js'
import { PeopleTray } from '../people/PeopleTray.js'
import { valueText } from '../people/valueText.js'
import { useLasting } from '../study/Waiting.js'
import { useWorkspace } from '../page/workspace.js'
import { CompositionSheet } from './CompositionSheet.js'
import { FrozenSheet } from './FrozenSheet.js'
import { RuleBuilder } from './RuleBuilder.js'
import type { SegmentData } from './segment.js'
import type { Selected } from './selected.js'
import { SegmentHead } from './SegmentHead.js'
import { SizeSheet } from './SizeSheet.js'
import { TestPerson } from './TestPerson.js'

/** A segment: its rule as a sentence, its size now and over time, whether somebody is in it and why, and who they are. */
export function SegmentPage({ data }: { data: SegmentData }) {
  const { saved, count } = data
  const editing = useEditing<RuleGroup>('rule')
  const { edit, endTyping, pending, busy } = editing
  const dimmed = useLasting(busy && pending !== null, 150)
  const rule = useMemo(() => pendingRule(pending) ?? data.rule, [pending, data.rule])
  const [selected, setSelected] = useState<Selected | null>(null)
  const select = useCallback((people: PeopleRef) => setSelected({ people, choices: [] }), [])
  const letGo = useCallback(() => setSelected(null), [])
  const counts = useMemo(
    () => new Map((count?.parts ?? []).map(({ path, people }) => [path.join('.'), people])),
    [count],
  )
  const own = saved && saved.frozenMs === null ? saved.id : null
  const definition = JSON.stringify(data.rule)
  return (
    <main className="page segment">
      <SegmentHead data={data} rule={rule} editing={editing} />
      <div className="segment-grid">
        <div className="stack segment-main">
          <section className="sheet rule-sheet" aria-label="Who is in it">
            {typeof saved?.frozenMs === 'number' ? (
              <FrozenSheet segment={saved} unknown={data.unknown} />
            ) : (
              <RuleBuilder
                rule={rule}
                counts={counts}
                faults={data.faults}
                own={own}
                edit={edit}
                endTyping={endTyping}
              />
            )}
            {data.faults.some(({ path }) => path.length === 0) && (
              <ul className="faults" role="alert">
                {data.faults
                  .filter(({ path }) => path.length === 0)
                  .map((fault, index) => (
                    <li key={index}>{faultWords(fault)}</li>
                  ))}
              </ul>
            )}
          </section>
          {count && <SizeSheet rule={definition} own={own} onSelect={setSelected} />}
          {count && (
            <CompositionSheet
              people={JSON.stringify({ rule: data.rule } satisfies PeopleRef)}
              onSelect={select}
              rule={data.rule}
            />
          )}
        </div>
        <aside className={`stack${dimmed ? ' dimmed' : ''}`}>
          <NowSheet data={data} onSelect={select} />
          {count && <TestPerson rule={definition} own={own} suggestion={data.some[0]?.id ?? null} />}
          {count && count.members > 0 && <SomeOfThem data={data} />}
        </aside>
      </div>
      <PeopleTray
        people={selected?.people ?? null}
        choices={(selected?.choices ?? []).map(({ label, people }) => ({ label, choose: () => select(people) }))}
        onClose={letGo}
      />
    </main>
  )
}

/** The rule that is on its way: this page wrote it, so that its shape need not be checked before the server has. */
function pendingRule(pending: string | null): RuleGroup | null {
  if (!pending) return null
  try {
    const rule = JSON.parse(pending) as Rule
    return isGroup(rule) ? rule : null
  } catch {
    return null
  }
}

/** How many they are, and who came and went in the last week. */
function NowSheet({ data, onSelect }: { data: SegmentData; onSelect: (people: PeopleRef) => void }) {
  const { count, rule, saved, faults, loading } = data
  const { zone, thisYear } = useWorkspace()
  if (loading !== null)
    return (
      <section className="sheet pad">
        <p>The events are being read: {formatNumber(loading)} so far. The count comes by itself.</p>
      </section>
    )
  if (!count)
    return (
      <section className="sheet pad">
        <h2 className="overline">Now</h2>
        <p>{faults.length > 0 ? 'There is no count yet: mend what is marked.' : 'There is no count.'}</p>
      </section>
    )
  const { members, everyone, week, firstMs } = count
  const came = (which: 'in' | 'out') => onSelect({ rule, came: which, since: week.since })
  return (
    <section className="sheet pad now-sheet">
      <h2 className="overline">Now</h2>
      <p className="now-figure" aria-live="polite">
        <button type="button" className="now-button" onClick={() => onSelect({ rule })} title="Select these people">
          {formatNumber(members)}
        </button>{' '}
        <span className="soft">
          {members === 1 ? 'person' : 'people'} · {everyone > 0 ? formatPercent(members / everyone) : '–'} of everyone
        </span>
      </p>
      {typeof saved?.frozenMs !== 'number' && (
        <p>
          In the last 7 days{' '}
          <button type="button" className="word-button" disabled={week.in === 0} onClick={() => came('in')}>
            {formatNumber(week.in)} came in
          </button>{' '}
          and{' '}
          <button type="button" className="word-button" disabled={week.out === 0} onClick={() => came('out')}>
            {formatNumber(week.out)} went out
          </button>
          .
        </p>
      )}
      {typeof saved?.frozenMs !== 'number' && firstMs !== null && (
        <p className="caution">
          Computed back to the first event, {formatMoment(firstMs, zone, thisYear).replace(/,? \d\d:\d\d$/, '')}.
          Profile properties are read at their latest value, also for the past.
        </p>
      )}
    </section>
  )
}

/** A few of the members, with what their profiles say. */
function SomeOfThem({ data }: { data: SegmentData }) {
  const { some, count, rule } = data
  const { thisYear } = useWorkspace()
  const shown = tellingProperty(some)
  const now = count!.now
  return (
    <section className="sheet pad">
      <h2 className="overline">Some of them</h2>
      <table className="some-people">
        <tbody>
          {some.map((person) => (
            <tr key={person.person}>
              <th scope="row">
                <Link to={personAddress(person)}>{person.id}</Link>
              </th>
              {shown && <td>{valueText(own(person.profile, shown), thisYear)}</td>}
              <td className="number soft">{agoWords(person.lastMs, now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        <Link to={`/people?${peopleParams({ rule })}`}>See all {countOf(count!.members, 'person', 'people')}</Link>
      </p>
    </section>
  )
}

/** The profile property that most of them have and that is neither a name nor a date. */
function tellingProperty(people: SegmentData['some']): string | null {
  const names = ['plan', ...people.flatMap(({ profile }) => Object.keys(profile))]
  return (
    names.find(
      (name) => !/name|_on$|_by$/.test(name) && people.some(({ profile }) => typeof own(profile, name) === 'string'),
    ) ?? null
  )
}

export function agoWords(ms: number, now: number): string {
  const days = Math.floor((now - ms) / 86_400_000)
  if (days >= 1) return `${days} d ago`
  const hours = Math.floor((now - ms) / 3_600_000)
  return hours >= 1 ? `${hours} h ago` : 'just now'
}
