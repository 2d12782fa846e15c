import { studyClause } from '../analyses/words.js'
import { isGroup, type Rule } from '../../core/segments/rule.js'
import { conditionText } from '../../core/segments/words.js'
import { useWorkspace } from '../page/workspace.js'
import { HOLD_WORDS } from './holdWords.js'

/** A rule to be read: its lines, groups within groups. */
export function RuleText({ rule }: { rule: Rule }) {
  const { words } = useWorkspace()
  if (!isGroup(rule)) return <p className="rule-text">{conditionText(rule, words, studyClause)}</p>
  const shown = rule.of.filter((inner) => !inner.off)
  if (shown.length === 0) return <p className="rule-text">everybody</p>
  if (shown.length === 1 && rule.hold !== 'none') return <RuleText rule={shown[0]} />
  return (
    <div className="rule-text">
      {HOLD_WORDS[rule.hold]}:
      <ul>
        {shown.map((inner, index) => (
          <li key={index}>
            <RuleText rule={inner} />
          </li>
        ))}
      </ul>
    </div>
  )
}
