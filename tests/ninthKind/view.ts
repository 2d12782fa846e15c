import { createElement } from 'react'
import { shownKind } from '../../app/analyses/view.js'
import { formatNumber } from '../../core/words/format.js'
import { explainTally, spokenTally, tally, type TallyQuestion, type TallyResult } from './index.js'

/** What pages show of the tiny kind. */
export const shownTally = shownKind<TallyQuestion, { kind: 'doer' }, TallyResult>({
  ...spokenTally,
  asks: 'How many times?',
  additions: () => [],
  load: () =>
    Promise.resolve({
      Body: ({ result }) => createElement('p', null, `${formatNumber(result.times)} times`),
      Numbers: ({ result }) => createElement('p', null, `${formatNumber(result.people)} people`),
    }),
  explain: () => Promise.resolve(explainTally),
  editor: () => Promise.resolve(() => createElement('input')),
  leads: () =>
    Promise.resolve({
      start: ([first]) => tally.usual(first?.name ?? '…'),
      table: (_question, { times, people }) => [
        ['Times', 'People'],
        [times, people],
      ],
      next: (question) => [
        { label: 'And over a year?', question: { ...question, range: { last: 52, unit: 'week' } } as never },
      ],
    }),
})
