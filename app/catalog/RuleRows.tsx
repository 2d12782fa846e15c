import CloseIcon from '@mui/icons-material/Close'
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import TextField from '@mui/material/TextField'
import { useRef, useState } from 'react'
import type { Given, Recipe, RuleRow } from '../../core/made/definitions.js'
import type { Never } from '../../core/made/never.js'
import type { RuleCount } from '../../core/made/preview.js'
import type { Filter } from '../../core/questions/parts.js'
import { formatNumber, joinWords, MISSING } from '../../core/words/format.js'
import { fullFilterWords, propertyWords } from '../../core/words/words.js'
import { FilterEditor } from '../editors/FilterEditor.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useWorkspace } from '../page/workspace.js'

type Rules = Extract<Recipe, { kind: 'rules' }>
const ANY = [{ activity: true }] as const

/** Rows in order, the first that holds gives the value; dragged by their numbers, or moved with Alt and the arrows. */
export function RuleRows(props: {
  recipe: Rules
  of: 'event' | 'person'
  /** what a row gives is called: a channel, a value */
  gives: string
  /** channel rules always have a fallback */
  needsFallback: boolean
  counts: RuleCount[] | null
  never: readonly (Never | null)[]
  faulty: ReadonlySet<number>
  onChange: (recipe: Rules) => void
}) {
  const { recipe, of, gives, needsFallback, counts, never, faulty, onChange } = props
  const ids = useRowIds(recipe.rows)
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const setRows = (rows: RuleRow[]) => onChange({ ...recipe, rows })
  const move = (from: number, to: number) => {
    if (to < 0 || to >= recipe.rows.length) return
    ids.move(from, to)
    setRows(arrayMove(recipe.rows, from, to))
  }
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) move(ids.list.indexOf(String(active.id)), ids.list.indexOf(String(over.id)))
  }
  return (
    <>
      <div className="rule-head" aria-hidden="true">
        <span />
        <span>Where</span>
        <span>{gives}</span>
        <span className="number">{counts ? 'Events' : ''}</span>
        <span className="number">{counts ? 'People' : ''}</span>
        <span />
      </div>
      <DndContext id="rules" sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={ids.list} strategy={verticalListSortingStrategy}>
          <ol className="rules">
            {recipe.rows.map((row, index) => (
              <Row
                key={ids.list[index]}
                id={ids.list[index]!}
                index={index}
                row={row}
                of={of}
                gives={gives}
                count={counts?.[index] ?? null}
                never={never[index] ?? null}
                faulty={faulty.has(index)}
                onMove={(by) => move(index, index + by)}
                onChange={(next) => setRows(recipe.rows.with(index, next))}
                onRemove={() => {
                  ids.remove(index)
                  setRows(recipe.rows.toSpliced(index, 1))
                }}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <div className="rule fallback">
        <span />
        <span className="soft">Everything else</span>
        <GivenField
          label={`${gives} of everything else`}
          value={recipe.otherwise}
          optional={!needsFallback}
          onChange={(otherwise) => {
            const { otherwise: _before, ...rest } = recipe
            onChange(otherwise ? { ...rest, otherwise } : rest)
          }}
        />
        <Count n={counts?.at(-1)?.events} />
        <Count n={counts?.at(-1)?.people} />
        <span />
      </div>
      <p className="additions">
        <button
          type="button"
          className="addition"
          onClick={() => {
            ids.add()
            setRows([...recipe.rows, { where: { all: [] }, gives: { text: '' } }])
          }}
        >
          + row
        </button>
      </p>
    </>
  )
}

/** Ids that stay with their rows while these are edited and dragged. */
function useRowIds(rows: readonly RuleRow[]) {
  const next = useRef(0)
  const [list, setList] = useState<string[]>(() => rows.map(() => `row ${next.current++}`))
  // A row that came from elsewhere, an undo for one, gets an id of its own.
  const fitted = rows.map((_row, i) => list[i] ?? `row+${i}`)
  return {
    list: fitted,
    move: (from: number, to: number) => setList(arrayMove(fitted, from, to)),
    remove: (index: number) => setList(fitted.toSpliced(index, 1)),
    add: () => setList([...fitted, `row ${next.current++}`]),
  }
}

function Row(props: {
  id: string
  index: number
  row: RuleRow
  of: 'event' | 'person'
  gives: string
  count: RuleCount | null
  never: Never | null
  faulty: boolean
  onMove: (by: number) => void
  onChange: (row: RuleRow) => void
  onRemove: () => void
}) {
  const { id, index, row, of, gives, count, never, faulty, onMove, onChange, onRemove } = props
  const { words } = useWorkspace()
  const [at, setAt] = useState<{ left: number; top: number } | null>(null)
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id })
  const empty = isEmpty(row.where)
  return (
    <li
      ref={setNodeRef}
      className={`rule-item${isDragging ? ' dragging' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
        event.preventDefault()
        onMove(event.key === 'ArrowUp' ? -1 : 1)
      }}
    >
      <div className="rule">
        <button
          type="button"
          className="step-number"
          {...attributes}
          {...listeners}
          aria-label={`Row ${index + 1}: drag, or press Space and use the arrow keys, to reorder`}
        >
          {index + 1}
        </button>
        <button
          type="button"
          className={`rule-where${empty ? ' missing' : ''}${faulty ? ' faulty' : ''}`}
          aria-haspopup="dialog"
          onClick={(event) => setAt(placeUnder(event.currentTarget))}
        >
          {empty ? 'any event; add a condition …' : fullFilterWords(row.where, words)}
        </button>
        <TokenPopover at={at} label={`Conditions of row ${index + 1}`} width={420} onClose={() => setAt(null)}>
          <FilterEditor
            events={ANY}
            value={empty ? undefined : row.where}
            {...(of === 'person' ? { only: 'person' as const } : {})}
            onChange={(where) => onChange({ ...row, where: where ?? { all: [] } })}
          />
        </TokenPopover>
        <GivenField
          label={`${gives} of row ${index + 1}`}
          value={row.gives}
          onChange={(next) => onChange({ ...row, gives: next ?? { text: '' } })}
        />
        <Count n={count?.events} />
        <Count n={count?.people} />
        <IconButton size="small" aria-label={`Remove row ${index + 1}`} onClick={onRemove}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </div>
      {never && <p className="rule-note">{neverWords(never)}</p>}
      {!never && count?.events === 0 && <p className="rule-note quiet">It catches nothing so far.</p>}
    </li>
  )
}

function neverWords(never: Never): string {
  if (never.why === 'contradiction') return 'It can never match: its own conditions exclude one another.'
  const rows = joinWords(
    never.by.map((index) => String(index + 1)),
    'and',
  )
  return `It can never match: ${never.by.length === 1 ? 'row' : 'rows'} ${rows} above catches all of it. Move it up, or remove it.`
}

function isEmpty(where: Filter): boolean {
  return 'all' in where && where.all.length === 0
}

function Count({ n }: { n: number | undefined }) {
  return <span className="number">{n === undefined ? MISSING : formatNumber(n)}</span>
}

/** What a row gives: a text or a number that is typed. One that hands on a property is shown as it is. */
function GivenField(props: {
  label: string
  value: Given | undefined
  optional?: boolean
  onChange: (given: Given | undefined) => void
}) {
  const { label, value, optional = false, onChange } = props
  const { words } = useWorkspace()
  if (value && 'property' in value)
    return (
      <span className="row">
        the value of {propertyWords(value.property, words)}
        <Button onClick={() => onChange({ text: '' })}>Another</Button>
      </span>
    )
  const text = value === undefined ? '' : 'text' in value ? value.text : String(value.number)
  return (
    <TextField
      value={text}
      placeholder={optional ? 'no value' : 'a name'}
      error={!optional && text.trim() === ''}
      slotProps={{ htmlInput: { 'aria-label': label, maxLength: 500 } }}
      onChange={(event) => {
        const typed = event.target.value
        if (typed === '' && optional) onChange(undefined)
        else
          onChange(
            value && 'number' in value && typed !== '' && Number.isFinite(Number(typed))
              ? { number: Number(typed) }
              : { text: typed },
          )
      }}
    />
  )
}
