import { useFetcher } from 'react-router'
import type { LikelihoodQuestion } from '../../../core/analyses/likelihood/question.js'

/** Has the model trained anew, from all there is by now. */
export default function LearnAgain({ question }: { question: LikelihoodQuestion }) {
  const fetcher = useFetcher()
  const isBusy = fetcher.state !== 'idle'
  return (
    <button
      type="button"
      className="addition"
      disabled={isBusy}
      onClick={() =>
        void fetcher.submit({ question: JSON.stringify(question) }, { method: 'post', action: '/ask/learn' })
      }
    >
      {isBusy ? 'Training …' : 'Train anew'}
    </button>
  )
}
