import { featureId } from '../../../core/analyses/funnel/featureId.js'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import MoreHorizIcon from '@mui/icons-material/MoreHoriz'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { ApartFeature, ApartResult } from '../../../core/analyses/funnel/lookResult.js'
import { MOST_STEPS, showOf, type Feature, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { withSteps } from '../../../core/analyses/funnel/steps.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import { hasMark } from '../../../core/questions/marks.js'
import type { Filter } from '../../../core/questions/parts.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { wholeWindow } from '../../../core/segments/window.js'
import type { DidCondition } from '../../../core/segments/rule.js'
import { countOf, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'
import { segmentAddress } from '../../address/address.js'
import type { BodyProps } from '../view.js'
import { featureWords } from './featureWords.js'

const FIRST = 15

/** What goes with getting through and with being lost: events, and events with a value, by how strongly they do. */
export function FunnelApart(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { apart: ApartResult }) {
  const { question, words, edit, selected, onSelect, apart } = props
  const [all, setAll] = useState(false)
  const [menu, setMenu] = useState<{ at: HTMLElement; feature: Feature } | null>(null)
  const navigate = useNavigate()
  const show = showOf(question)
  const asked = show.form === 'apart' ? show : { form: 'apart' as const }
  const { without = [], with: brought = [] } = asked
  const setLists = (next: { without: Feature[]; with: Feature[] }) =>
    edit?.({
      ...question,
      show: {
        form: 'apart',
        ...(next.without.length > 0 ? { without: next.without } : {}),
        ...(next.with.length > 0 ? { with: next.with } : {}),
      },
    })
  const isNot = (feature: Feature) => (other: Feature) => featureId(other) !== featureId(feature)
  const leaveOut = (feature: Feature) =>
    setLists({ without: [...without, feature], with: brought.filter(isNot(feature)) })
  const bringBack = (feature: Feature, byHand: boolean) =>
    setLists({ without: without.filter(isNot(feature)), with: byHand ? brought : [...brought, feature] })
  const act = (work: () => void) => {
    setMenu(null)
    work()
  }
  const rows = all ? apart.features : apart.features.slice(0, FIRST)
  const figure = (row: ApartFeature, through: boolean) => {
    const [part, whole] = through ? [row.through, apart.through] : [row.lost, apart.lost]
    const mark: FunnelMark = { kind: 'with', ...row.feature, through }
    const chosen = hasMark(selected, mark)
    return (
      <td className={`number${chosen ? ' chosen' : ''}`}>
        {onSelect && part > 0 ? (
          <button
            type="button"
            data-cell
            title={countOf(part, 'person', 'people')}
            onClick={(event) => onSelect(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
          >
            {formatPercent(part / whole)}
          </button>
        ) : (
          formatPercent(whole > 0 ? part / whole : null)
        )}
      </td>
    )
  }
  return (
    <div className="funnel-form">
      <p className="hint">
        What {countOf(apart.through, 'person', 'people')} who got through and {formatNumber(apart.lost)} who were lost
        did on the way. <strong>This is association</strong>: it does not say what causes what.
      </p>
      {apart.features.length === 0 ? (
        <p className="soft">
          {apart.through === 0 || apart.lost === 0
            ? 'It takes people who got through and people who were lost to tell them apart.'
            : 'Nothing else was done by at least 10 of them on the way.'}
        </p>
      ) : (
        <div className="table-scroll">
          <table className="numbers compact apart-table">
            <thead>
              <tr>
                <th>On the way they did</th>
                <th className="number">Got through</th>
                <th className="number">Lost</th>
                <th className="number">Difference, 95 %</th>
                <th className="number">Odds ratio</th>
                <th className="number">p, adjusted</th>
                {edit && <th aria-label="Actions" />}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={featureId(row.feature)}>
                  <th scope="row">{featureWords(row.feature, words)}</th>
                  {figure(row, true)}
                  {figure(row, false)}
                  <td className={`number ${row.phi >= 0 ? 'gain' : 'loss'}`}>{intervalWords(row)}</td>
                  <td className="number">{oddsWords(row.odds)}</td>
                  <td className="number soft">{row.p < 0.001 ? '< 0.001' : row.p.toFixed(3)}</td>
                  {edit && (
                    <td>
                      <IconButton
                        size="small"
                        aria-label={`What to do with ${featureWords(row.feature, words)}`}
                        onClick={(event) => setMenu({ at: event.currentTarget, feature: row.feature })}
                      >
                        <MoreHorizIcon fontSize="inherit" />
                      </IconButton>
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {apart.features.length > FIRST && (
        <Button onClick={() => setAll(!all)}>{all ? 'Fewer' : `Show all ${apart.features.length}`}</Button>
      )}
      {apart.few > 0 && (
        <p className="hint">
          {countOf(apart.few, 'further thing was', 'further things were')} done by fewer than 10 of them, too few to
          tell.
        </p>
      )}
      {apart.leftOut.length > 0 && (
        <details className="left-out">
          <summary>Left out: {apart.leftOut.length}</summary>
          <ul>
            {apart.leftOut.map(({ feature, why }) => (
              <li key={featureId(feature)}>
                {featureWords(feature, words)}{' '}
                <span className="soft">
                  {why === 'by hand' ? 'by hand' : `goes along with ${stepName(question, why.step, words)}`}
                </span>
                {edit && (
                  <Button size="small" onClick={() => bringBack(feature, why === 'by hand')}>
                    Bring back
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
      <Menu anchorEl={menu?.at ?? null} open={menu !== null} onClose={() => setMenu(null)}>
        {question.steps.length < MOST_STEPS && (
          <MenuItem onClick={() => act(() => menu && edit?.(withStep(question, menu.feature)))}>Add as a step</MenuItem>
        )}
        <MenuItem onClick={() => act(() => menu && edit?.(brokenDown(question, menu.feature, words)))}>
          Break down by it
        </MenuItem>
        <MenuItem
          onClick={() =>
            act(() => menu && void navigate(segmentAddress({ hold: 'all', of: [didIt(question, menu.feature)] })))
          }
        >
          Make a segment
        </MenuItem>
        <MenuItem onClick={() => act(() => menu && leaveOut(menu.feature))}>Leave out</MenuItem>
      </Menu>
    </div>
  )
}

function intervalWords({ interval }: ApartFeature): string {
  if (!interval) return MISSING
  const points = (x: number) => `${x > 0 ? '+' : x < 0 ? '−' : ''}${Math.abs(x * 100).toFixed(1)}`
  return `${points(interval.low)} to ${points(interval.high)}`
}

function oddsWords(odds: number | null): string {
  if (odds === null) return MISSING
  return odds < 10 ? odds.toPrecision(2) : formatNumber(Math.round(odds))
}

function whereOf({ property, value }: Feature): Filter | undefined {
  if (property === undefined) return undefined
  const ref = { of: 'event' as const, name: property }
  if (typeof value === 'boolean') return { property: ref, op: value ? 'is true' : 'is false' }
  return { property: ref, op: 'is', values: [value!] }
}

/** Before the last step: it was done on the way. */
function withStep(question: FunnelQuestion, feature: Feature): FunnelQuestion {
  const where = whereOf(feature)
  const step = { event: { names: [feature.event] }, ...(where ? { where } : {}) }
  return withSteps(question, question.steps.toSpliced(-1, 0, step))
}

function didIt({ range }: FunnelQuestion, feature: Feature): DidCondition {
  const where = whereOf(feature)
  const window = wholeWindow(range)
  return {
    ...{ kind: 'did', event: { names: [feature.event] } },
    ...(where ? { where } : {}),
    ...(window ? { window } : {}),
  }
}

/** Those who did it beside all others. */
function brokenDown(question: FunnelQuestion, feature: Feature, words: Words): FunnelQuestion {
  const { show: _show, readAt: _readAt, ...plain } = question
  const did = didIt(question, feature)
  const name = featureWords(feature, words).slice(0, 50)
  const sides = [
    { name: `Did ${name}`.slice(0, 60), rule: did },
    { name: `Did not ${name}`.slice(0, 60), rule: { ...did, not: true as const } },
  ]
  return { ...plain, breakdowns: [{ by: { of: 'segments', sides }, keep: 10 }] }
}
