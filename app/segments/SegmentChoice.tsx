import { Link } from 'react-router'
import { OptionList } from '../editors/OptionList.js'
import { useWorkspace } from '../page/workspace.js'

/** Chooses one of the saved segments. */
export function SegmentChoice(props: {
  value: string | null
  /** the segment that is being built: it cannot be part of itself */
  own?: string | null
  onChoose: (id: string) => void
}) {
  const { value, own = null, onChoose } = props
  const { segments } = useWorkspace()
  const offered = segments.filter(({ id }) => id !== own)
  return (
    <OptionList
      label="Segments"
      search="Search names and meanings"
      empty={
        offered.length === 0 ? (
          <>
            No segment is saved yet. <Link to="/people/segments/new">Build one</Link>
          </>
        ) : (
          'No segment by that name.'
        )
      }
      options={offered.map(({ id, name, description, frozen }) => ({
        key: id,
        label: name,
        note: description,
        side: frozen ? 'frozen' : 'live',
        value: id,
        chosen: id === value,
      }))}
      onChoose={onChoose}
    />
  )
}
