import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { Words } from '../../../core/words/words.js'

/** Which dated notes the chart shows: all, none, or those with a tag. */
export function NoteFilter(props: { question: TrendQuestion; words: Words; edit: (question: TrendQuestion) => void }) {
  const { question, words, edit } = props
  const { notes, ...show } = question.show
  const tags = [...new Set((words.annotations ?? []).flatMap((each) => each.tags))].sort()
  if (!words.annotations?.length && !notes) return null
  const value = !notes ? 'all' : notes === 'none' ? 'none' : `tag ${notes.tag}`
  return (
    <Select
      size="small"
      className="note-filter"
      value={value}
      inputProps={{ 'aria-label': 'Which notes are shown' }}
      onChange={(event) => {
        const chosen = event.target.value
        if (chosen === 'all') edit({ ...question, show })
        else edit({ ...question, show: { ...show, notes: chosen === 'none' ? 'none' : { tag: chosen.slice(4) } } })
      }}
    >
      <MenuItem value="all">All notes</MenuItem>
      <MenuItem value="none">No notes</MenuItem>
      {tags.map((tag) => (
        <MenuItem key={tag} value={`tag ${tag}`}>
          Notes: {tag}
        </MenuItem>
      ))}
    </Select>
  )
}
