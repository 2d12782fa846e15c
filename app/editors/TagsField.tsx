import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'

/** So long a tag may be. */
const LONGEST = 40

/** Tags, each ended by Enter; the same one stands once. @param most so many of them are kept */
export function TagsField(props: { value: string[]; most: number; onChange: (tags: string[]) => void }) {
  const { value, most, onChange } = props
  return (
    <Autocomplete
      multiple
      freeSolo
      size="small"
      options={[]}
      value={value}
      onChange={(_event, tags) => {
        const short = tags.map((tag) => tag.trim().slice(0, LONGEST).trim()).filter(Boolean)
        onChange([...new Set(short)].slice(0, most))
      }}
      renderInput={(params) => <TextField {...params} label="Tags" placeholder="Enter after each" />}
    />
  )
}
