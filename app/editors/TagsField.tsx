import Autocomplete from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'

/** Tags, each ended by Enter; the same one stands once. */
export function TagsField({ value, onChange }: { value: string[]; onChange: (tags: string[]) => void }) {
  return (
    <Autocomplete
      multiple
      freeSolo
      size="small"
      options={[]}
      value={value}
      onChange={(_event, tags) => onChange([...new Set(tags.map((tag) => tag.trim()))].filter(Boolean))}
      renderInput={(params) => <TextField {...params} label="Tags" placeholder="Enter after each" />}
    />
  )
}
