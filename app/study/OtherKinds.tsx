import { useNavigate } from 'react-router'
import type { AnalysisKind, Question } from '../../core/analyses/registry.js'
import { questionParam } from '../address/address.js'
import { shownKinds, viewOf } from '../analyses/registry.js'
import { OptionList } from '../editors/OptionList.js'

/** The same events, time and people, asked about in another way: a new study, which this one leads to and comes back from. */
export function OtherKinds({ question, close }: { question: Question; close: () => void }) {
  const navigate = useNavigate()
  const kinds = (Object.keys(shownKinds) as AnalysisKind[]).filter(
    (kind) => kind !== question.kind && !viewOf(kind).apart,
  )
  return (
    <OptionList
      label="Ask about the same as"
      options={kinds.map((kind) => {
        const { name, asks } = viewOf(kind)
        return { key: kind, label: name, note: asks, value: kind }
      })}
      onChoose={(kind) => {
        close()
        void navigate(`/studies/new?as=${kind}&${questionParam(question)}`)
      }}
    />
  )
}
