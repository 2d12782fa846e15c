import { sentenceText } from '../../core/words/sentence.js'
import Button from '@mui/material/Button'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import { kindName, sentenceOf, kindOf } from '../analyses/words.js'
import type { StudyDefinition } from '../../core/questions/study.js'
import { sameMark } from '../../core/questions/marks.js'
import type { StudyCondition } from '../../core/segments/rule.js'
import { OptionList } from '../editors/OptionList.js'
import { useWorkspace } from '../page/workspace.js'

interface SavedStudy {
  id: string
  name: string
  question: StudyDefinition
}

/** The result of a saved study: which study, then where in it somebody is counted. Its question is taken as it is now. */
export function StudyChoice(props: {
  value: StudyCondition | null
  onChoose: (choice: Pick<StudyCondition, 'study' | 'marks'>) => void
}) {
  const { value, onChoose } = props
  const { words } = useWorkspace()
  const fetcher = useFetcher<SavedStudy[]>({ key: 'saved studies' })
  const [study, setStudy] = useState<StudyDefinition | null>(value?.study ?? null)
  const { load, data } = fetcher
  useEffect(() => {
    void load('/ask/studies')
  }, [load])
  if (!study)
    return (
      <OptionList
        label="Saved studies"
        search="Search names and questions"
        empty={data ? 'No study by that name is saved.' : 'Reading the studies …'}
        options={(data ?? []).map(({ id, name, question }) => ({
          key: id,
          label: name,
          note: sentenceText(sentenceOf(question, words)),
          side: kindName(question.kind),
          value: question,
        }))}
        onChoose={setStudy}
      />
    )
  return (
    <div className="stack">
      <p className="hint">{sentenceText(sentenceOf(study, words))}</p>
      <OptionList
        label="Who is meant"
        options={kindOf(study.kind)
          .marks.places(study, words)
          .map((option) => ({
            ...option,
            chosen: value?.marks.length === 1 && sameMark(value.marks[0]!, option.value),
          }))}
        onChoose={(mark) => onChoose({ study, marks: [mark] })}
      />
      <div className="row">
        <Button variant="outlined" onClick={() => setStudy(null)}>
          Another study
        </Button>
      </div>
    </div>
  )
}
