import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { Condition, GroupKey, PropertyRef } from '../../core/questions/parts.js'
import type { Apart, CompositionRow } from '../../core/segments/composition.js'
import type { Rule } from '../../core/segments/rule.js'
import { formatNumber, formatPercent, MISSING } from '../../core/words/format.js'
import { groupWords, propertyWords } from '../../core/words/words.js'
import type { SegmentComposition } from '../../server/engine/segments.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useLasting } from '../study/Waiting.js'
import { useWorkspace } from '../page/workspace.js'

/** As many bars are drawn; the others are counted together. */
const BARS = 8

/** Who they are: a profile property's values among the people beside everyone or others, and what sets them apart most. */
export function CompositionSheet(props: {
  /** as JSON, so that the sheet is drawn anew only when other people are meant */
  people: string
  /** the people as a rule, to select those with one value; null where they are no rule */
  rule: Rule | null
  /** whom they stand beside, as JSON; left out: everyone */
  beside?: string
  onSelect: (people: PeopleRef) => void
}) {
  const { people, rule, beside, onSelect } = props
  const { words, catalog } = useWorkspace()
  const [property, setProperty] = useState<PropertyRef | null>(() => usualProperty(catalog))
  const [choosing, setChoosing] = useState<{ left: number; top: number } | null>(null)
  const fetcher = useFetcher<{ composition: SegmentComposition } | { problem: string }>({ key: 'composition' })
  const { load, data } = fetcher
  useEffect(() => {
    const params = new URLSearchParams({
      people,
      ...(beside ? { beside } : {}),
      ...(property ? { property: JSON.stringify(property) } : {}),
    })
    void load(`/ask/segment?${params.toString()}`)
  }, [load, people, beside, property])
  const slow = useLasting(fetcher.state === 'loading', 150)
  if (!property) return null
  const found = data && 'composition' in data ? data.composition : null
  const select = (of: PropertyRef, key: GroupKey) => {
    const where = conditionOf(of, key)
    if (where && rule) onSelect({ rule: { hold: 'all', of: [rule, { kind: 'profile', where }] } })
  }
  return (
    <section className={`sheet pad composition${slow ? ' dimmed' : ''}`} aria-label="Who they are">
      <div className="row between wrap">
        <h2>
          Who they are, by{' '}
          <button
            type="button"
            className="token water"
            onClick={(event) => setChoosing(placeUnder(event.currentTarget))}
          >
            {propertyWords(property, words)}
          </button>
        </h2>
        <span className="composition-legend">
          <span>
            <i className="own" /> they
          </span>
          <span>
            <i className="all" /> {beside ? 'those beside' : 'everyone'}
          </span>
        </span>
      </div>
      {found?.of && found.of.members === 0 && <p className="soft">Nobody is in it, so there is nothing to compare.</p>}
      {beside && found?.of && found.of.members > 0 && found.more.length + found.less.length === 0 && (
        <p className="soft">
          {found.of.everyone === found.of.members
            ? 'Nobody stands beside them, so there is nothing to compare.'
            : 'Nothing that is known of them sets them apart by more than chance brings about.'}
        </p>
      )}
      {found?.of && found.of.members > 0 && (
        <table className="composition-bars">
          <tbody>
            {found.of.rows.slice(0, BARS).map((row) => (
              <Bar key={JSON.stringify(row.key)} row={row} onSelect={rule ? () => select(property, row.key) : null} />
            ))}
          </tbody>
        </table>
      )}
      {found?.of && found.of.rows.length > BARS && (
        <p className="hint">{formatNumber(found.of.rows.length - BARS)} more values are rarer among them.</p>
      )}
      {found && found.of && found.of.members > 0 && (
        <div className="apart">
          <ApartList title="More often than others" rows={found.more} onSelect={rule ? select : null} />
          <ApartList title="Less often than others" rows={found.less} onSelect={rule ? select : null} />
        </div>
      )}
      {data && 'problem' in data && <p className="soft">{data.problem}</p>}
      <TokenPopover at={choosing} label="By which property" onClose={() => setChoosing(null)}>
        <PropertyPicker
          events={[]}
          only="person"
          value={property}
          onChoose={(entry) => {
            setProperty(entry.property)
            setChoosing(null)
          }}
        />
      </TokenPopover>
    </section>
  )
}

/** A property of few values, to begin with. */
function usualProperty(catalog: ReturnType<typeof useWorkspace>['catalog']): PropertyRef | null {
  const own = catalog.properties.filter(({ property }) => property.of === 'person')
  const telling = own.find(({ kind, name }) => kind === 'text' && !/name$|_by$/.test(name) && name === 'plan')
  return (
    (telling ?? own.find(({ kind, name }) => kind === 'text' && !/name$|_by$/.test(name)) ?? own[0])?.property ?? null
  )
}

function Bar({ row, onSelect }: { row: CompositionRow; onSelect: (() => void) | null }) {
  const { key, members, share, interval, usual } = row
  const name = groupWords(key)
  const percent = (x: number | null) => `${((x ?? 0) * 100).toFixed(1)}%`
  return (
    <tr>
      <th scope="row">
        {onSelect ? (
          <button type="button" className="word-button" onClick={onSelect}>
            {name}
          </button>
        ) : (
          name
        )}
      </th>
      <td className="bars" aria-hidden="true">
        <i className="own" style={{ width: percent(share) }} />
        {interval && (
          <i className="reach" style={{ left: percent(interval.low), width: percent(interval.high - interval.low) }} />
        )}
        <i className="all" style={{ width: percent(usual) }} />
      </td>
      <td className="number">{formatNumber(members)}</td>
      <td
        className="number"
        title={
          interval ? `95\u202f% interval ${formatPercent(interval.low)} to ${formatPercent(interval.high)}` : undefined
        }
      >
        {share === null ? MISSING : formatPercent(share)}
      </td>
      <td className="number soft">{usual === null ? MISSING : formatPercent(usual)}</td>
    </tr>
  )
}

function ApartList(props: {
  title: string
  rows: readonly Apart[]
  onSelect: ((property: PropertyRef, key: GroupKey) => void) | null
}) {
  const { title, rows, onSelect } = props
  const { words } = useWorkspace()
  return (
    <div>
      <h3 className="overline">{title}</h3>
      {rows.length === 0 ? (
        <p className="soft">Nothing that is more than noise.</p>
      ) : (
        <ul>
          {rows.map(({ property, key, share, difference, differenceInterval, p, members, everyone }) => {
            const name = `${propertyWords(property, words)}: ${groupWords(key)}`
            const points = (x: number) => `${x < 0 ? '−' : '+'}${Math.abs(x * 100).toFixed(1)}`
            return (
              <li key={name}>
                {onSelect ? (
                  <button type="button" className="word-button" onClick={() => onSelect(property, key)}>
                    {name}
                  </button>
                ) : (
                  name
                )}{' '}
                <strong>{formatPercent(share)}</strong>
                <span
                  className={difference! > 0 ? 'gain' : 'loss'}
                  title={`${formatNumber(members)} of the members, ${formatNumber(everyone)} of everyone; p ${p! < 0.001 ? 'under 0.001' : p!.toFixed(3)}, adjusted`}
                >
                  {' '}
                  {points(difference!)} points
                </span>
                {differenceInterval && (
                  <small className="soft">
                    {' '}
                    ({points(differenceInterval.low)} to {points(differenceInterval.high)})
                  </small>
                )}
              </li>
            )
          })}
        </ul>
      )}
    </div>
  )
}

/** A value of a profile as a condition; null for what cannot be said by one. */
function conditionOf(property: PropertyRef, key: GroupKey): Condition | null {
  if (!('value' in key)) return null
  const { value } = key
  if (value === null) return { property, op: 'has no value' }
  if (typeof value === 'number') return { property, op: '=', number: value }
  if (typeof value === 'boolean') return { property, op: value ? 'is true' : 'is false' }
  return /^\d{4}-\d{2}-\d{2}$/.test(value)
    ? { property, op: 'between days', days: [value, value] }
    : { property, op: 'is', values: [value] }
}
