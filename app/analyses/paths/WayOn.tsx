import { useEffect } from 'react'
import { useFetcher } from 'react-router'
import type { PathsResult, Way } from '../../../core/analyses/paths/finish.js'
import type { PathsQuestion } from '../../../core/analyses/paths/question.js'
import { placeWords, waysWords } from '../../../core/analyses/paths/words.js'
import { formatPercent } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'
import { studyAddress } from '../../address/address.js'

/** So many events are told of. */
const SHOWN = 6

/** Where a way goes on beyond the steps that are followed: asked for when its row is opened. */
export function WayOn({ way, question, words }: { way: Way; question: PathsQuestion; words: Words }) {
  const fetcher = useFetcher<{ result: PathsResult | null }>()
  const { load } = fetcher
  const { breakdowns: _groups, ...alone } = question
  const further: PathsQuestion = {
    ...alone,
    steps: way.nodes.length + 1,
    through: way.nodes.map((node, i) => ({ step: i + 1, node })),
    show: { form: 'ways' },
  }
  const address = studyAddress(further)
  useEffect(() => void load(address), [load, address])
  const result = fetcher.data?.result
  if (!result)
    return (
      <p className="soft" aria-live="polite">
        {fetcher.state === 'idle' && fetcher.data ? 'It could not be followed further.' : 'Following it further …'}
      </p>
    )
  const { nodes, before } = result.all.steps[way.nodes.length]
  const found = [...nodes].sort((a, b) => b.count - a.count).slice(0, SHOWN)
  return (
    <p aria-live="polite" className="way-on">
      <span className="soft">{question.backward ? 'before that: ' : 'after that: '}</span>
      {found.length === 0
        ? 'nothing more'
        : found.map(({ place, count }, i) => (
            <span key={i}>
              {i > 0 && ' · '}
              <b>{placeWords(place, words)}</b> {waysWords(result, count)}, {formatPercent(count / before, 0)}
            </span>
          ))}
    </p>
  )
}
