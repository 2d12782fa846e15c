import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { data, Form, Link, useActionData } from 'react-router'
import { z } from 'zod'
import { KeyList } from '../catalog/KeyList.js'
import { dowser } from '../door/dowser.server.js'
import { keepWriteKey } from '../catalog/writeKey.js'
import type { Route } from './+types/keys'

export function loader() {
  return { keys: dowser().keys.list() }
}

const form = z.discriminatedUnion('intent', [
  z.object({
    intent: z.literal('make'),
    name: z.string().trim().min(1).max(80),
    scope: z.enum(['write', 'read', 'mend']),
  }),
  z.object({ intent: z.literal('revoke'), id: z.string() }),
])

export async function action({ request }: Route.ActionArgs) {
  const parsed = form.safeParse(Object.fromEntries(await request.formData()))
  if (!parsed.success)
    return data({ problem: 'Give the key a name, so that you know later what uses it.' }, { status: 400 })
  if (parsed.data.intent === 'revoke') {
    dowser().keys.revoke(parsed.data.id, Date.now())
    return { revoked: true }
  }
  return { key: dowser().keys.create(parsed.data.name, parsed.data.scope, Date.now()), scope: parsed.data.scope }
}

export const meta = () => [{ title: 'Keys · Dowser' }]

export default function Keys({ loaderData }: Route.ComponentProps) {
  const { keys } = loaderData
  const done = useActionData<typeof action>()
  const [copied, setCopied] = useState(false)
  const made = done && 'key' in done ? done.key : null
  useEffect(() => {
    if (done && 'key' in done && done.scope === 'write') keepWriteKey(done.key)
  }, [done])
  return (
    <main className="page narrow">
      <h1 className="question">Keys for programs</h1>
      <p className="soft">
        A program sends events with a write key, asks questions with a read key, and takes back what came in with a mend
        key. Only a key’s hash is kept here: copy the key when it is made.
      </p>
      <section className="sheet pad">
        <Form method="post" className="row wrap">
          <input type="hidden" name="intent" value="make" />
          <TextField name="name" label="What uses it" required slotProps={{ htmlInput: { maxLength: 80 } }} />
          <Select name="scope" defaultValue="write" aria-label="What it may do">
            <MenuItem value="write">write: send events and people</MenuItem>
            <MenuItem value="read">read: ask questions, export</MenuItem>
            <MenuItem value="mend">mend: take back what came in</MenuItem>
          </Select>
          <Button type="submit" variant="contained">
            Make a key
          </Button>
        </Form>
        {done && 'problem' in done && <Alert severity="error">{done.problem}</Alert>}
        {made && (
          <Alert
            severity="success"
            action={
              <Button
                onClick={() => {
                  void navigator.clipboard.writeText(made)
                  setCopied(true)
                }}
              >
                {copied ? 'Copied' : 'Copy'}
              </Button>
            }
          >
            The key, shown this once: <code data-key="">{made}</code>
          </Alert>
        )}
      </section>
      <section className="sheet pad">
        <KeyList keys={keys} />
      </section>
      <p className="soft">
        <Link to="/catalog/sending">How to send events</Link> with a key is shown in the catalog.
      </p>
    </main>
  )
}
