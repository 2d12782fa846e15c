import type { EventChoice, EventPick, GroupKey, ValueKey } from '../../core/questions/parts.js'
import type { Split } from '../../core/questions/split.js'
import { SplitEditor } from './SplitEditor.js'

/** "For each …" in a question with up to three breakdowns: the one that a token stands for. */
export function BreakdownsEditor(props: {
  /** `breakdown`, `breakdown 1`, … */
  token: string
  events: readonly EventChoice[]
  value: readonly Split[] | undefined
  /** the groups of the answer there is, in any order */
  found: readonly (GroupKey | null)[]
  /** groups are made of people only */
  people?: true
  /** undefined = by nothing any more */
  onChange: (breakdowns: Split[] | undefined, how: 'choose' | 'type') => void
  onDone: () => void
  onWeek?: (() => void) | undefined
}) {
  const { token, events, value = [], found, people, onChange, onDone, onWeek } = props
  const index = Number(token.split(' ')[1] ?? 0)
  return (
    <SplitEditor
      key={index}
      events={events}
      value={value[index]}
      first={index === 0}
      found={valuesOf(found, index, value.length)}
      people={people}
      onChange={(split, how) => {
        const next = split ? [...value.slice(0, index), split, ...value.slice(index + 1)] : value.toSpliced(index, 1)
        onChange(next.length > 0 ? next : undefined, how)
      }}
      onDone={onDone}
      onWeek={value.length <= 1 && index === 0 ? onWeek : undefined}
    />
  )
}

interface OfPeople {
  start: EventPick
  breakdowns?: Split[] | undefined
}

/** The same in a question about people, whose answer has a row for each group. */
export function PeopleBreakdowns<Q extends OfPeople>(props: {
  token: string
  question: Q
  result: { groups: readonly { key: GroupKey | null }[] } | null
  edit: (question: Q, how?: 'choose' | 'type') => void
  close: () => void
}) {
  const { token, question, result, edit, close } = props
  return (
    <BreakdownsEditor
      token={token}
      people
      events={[question.start.event]}
      value={question.breakdowns}
      found={(result?.groups ?? []).map(({ key }) => key)}
      onChange={(next, how) => {
        const { breakdowns: _before, ...rest } = question
        edit((next ? { ...rest, breakdowns: next } : rest) as Q, how)
      }}
      onDone={close}
    />
  )
}

/** The values of one of so many breakdowns among groups. */
export function valuesOf(groups: readonly (GroupKey | null)[], index: number, many: number): ValueKey[] {
  const keys = groups.flatMap((key): ValueKey[] => {
    if (key === null || 'rest' in key || 'unreached' in key) return []
    if ('each' in key) return key.each[index] ? [key.each[index]] : []
    return many > 1 ? [] : [key]
  })
  return [...new Map(keys.map((key) => [JSON.stringify(key), key])).values()]
}
