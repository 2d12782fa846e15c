import type { Behaviour, TimesFigures, TippingResult } from '../../../core/analyses/tipping/finish.js'
import type { TippingMark } from '../../../core/analyses/tipping/marks.js'
import { doneKey, doneOf, MOST_TIMES, type TippingQuestion } from '../../../core/analyses/tipping/question.js'
import { doneWords, oftenWords, outcomeWords, pWords } from '../../../core/analyses/tipping/words.js'
import { countOf, formatNumber, formatPercent, formatPoints, MISSING, joinWords } from '../../../core/words/format.js'
import { eventWords } from '../../../core/words/words.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { KindView } from '../view.js'
import type { Props } from './props.js'
import { OpenedBehaviour, openOf } from './OpenedBehaviour.js'
import './tipping.css'

/** Behaviours by how well their best count goes with the outcome, each as a strip of counts. */
function Body(props: Props) {
  const { question, result, words, edit, onSelect } = props
  const { behaviours, base, came, tooFew } = result
  if (tooFew) return <p className="pad soft">There are too few people to rank anything: see what this says.</p>
  const { open: opened, trivial: brought, ...bare } = question.show
  const show = (open: string | undefined, all: true | undefined) =>
    edit?.({ ...question, show: { ...bare, ...(open !== undefined && { open }), ...(all && { trivial: all }) } })
  const told = behaviours.filter(({ trivial }) => !trivial)
  const trivial = behaviours.filter((each) => each.trivial)
  const shown = brought ? [...told, ...trivial] : told
  const open = openOf(question, result)
  // As many columns as anybody did anything often.
  const upTo = Math.max(4, ...shown.map(({ counts }) => counts.at(-1)!.times))
  const most = Math.max(0.05, ...behaviours.flatMap(({ counts }) => counts.map(({ phi }) => Math.abs(phi?.value ?? 0))))
  const outcome = `${eventWords(question.goal.event, words)} ${outcomeWords(question.outcome)}`
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="The numbers">
      <table className="numbers tipping" role={onSelect ? 'grid' : undefined} onKeyDown={moveInTable}>
        <thead>
          <tr>
            <th scope="col">What they did, and how often at least</th>
            <th scope="colgroup" colSpan={upTo} className="strip-head">
              1 … {upTo}
              {upTo === MOST_TIMES && '+'} {question.count ?? 'times'}
            </th>
            <th scope="col" className="number" title="Part of all that reached the count">
              reached it
            </th>
            <th scope="col" className="number" title={`Of those who reached it: ${outcome}`}>
              of them
            </th>
            <th scope="col" className="number" title={`Of the others: ${outcome}`}>
              others
            </th>
            <th scope="col" className="number">
              points
            </th>
            <th scope="col" className="number">
              phi
            </th>
            <th scope="col" className="number">
              95&thinsp;%
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((behaviour, row) => {
            const isOpen = behaviour === open
            return (
              <Row
                key={doneKey(behaviour)}
                {...props}
                {...{ behaviour, most, isOpen, upTo }}
                first={row === 0}
                onOpen={() => show(opened === doneKey(behaviour) ? undefined : doneKey(behaviour), brought)}
              />
            )
          })}
          {shown.length === 0 && (
            <tr>
              <td colSpan={upTo + 7} className="soft">
                Nothing else was done in these days.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {trivial.length > 0 && (
        <p className="hint">
          {edit ? (
            <button
              type="button"
              className="addition"
              aria-expanded={brought === true}
              onClick={() => show(opened, brought ? undefined : true)}
            >
              {brought ? 'Put away' : 'Show'} {countOf(trivial.length, 'that tells', 'that tell')} nothing
            </button>
          ) : (
            `${countOf(trivial.length, 'event tells', 'events tell')} nothing`
          )}{' '}
          {joinWords(
            trivial.slice(0, 4).map((each) => `${doneWords(each, words)} (${whyOf(each)})`),
            'and',
          )}
          {trivial.length > 4 && ` and ${formatNumber(trivial.length - 4)} more`}
        </p>
      )}
      <p className="hint">
        {countOf(base, 'person', 'people')}, of whom {formatNumber(came)} did {outcome} ({formatPercent(came / base, 0)}
        ). A cell is a count: the darker, the more it goes with that; hatched, with the contrary.
      </p>
    </div>
  )
}

function whyOf({ trivial, counts, best }: Behaviour): string {
  const { share } = counts[best ?? 0]
  return trivial === 'all who came' ? 'all it came for did it' : `${formatPercent(share, share < 0.01 ? 1 : 0)} did it`
}

function Row(
  props: Props & {
    behaviour: Behaviour
    most: number
    isOpen: boolean
    upTo: number
    first: boolean
    onOpen: () => void
  },
) {
  const { behaviour, words, edit, selected, onSelect, question, most, isOpen, upTo, first, onOpen } = props
  const { counts, best, event } = behaviour
  const figures = best === null ? counts[0] : counts[best]
  const name = doneWords(behaviour, words)
  const mark = (more: Partial<TippingMark>): TippingMark => ({ kind: 'early', ...doneOf(behaviour), ...more })
  const { times } = figures
  return (
    <tr className={behaviour.trivial ? 'trivial' : ''}>
      <th scope="row">
        <span className="behaviour">
          {edit ? (
            <button type="button" className="open-row" aria-pressed={isOpen} onClick={onOpen}>
              {name}
            </button>
          ) : (
            name
          )}{' '}
          <span className="best-count">{times}&thinsp;×</span>
          {edit && behaviour.by === undefined && (
            <button
              type="button"
              className="leave-out"
              aria-label={`Leave out ${name}`}
              title="Leave out"
              onClick={() => edit({ ...question, leftOut: [...(question.leftOut ?? []), event] })}
            >
              ×
            </button>
          )}
        </span>
      </th>
      {Array.from({ length: upTo }, (_, i) => i + 1).map((n) => {
        const cell = counts.find((each) => each.times === n)
        return cell ? (
          <PeopleCell
            key={n}
            {...{ selected, onSelect }}
            first={first && n === counts[0].times}
            mark={mark({ times: n })}
            className={`strip${n === times && best !== null ? ' best' : ''}`}
            title={cellTitle(cell, name, question)}
          >
            <i className={cell.phi && cell.phi.value < 0 ? 'against' : ''} style={{ opacity: shadeOf(cell, most) }} />
            {n === times && best !== null && <small>{n}</small>}
            <span className="sr-only">{cellTitle(cell, name, question)}</span>
          </PeopleCell>
        ) : (
          <td key={n} className="strip none" />
        )
      })}
      <PeopleCell
        {...{ selected, onSelect }}
        mark={mark({ times })}
        title={`${countOf(figures.people, 'person', 'people')} did ${name} ${oftenWords(times, question)} or more`}
      >
        {formatPercent(figures.share, figures.share < 0.1 ? 1 : 0)}
      </PeopleCell>
      <PeopleCell
        {...{ selected, onSelect }}
        mark={figures.came > 0 ? mark({ times, outcome: 'came' }) : null}
        title={`${formatNumber(figures.came)} of ${countOf(figures.people, 'person', 'people')}`}
      >
        {formatPercent(figures.rate, 0)}
      </PeopleCell>
      <PeopleCell
        {...{ selected, onSelect }}
        mark={figures.otherRate ? mark({ times, not: true, outcome: 'came' }) : null}
      >
        {formatPercent(figures.otherRate, 0)}
      </PeopleCell>
      <td className={`number ${(figures.phi?.value ?? 0) < 0 ? 'loss' : 'gain'}`}>
        {figures.otherRate === null ? MISSING : pointsOf(figures.rate - figures.otherRate)}
      </td>
      <td className="number">{figures.phi ? two(figures.phi.value) : MISSING}</td>
      <td
        className="number"
        title={figures.p === null ? undefined : `p, adjusted over all that was looked at: ${pWords(figures.p)}`}
      >
        {figures.phi ? (
          <span className="no-wrap">
            {two(figures.phi.low)} to {two(figures.phi.high)}
          </span>
        ) : (
          MISSING
        )}
      </td>
    </tr>
  )
}

const two = (x: number) => (Math.abs(x) < 0.005 ? '0' : x.toFixed(2).replace('-', '−'))
const pointsOf = (points: number) => formatPoints(points).replace(/\s?points?$/u, '')
/** A cell that goes with nothing is seen as well. */
const shadeOf = ({ phi }: TimesFigures, most: number) => 0.08 + 0.92 * (Math.abs(phi?.value ?? 0) / most)

function cellTitle(
  { times, people, rate, otherRate, phi, p }: TimesFigures,
  name: string,
  question: TippingQuestion,
): string {
  const said = `${name} ${oftenWords(times, question)} or more: ${countOf(people, 'person', 'people')}, ${formatPercent(rate, 0)} of them against ${formatPercent(otherRate, 0)}`
  return phi ? `${said}; phi ${two(phi.value)}${p === null ? '' : `, p ${pWords(p)}`}` : said
}

export const view: KindView<TippingQuestion, TippingResult, TippingMark> = { Body, Numbers: OpenedBehaviour }
