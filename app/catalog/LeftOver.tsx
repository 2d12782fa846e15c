import type { Given } from '../../core/made/definitions.js'
import type { RulesCaught } from '../../core/made/preview.js'
import { formatNumber } from '../../core/words/format.js'
import { propertyWords } from '../../core/words/words.js'
import { useWorkspace } from '../page/workspace.js'

/** What the rows of a rule set read, of events that none of them catches: what another row could be made for. */
export function LeftOver({ left, otherwise }: { left: RulesCaught['left']; otherwise: Given | undefined }) {
  const { words } = useWorkspace()
  if (left.length === 0) return null
  const to = otherwise && 'text' in otherwise ? `left to ${otherwise.text}` : 'without a value'
  return (
    <section className="sheet pad stack">
      <h2 className="overline">Values that no row catches</h2>
      <p className="soft">The commonest of events that are {to}.</p>
      {left.map(({ property, values }) => (
        <div key={JSON.stringify(property)}>
          <h3 className="left-head">{propertyWords(property, words)}</h3>
          <ul className="panel-list">
            {values.map(({ text, count }) => (
              <li key={text}>
                <span>{text}</span>
                <span>{formatNumber(count)}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  )
}
