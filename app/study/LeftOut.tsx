import type { Among } from '../../core/analyses/people.js'
import type { Question } from '../../core/analyses/registry.js'
import { EVERYBODY } from '../../core/segments/rule.js'
import { isEverybody } from '../analyses/words.js'
import { useWorkspace } from '../page/workspace.js'

/** At the foot of a study: whom the workspace leaves out of every study, and the press that counts them here. */
export function LeftOut({ question, onChange }: { question: Question; onChange: (question: Question) => void }) {
  const { words } = useWorkspace()
  if (words.leftOut === undefined) return null
  const { among } = question
  const counted = among?.everybody === true
  return (
    <span>
      {counted ? 'People of ' : 'Without people of '}“{words.leftOut}”{counted ? ' are counted here. ' : '. '}
      <button
        type="button"
        className="link-button"
        onClick={() => onChange({ ...question, among: counted ? without(among) : withAll(among) })}
      >
        {counted ? 'Leave them out' : 'Count them too'}
      </button>
    </span>
  )
}

const withAll = (among: Among | undefined): Among => ({ ...(among ?? { rule: EVERYBODY }), everybody: true })

function without({ everybody: _counted, ...among }: Among): Among | undefined {
  return isEverybody(among as Among) ? undefined : (among as Among)
}
