import { useState } from 'react'
import type { Behaviour } from '../../../core/analyses/tipping/finish.js'
import type { TippingMark } from '../../../core/analyses/tipping/marks.js'
import type { Counted, Pair, Reached, Within } from '../../../core/analyses/tipping/together.js'
import { doneKey, doneOf } from '../../../core/analyses/tipping/question.js'
import { daysWords, doneWords, oftenWords } from '../../../core/analyses/tipping/words.js'
import { hasMark } from '../../../core/questions/marks.js'
import { SMALL } from '../../../core/stats/small.js'
import { countOf, formatNumber, formatPercent, formatPoints, MISSING } from '../../../core/words/format.js'
import { propertyWords, type Words } from '../../../core/words/words.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { Props } from './props.js'

const reachedWords = (reached: Reached, words: Words) => `${doneWords(reached, words)} ${reached.times} ×`
const rateOf = ({ people, came }: Counted) => (people > 0 ? formatPercent(came / people, 0) : MISSING)
const ofMany = ({ people, came }: Counted) => `${formatNumber(came)} of ${countOf(people, 'person', 'people')}`
const pointsOf = (points: number) => formatPoints(points).replace(/\s?points?$/u, '')

/** The opened behaviour within kinds of people, together with another, and of those who may yet reach it. */
export function CloserLook(props: Props & { behaviour: Behaviour }) {
  const { result, behaviour } = props
  const { best, counts } = behaviour
  const reached: Reached = { ...doneOf(behaviour), times: counts[best ?? 0].times }
  const own = doneKey(behaviour)
  const within = result.within.filter(({ of }) => doneKey(of) === own && of.times === reached.times)
  const pairs = result.pairs.flatMap((pair) => turned(pair, own))
  return (
    <>
      {within.length > 0 && <WithinKinds {...props} {...{ within, reached }} />}
      {pairs.length > 0 && <Pairs {...props} {...{ pairs }} />}
      <NotYet {...props} {...{ reached }} />
    </>
  )
}

/** The pair as it is seen from one of the two. */
function turned(pair: Pair, own: string): Pair[] {
  if (doneKey(pair.one) === own) return [pair]
  const { one, other, onlyOne, onlyOther } = pair
  return doneKey(other) === own
    ? [{ ...pair, one: other, other: one, onlyOne: onlyOther, onlyOther: onlyOne, more: null }]
    : []
}

const SAID: Record<Within['holds'], string> = { yes: 'yes', no: 'mostly not', unclear: 'cannot tell' }

function WithinKinds({ within, reached, words, selected, onSelect }: Props & { within: Within[]; reached: Reached }) {
  const [open, setOpen] = useState<string | null>(null)
  const titleOf = ({ by }: Within) =>
    'property' in by
      ? propertyWords({ of: 'person', name: by.property }, words)
      : `number of ${doneWords(by.often, words)}`
  return (
    <div>
      <table className="numbers" role={onSelect ? 'grid' : undefined} onKeyDown={moveInTable}>
        <caption>Does it hold among people alike?</caption>
        <thead>
          <tr>
            <th scope="col">within the same</th>
            {open !== null && (
              <>
                <th scope="col" className="number" title="Of those who reached it">
                  did
                </th>
                <th scope="col" className="number">
                  others
                </th>
              </>
            )}
            <th scope="col" className="number">
              points
            </th>
            <th scope="col" className="number" title="Holds for all that is looked at here together">
              95&thinsp;%
            </th>
            <th scope="col">holds?</th>
          </tr>
        </thead>
        {within.map((each) => {
          const key = JSON.stringify(each.by)
          const isOpen = key === open
          const { difference, low, high } = each.left
          return (
            <tbody key={key}>
              <tr>
                <th scope="row">
                  <button
                    type="button"
                    className="open-row"
                    aria-expanded={isOpen}
                    onClick={() => setOpen(isOpen ? null : key)}
                  >
                    {titleOf(each)}
                  </button>
                </th>
                {open !== null && <td colSpan={2} />}
                <td className="number">{pointsOf(difference)}</td>
                <td className="number no-wrap">
                  {pointsOf(low).replace('+', '')} to {pointsOf(high).replace('+', '')}
                </td>
                <td className={each.holds === 'no' ? 'loss' : each.holds === 'yes' ? '' : 'soft'}>
                  {SAID[each.holds]}
                </td>
              </tr>
              {isOpen &&
                each.groups.map(({ value, did, others }) => {
                  const mark = (not: boolean): TippingMark => ({
                    ...{ kind: 'early', ...reached },
                    ...(not ? { not: true } : {}),
                    ...groupMark(each, value),
                  })
                  const few = did.people < SMALL || others.people < SMALL
                  return (
                    <tr key={String(value)} className={few ? 'few-rows' : ''}>
                      <th scope="row" className="group-of">
                        {valueName(value)}
                      </th>
                      <PeopleCell
                        {...{ selected, onSelect }}
                        mark={did.people > 0 ? mark(false) : null}
                        title={ofMany(did)}
                      >
                        {rateOf(did)}
                      </PeopleCell>
                      <PeopleCell
                        {...{ selected, onSelect }}
                        mark={others.people > 0 ? mark(true) : null}
                        title={ofMany(others)}
                      >
                        {rateOf(others)}
                      </PeopleCell>
                      <td className="number">
                        {did.people > 0 && others.people > 0
                          ? pointsOf(did.came / did.people - others.came / others.people)
                          : MISSING}
                      </td>
                      <td />
                      <td className="soft">{few ? `under ${SMALL}` : ''}</td>
                    </tr>
                  )
                })}
            </tbody>
          )
        })}
      </table>
      <p className="hint">
        Of all: {pointsOf(within[0].difference)} points. What is gone within a property was of who people are.
      </p>
    </div>
  )
}

const groupMark = ({ by }: Within, value: Within['groups'][number]['value']): Partial<TippingMark> =>
  'property' in by
    ? { of: { property: { of: 'person', name: by.property }, value: value as string | boolean | null } }
    : { also: { ...by.often, exactly: value as number } }

function valueName(value: Within['groups'][number]['value']): string {
  return value === null ? 'no value' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
}

function Pairs({ pairs, words, selected, onSelect }: Props & { pairs: Pair[] }) {
  const [{ one }] = pairs
  return (
    <div>
      <table className="numbers" role={onSelect ? 'grid' : undefined} onKeyDown={moveInTable}>
        <caption>Together with another</caption>
        <thead>
          <tr>
            <th scope="col">{reachedWords(one, words)} and…</th>
            <th scope="col" className="number">
              both
            </th>
            <th scope="col" className="number">
              first only
            </th>
            <th scope="col" className="number">
              this only
            </th>
            <th scope="col" className="number">
              neither
            </th>
            <th scope="col" className="number" title="Of those who reached the first, who reached this as well">
              do both
            </th>
          </tr>
        </thead>
        <tbody>
          {pairs.map(({ other, both, onlyOne, onlyOther, none }, row) => {
            const cell = (counted: Counted, first: boolean, second: boolean, at: number) => (
              <PeopleCell
                {...{ selected, onSelect }}
                first={row === 0 && at === 0}
                title={ofMany(counted)}
                mark={
                  counted.people === 0
                    ? null
                    : {
                        ...{ kind: 'early', ...one, ...(first ? {} : { not: true }) },
                        also: { ...other, ...(second ? {} : { not: true }) },
                      }
                }
              >
                {rateOf(counted)}
              </PeopleCell>
            )
            const reached = both.people + onlyOne.people
            return (
              <tr key={doneKey(other)}>
                <th scope="row">{reachedWords(other, words)}</th>
                {cell(both, true, true, 0)}
                {cell(onlyOne, true, false, 1)}
                {cell(onlyOther, false, true, 2)}
                {cell(none, false, false, 3)}
                <td className="number">{reached > 0 ? formatPercent(both.people / reached, 0) : MISSING}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
      <p className="hint">Which part of each it came for.</p>
    </div>
  )
}

/** Who started so lately that they may yet reach the count. */
function NotYet({ question, result, behaviour, reached, words, selected, onSelect }: Props & NotYetProps) {
  const { times } = reached
  if (result.left === 0) return null
  const { sofar } = behaviour
  const under = sofar.slice(0, times)
  const waiting = under.reduce((sum, n) => sum + n, 0)
  const mark = (more: Partial<TippingMark>): TippingMark => ({
    ...{ kind: 'early', ...doneOf(behaviour) },
    ...more,
    left: true,
  })
  const press = (own: TippingMark, shift: boolean) => onSelect?.(own, shift)
  return (
    <div className="not-yet">
      <h3>Not yet, with days left</h3>
      <p>
        Of {countOf(result.left, 'person', 'people')} whose {daysWords(question.days).replace(/^the /, '')} are not
        over,{' '}
        <button
          type="button"
          className="link-button"
          disabled={!onSelect || waiting === 0}
          aria-pressed={hasMark(selected, mark({ times, not: true }))}
          onClick={(event) => press(mark({ times, not: true }), event.shiftKey || event.ctrlKey || event.metaKey)}
        >
          {formatNumber(waiting)}
        </button>{' '}
        have not done {doneWords(behaviour, words)} {oftenWords(times, question)} yet{times > 1 ? ':' : '.'}
      </p>
      {times > 1 && (
        <ul className="so-far">
          {under.map((n, done) => (
            <li key={done}>
              <button
                type="button"
                className="link-button"
                disabled={!onSelect || n === 0}
                aria-pressed={hasMark(selected, mark({ exactly: done }))}
                onClick={(event) => press(mark({ exactly: done }), event.shiftKey || event.ctrlKey || event.metaKey)}
              >
                {formatNumber(n)}
              </button>{' '}
              did {done} of {times}
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

interface NotYetProps {
  behaviour: Behaviour
  reached: Reached
}
