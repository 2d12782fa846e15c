import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import LinearProgress from '@mui/material/LinearProgress'
import { useEffect, useRef, useState } from 'react'
import { Link, useRevalidator } from 'react-router'
import { countOf, formatNumber } from '../../core/words/format.js'
import type { ListColumns, ListReply } from '../../server/ingest/lists.js'
import { SaidFields, useSaid } from './SaidFields.js'

const PIECE = 524_288

type Stage =
  | { at: 'choose'; problem?: string }
  | { at: 'look'; file: File; columns: ListColumns; column: number; problem?: string }
  | { at: 'send'; file: File }
  | { at: 'done'; reply: ListReply }

/** A list of ids from a file becomes a frozen list. */
export function UploadDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [stage, setStage] = useState<Stage>({ at: 'choose' })
  const said = useSaid(open, { name: '', description: '', tags: [] })
  const input = useRef<HTMLInputElement>(null)
  const { revalidate } = useRevalidator()
  useEffect(() => {
    if (open) setStage({ at: 'choose' })
  }, [open])

  const look = async (file: File) => {
    const response = await fetch('/segments/look', { method: 'POST', body: file.slice(0, PIECE) }).catch(() => null)
    if (!response?.ok)
      return setStage({ at: 'choose', problem: 'The file could not be looked at. Is the server still there?' })
    const columns = (await response.json()) as ListColumns | { problem: string }
    if ('problem' in columns) return setStage({ at: 'choose', problem: `${file.name}: ${columns.problem}` })
    setStage({ at: 'look', file, columns, column: columns.best })
    if (said.said.name === '') said.setSaid({ ...said.said, name: file.name.replace(/\.[^.]*$/, '').slice(0, 120) })
  }
  const send = async (file: File, columns: ListColumns, column: number) => {
    setStage({ at: 'send', file })
    const params = new URLSearchParams({ ...said.fields, file: file.name, column: String(column) })
    const response = await fetch(`/segments/upload?${params.toString()}`, { method: 'PUT', body: file }).catch(
      () => null,
    )
    const reply = response && ((await response.json().catch(() => null)) as ListReply | { problem: string } | null)
    const problem = !reply
      ? 'The file was not taken: the connection was lost. Nothing was made; try once more.'
      : 'problem' in reply
        ? reply.problem
        : null
    if (problem !== null) return setStage({ at: 'look', file, columns, column, problem })
    setStage({ at: 'done', reply: reply as ListReply })
    await revalidate()
  }
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="upload-title">
      <DialogTitle id="upload-title">Upload a list of ids</DialogTitle>
      {stage.at === 'done' ? (
        <>
          <DialogContent>
            <p>
              <strong>{countOf(stage.reply.members, 'person', 'people')}</strong> are on the list, from{' '}
              {countOf(stage.reply.lines, 'id', 'ids')}.
              {stage.reply.repeated > 0 && ` ${formatNumber(stage.reply.repeated)} stood for somebody already on it.`}
            </p>
            {stage.reply.unknown > 0 && (
              <Alert severity="warning">
                {countOf(stage.reply.unknown, 'id is', 'ids are')} not known here: nobody has{' '}
                {stage.reply.unknown === 1 ? 'it' : 'them'}. The segment’s page lists{' '}
                {stage.reply.unknown === 1 ? 'it' : 'them'}.
              </Alert>
            )}
            {stage.reply.remark && <Alert severity="warning">{stage.reply.remark}</Alert>}
          </DialogContent>
          <DialogActions>
            <Button onClick={onClose}>Close</Button>
            <Button variant="contained" component={Link} to={`/people/segments/${stage.reply.id}`}>
              Open it
            </Button>
          </DialogActions>
        </>
      ) : (
        <>
          <DialogContent className="stack">
            <p>
              A CSV file with an id in each line, or with a column of ids. Known and anonymous ids both find their
              person. The list keeps its members.
            </p>
            <input
              ref={input}
              type="file"
              hidden
              aria-label="The file"
              accept=".csv,.txt,.tsv,text/csv,text/plain"
              onChange={(event) => {
                const file = event.target.files?.[0]
                event.target.value = ''
                if (file) void look(file)
              }}
            />
            {stage.at === 'choose' && (
              <Button variant="contained" onClick={() => input.current?.click()}>
                Choose a file
              </Button>
            )}
            {'problem' in stage && stage.problem && <Alert severity="error">{stage.problem}</Alert>}
            {stage.at === 'look' && (
              <>
                <fieldset className="kind-choice">
                  <legend>The ids stand in</legend>
                  {stage.columns.columns.map(({ name, samples, known, values }, index) => (
                    <label key={index}>
                      <input
                        type="radio"
                        name="column"
                        checked={stage.column === index}
                        onChange={() => setStage({ ...stage, column: index })}
                      />
                      <span>
                        <strong>{name}</strong> <span className="soft">{samples.join(', ')}</span>
                        <small className="soft">
                          {' '}
                          {formatNumber(known)} of the first {formatNumber(values)} are known
                        </small>
                      </span>
                    </label>
                  ))}
                </fieldset>
                <SaidFields said={said} />
              </>
            )}
            {stage.at === 'send' && (
              <div role="status">
                <LinearProgress />
                <p>Reading {stage.file.name} …</p>
              </div>
            )}
          </DialogContent>
          <DialogActions>
            <Button onClick={onClose}>Cancel</Button>
            {stage.at === 'look' && (
              <>
                <Button variant="outlined" onClick={() => input.current?.click()}>
                  Another file
                </Button>
                <Button
                  variant="contained"
                  disabled={said.fields.name === ''}
                  onClick={() => void send(stage.file, stage.columns, stage.column)}
                >
                  Make the list
                </Button>
              </>
            )}
          </DialogActions>
        </>
      )}
    </Dialog>
  )
}
