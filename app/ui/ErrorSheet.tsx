import Button from '@mui/material/Button'
import { Link } from 'react-router'

/** What happened, what is still safe, what to do; the technical detail folded below. */
export function ErrorSheet(props: {
  title: string
  text: string
  detail?: string
  action?: { label: string; to: string }
  /** whether the same may work another time */
  again?: boolean
}) {
  const { title, text, detail, action, again } = props
  return (
    <section className="sheet pad error-sheet" role="alert">
      <h1 className="question">{title}</h1>
      <p>{text}</p>
      <div className="error-actions">
        {again && (
          <Button variant="contained" onClick={() => window.location.reload()}>
            Try again
          </Button>
        )}
        {action && (
          <Button variant={again ? 'outlined' : 'contained'} component={Link} to={action.to}>
            {action.label}
          </Button>
        )}
      </div>
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
