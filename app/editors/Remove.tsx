import Button from '@mui/material/Button'

/** Takes the setting that is being edited out of the question. */
export function Remove({ onPress }: { onPress: () => void }) {
  return (
    <div className="row">
      <Button color="error" onClick={onPress}>
        Remove
      </Button>
    </div>
  )
}
