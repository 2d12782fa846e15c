import Button from '@mui/material/Button'
import { Link } from 'react-router'

/** What happened, what is still safe, what to do; the technical detail folded below. */
export function ErrorSheet(props: {
  title: string
  text: string
  detail?: string
  action?: { label: string; to: string }
}) {
  const { title, text, detail, action } = props
  return (
    <section className="sheet pad error-sheet" role="alert">
      <h1 className="question">{title}</h1>
      <p>{text}</p>
      {action && (
        <Button variant="contained" component={Link} to={action.to}>
          {action.label}
        </Button>
      )}
      {detail && (
        <details>
          <summary>Technical detail</summary>
          <pre>{detail}</pre>
          <Button variant="outlined" onClick={() => void navigator.clipboard.writeText(detail)}>
            Copy
          </Button>
        </details>
      )}
    </section>
  )
}
