import { own } from '../../core/names.js'
import CheckIcon from '@mui/icons-material/Check'
import CloseIcon from '@mui/icons-material/Close'
import { useEffect, useState } from 'react'
import { Link, useFetcher } from 'react-router'
import { studyClause } from '../analyses/words.js'
import type { RuleGroup, SegmentCondition } from '../../core/segments/rule.js'
import type { WhyCondition } from '../../core/segments/why.js'
import { conditionText } from '../../core/segments/words.js'
import { formatDay, formatMoment, formatNumber } from '../../core/words/format.js'
import { propertyWords, type Words } from '../../core/words/words.js'
import type { SegmentWhy } from '../../server/engine/segments.js'
import { useWorkspace } from '../page/workspace.js'
import { at } from './ruleTree.js'
import { Temporal } from 'temporal-polyfill'

type Reply = { why: SegmentWhy & { id: string; profile: Record<string, unknown> } } | { problem: string }

/** Why one person is in or not: each condition with the person's own value, and when they last came in or went out. */
export function TestPerson({ rule, own, suggestion }: { rule: string; own: string | null; suggestion: string | null }) {
  const fetcher = useFetcher<Reply>({ key: 'test person' })
  const [id, setId] = useState('')
  const { load } = fetcher
  useEffect(() => {
    if (id.trim() === '') return
    const params = new URLSearchParams({ what: 'why', rule, person: id.trim(), ...(own ? { own } : {}) })
    const timer = setTimeout(() => void load(`/ask/segment?${params.toString()}`), 250)
    return () => clearTimeout(timer)
  }, [load, rule, own, id])
  const reply = id.trim() === '' ? undefined : fetcher.data
  return (
    <section className="sheet pad test-person">
      <h2 className="overline">Test one person</h2>
      <input
        type="search"
        value={id}
        placeholder={suggestion ? `an id, as ${suggestion}` : 'the id of a person'}
        aria-label="Id of the person to test"
        onChange={(event) => setId(event.target.value)}
      />
      <div aria-live="polite">
        {reply &&
          ('problem' in reply ? <p className="soft">{reply.problem}</p> : <Verdict why={reply.why} rule={rule} />)}
      </div>
    </section>
  )
}

function Verdict({ why, rule }: { why: Exclude<Reply, { problem: string }>['why']; rule: string }) {
  const { zone, thisYear } = useWorkspace()
  const group = JSON.parse(rule) as RuleGroup
  const { change } = why
  const lines = why.conditions.flatMap((line) => {
    const place = line.path.filter((step) => typeof step === 'number')
    const node = at(group, place)
    return node && !('hold' in node) ? [{ line, condition: node }] : []
  })
  return (
    <>
      <ul className="verdict">
        {lines.map(({ line, condition }) => (
          <VerdictLine key={line.path.join('.')} line={line} condition={condition} why={why} />
        ))}
      </ul>
      <p>
        <strong>{why.member ? 'A member' : 'Not a member'}.</strong>{' '}
        {change &&
          (change.came === 'in'
            ? `Came in on ${dayWords(change.at, zone, thisYear)}.`
            : `Left on ${dayWords(change.at, zone, thisYear)}.`)}
        {!change && why.told && 'Never was one.'}
        {!why.told && 'Where a study’s result is part of the rule, days are not gone through one by one.'}{' '}
        <Link to={`/people/known/${encodeURIComponent(why.id)}`}>See what they did</Link>
      </p>
    </>
  )
}

function dayWords(ms: number, zone: string, thisYear: number): string {
  return formatMoment(ms, zone, thisYear).replace(/,? \d\d:\d\d$/, '')
}

function VerdictLine(props: {
  line: WhyCondition
  condition: SegmentCondition
  why: Exclude<Reply, { problem: string }>['why']
}) {
  const { line, condition, why } = props
  const { words, zone } = useWorkspace()
  const { found, must } = foundWords(condition, line, why, words, zone)
  return (
    <li className={condition.off ? 'off' : ''}>
      {line.holds ? (
        <CheckIcon fontSize="inherit" className="gain" aria-label="holds" />
      ) : (
        <CloseIcon fontSize="inherit" className="loss" aria-label="does not hold" />
      )}
      <span title={conditionText(condition, words, studyClause)}>
        {found}
        {!line.holds && must && <span className="soft"> — must be: {must}</span>}
        {condition.off && <span className="soft"> (switched off)</span>}
      </span>
    </li>
  )
}

/** What was found of the person, and for what does not hold, what would have. */
function foundWords(
  condition: SegmentCondition,
  line: WhyCondition,
  { now, profile }: { now: number; profile: Record<string, unknown> },
  words: Words,
  zone: string,
): { found: React.ReactNode; must: string | null } {
  const text = conditionText(condition, words, studyClause)
  const ago = (ms: number) => agoWords(ms, now, zone)
  switch (condition.kind) {
    case 'profile': {
      const { property } = condition.where
      const name = property.of === 'person' ? property.name : ''
      const value = own(profile, name)
      const said =
        value === undefined ? (
          'has no value'
        ) : (
          <>
            is <strong>{Array.isArray(value) ? value.join(', ') : String(value)}</strong>
          </>
        )
      return {
        found: (
          <>
            {propertyWords(property, words)} {said}
          </>
        ),
        must: text.replace(/^whose /, ''),
      }
    }
    case 'did': {
      const last = line.lastMs === null ? ', never at all' : `, last ${ago(line.lastMs)}`
      const measure = condition.count?.measure ?? 'times'
      const unit =
        { times: 'times', days: 'different days', weeks: 'different weeks', values: 'different values' }[
          measure as 'times'
        ] ?? measure
      const value =
        line.value === null
          ? `no ${measure}`
          : measure in { times: 1, days: 1, weeks: 1, values: 1 }
            ? `${formatNumber(line.value)} ${unit}`
            : `${measure} ${formatNumber(line.value)}`
      const event = conditionText(
        { kind: 'did', event: condition.event, ...(condition.window ? { window: condition.window } : {}) },
        words,
        studyClause,
      )
      return {
        found: (
          <>
            {event}: <strong>{value}</strong>
            {last}
          </>
        ),
        must: text,
      }
    }
    case 'time': {
      const ms = condition.asked.startsWith('first') ? line.firstMs : line.lastMs
      const said =
        ms === null
          ? 'never'
          : formatDay(
              Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate().toString(),
              words.thisYear,
            )
      return {
        found: (
          <>
            {condition.asked}: <strong>{said}</strong>
          </>
        ),
        must: text,
      }
    }
    default: {
      // What is so of the person, whichever of the two the condition asks for.
      const { not, ...positive } = condition
      const is = line.holds !== (not === true)
      return { found: conditionText(is ? positive : { ...positive, not: true }, words, studyClause), must: null }
    }
  }
}

function agoWords(from: number, to: number, zone: string): string {
  const day = (ms: number) => Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate()
  const days = day(from).until(day(to), { largestUnit: 'days' }).days
  return days === 0 ? 'today' : days === 1 ? 'yesterday' : `${formatNumber(days)} days ago`
}
