import CloseIcon from '@mui/icons-material/Close'
import IconButton from '@mui/material/IconButton'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { dateParts, linkParts, type Recipe } from '../../core/made/definitions.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { Link } from 'react-router'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { studyAddress } from '../address/address.js'
import { useWorkspace } from '../page/workspace.js'
import { FormulaField } from './FormulaField.js'
import { sentenceText } from '../../core/words/sentence.js'
import { sentenceOf } from '../analyses/words.js'
import type { RecipeStart } from './recipes.js'
import { PropertyButton } from './PropertyButton.js'

type EditorOf<K extends Recipe['kind']> = {
  recipe: Extract<Recipe, { kind: K }>
  of: 'event' | 'person'
  onChange: (recipe: Recipe) => void
}

/** The forms of the recipes that have no rows. */
export function RecipeEditor(props: {
  recipe: Exclude<Recipe, { kind: 'rules' }>
  of: 'event' | 'person'
  fault: { at: number; length: number; message: string } | null
  onChange: (recipe: Recipe) => void
}) {
  const { recipe, of, fault, onChange } = props
  switch (recipe.kind) {
    case 'arithmetic':
      return (
        <FormulaField
          value={recipe.formula}
          of={of}
          fault={fault}
          onChange={(formula) => onChange({ ...recipe, formula })}
        />
      )
    case 'joined':
      return <JoinedEditor recipe={recipe} of={of} onChange={onChange} />
    case 'date part':
      return <DatePartEditor recipe={recipe} of={of} onChange={onChange} />
    case 'link part':
      return <LinkPartEditor recipe={recipe} of={of} onChange={onChange} />
    case 'chance':
      return <ChanceEditor recipe={recipe} of={of} onChange={onChange} />
    case 'touch':
      return <TouchEditor recipe={recipe} of={of} onChange={onChange} />
    case 'look-up':
      return <LookUpEditor recipe={recipe} of={of} onChange={onChange} />
  }
}

const onlyOf = (of: 'event' | 'person') => (of === 'person' ? 'person' : undefined)
const chosen = (ref: PropertyRef | { of: 'time' }): PropertyRef | null =>
  ref.of === 'time' || (ref.of !== 'source' && ref.name === '…') ? null : ref

function JoinedEditor({ recipe, of, onChange }: EditorOf<'joined'>) {
  const { parts } = recipe
  const put = (next: typeof parts) => onChange({ ...recipe, parts: next })
  return (
    <div className="stack">
      <p className="hint">One after another; an event where any of the properties has no value has none.</p>
      {parts.map((part, i) => (
        <div className="row" key={i}>
          {'text' in part ? (
            <TextField
              value={part.text}
              placeholder="a text between, e.g. a space"
              slotProps={{ htmlInput: { 'aria-label': `Text ${i + 1}` } }}
              onChange={(event) => put(parts.with(i, { text: event.target.value }))}
            />
          ) : (
            <PropertyButton
              label={`Property ${i + 1}`}
              value={chosen(part.property)}
              only={onlyOf(of)}
              onChange={(property) => put(parts.with(i, { property }))}
            />
          )}
          <IconButton size="small" aria-label={`Remove part ${i + 1}`} onClick={() => put(parts.toSpliced(i, 1))}>
            <CloseIcon fontSize="small" />
          </IconButton>
        </div>
      ))}
      <p className="additions">
        <button type="button" className="addition" onClick={() => put([...parts, { property: { of, name: '…' } }])}>
          + property
        </button>
        <button type="button" className="addition" onClick={() => put([...parts, { text: ' ' }])}>
          + text
        </button>
      </p>
    </div>
  )
}

function DatePartEditor({ recipe, of, onChange }: EditorOf<'date part'>) {
  const { input, part } = recipe
  return (
    <div className="row wrap">
      The
      <Select
        value={part}
        aria-label="Part of the date"
        onChange={(event) => onChange({ ...recipe, part: event.target.value as typeof part })}
      >
        {dateParts.map((each) => (
          <MenuItem key={each} value={each}>
            {each}
          </MenuItem>
        ))}
      </Select>
      of
      {of === 'event' && (
        <Select
          value={input.of === 'time' ? 'time' : 'property'}
          aria-label="Which date"
          onChange={(event) =>
            onChange({ ...recipe, input: event.target.value === 'time' ? { of: 'time' } : { of: 'event', name: '…' } })
          }
        >
          <MenuItem value="time">the event’s own time</MenuItem>
          <MenuItem value="property">a property</MenuItem>
        </Select>
      )}
      {input.of !== 'time' && (
        <PropertyButton
          label="Date"
          value={chosen(input)}
          only={onlyOf(of)}
          onChange={(property) => onChange({ ...recipe, input: property })}
        />
      )}
    </div>
  )
}

function LinkPartEditor({ recipe, of, onChange }: EditorOf<'link part'>) {
  const { input, part, key = '' } = recipe
  return (
    <div className="row wrap">
      The
      <Select
        value={part}
        aria-label="Part of the link"
        onChange={(event) => {
          const { key: _before, ...rest } = recipe
          const next = event.target.value as typeof part
          onChange(next === 'query value' ? { ...rest, part: next, key } : { ...rest, part: next })
        }}
      >
        {linkParts.map((each) => (
          <MenuItem key={each} value={each}>
            {each}
          </MenuItem>
        ))}
      </Select>
      {part === 'query value' && (
        <TextField
          value={key}
          placeholder="utm_source"
          slotProps={{ htmlInput: { 'aria-label': 'Which value of the query' } }}
          onChange={(event) => onChange({ ...recipe, key: event.target.value })}
        />
      )}
      of
      <PropertyButton
        label="Link"
        value={chosen(input)}
        only={onlyOf(of)}
        onChange={(property) => onChange({ ...recipe, input: property })}
      />
    </div>
  )
}

function TouchEditor({ recipe, onChange }: EditorOf<'touch'>) {
  const { which, property } = recipe
  return (
    <div className="stack">
      <div className="row wrap">
        The
        <Select
          value={which}
          aria-label="Which of the person’s events"
          onChange={(event) => onChange({ ...recipe, which: event.target.value as typeof which })}
        >
          <MenuItem value="first">first</MenuItem>
          <MenuItem value="latest">latest</MenuItem>
        </Select>
        value of
        <PropertyButton
          label="Property"
          value={chosen(property)}
          only="event"
          onChange={(next) => onChange({ ...recipe, property: next })}
        />
        among the person’s events
      </div>
      <p className="hint">
        Before their first event that carries it a person has no value. Of channel rules, events that only the fallback
        catches are passed over. An event is sorted by what was so when it happened.
      </p>
    </div>
  )
}

/** A chance is made on the page of its study; here it is told which one that is. */
function ChanceEditor({ recipe, onChange }: EditorOf<'chance'>) {
  const { words } = useWorkspace()
  const { part, study } = recipe
  return (
    <div className="stack">
      <p>
        <Link to={studyAddress(asQuestion(study))}>{sentenceText(sentenceOf(asQuestion(study), words))}</Link>
      </p>
      <Select
        value={part}
        aria-label="What of it"
        onChange={(event) => onChange({ ...recipe, part: event.target.value as typeof part })}
      >
        <MenuItem value="score">the chance, in percent</MenuItem>
        <MenuItem value="tenth">the tenth a person stands in, 1 being the likeliest</MenuItem>
      </Select>
      <p className="hint">
        As of now, for past events too. Who is not asked about, having done it already, has no value.
      </p>
    </div>
  )
}

/** The list as lines, so that two columns can be pasted from a spreadsheet. */
function LookUpEditor({ recipe, of, onChange }: EditorOf<'look-up'>) {
  const { input, table, otherwise } = recipe
  return (
    <div className="stack">
      <div className="row wrap">
        Look up
        <PropertyButton
          label="What is looked up"
          value={chosen(input)}
          only={onlyOf(of)}
          onChange={(property) => onChange({ ...recipe, input: property })}
        />
      </div>
      <TextField
        multiline
        minRows={5}
        maxRows={14}
        label="Value and what it becomes, one a line"
        placeholder={'PT → Portugal\nDE → Germany'}
        defaultValue={table.map(([from, to]) => `${from} → ${to}`).join('\n')}
        helperText="Put → or a tab between the two. Paste two columns from a spreadsheet as they are."
        onChange={(event) => onChange({ ...recipe, table: readLines(event.target.value) })}
      />
      <div className="row wrap">
        Other values
        <Select
          value={typeof otherwise === 'string' ? otherwise : 'text'}
          aria-label="Other values"
          onChange={(event) => {
            const next = event.target.value
            onChange({ ...recipe, otherwise: next === 'text' ? { text: 'Other' } : (next as 'as it is') })
          }}
        >
          <MenuItem value="as it is">stay as they are</MenuItem>
          <MenuItem value="no value">become no value</MenuItem>
          <MenuItem value="text">become</MenuItem>
        </Select>
        {typeof otherwise !== 'string' && (
          <TextField
            value={otherwise.text}
            slotProps={{ htmlInput: { 'aria-label': 'What other values become' } }}
            onChange={(event) => onChange({ ...recipe, otherwise: { text: event.target.value } })}
          />
        )}
      </div>
    </div>
  )
}

function readLines(text: string): [string, string][] {
  return text.split('\n').flatMap((line): [string, string][] => {
    const parts = line.split(/\t|→|=>/)
    return parts.length < 2 ? [] : [[parts[0]!.trim(), parts.slice(1).join(' ').trim()]]
  })
}

/** A recipe of a kind to start from. */
export function startRecipe(kind: RecipeStart, of: 'event' | 'person'): Recipe {
  const unchosen: PropertyRef = { of, name: '…' }
  switch (kind) {
    case 'arithmetic':
      return { kind, formula: '' }
    case 'joined':
      return { kind, parts: [{ property: unchosen }, { text: ' ' }, { property: unchosen }] }
    case 'date part':
      return { kind, input: of === 'event' ? { of: 'time' } : unchosen, part: 'weekday' }
    case 'link part':
      return { kind, input: unchosen, part: 'host' }
    case 'rules':
      return { kind, rows: [{ where: { all: [] }, gives: { text: '' } }] }
    case 'touch':
      return { kind, which: 'first', property: { of: 'event', name: '…' } }
    case 'look-up':
      return { kind, input: unchosen, table: [], otherwise: 'as it is' }
  }
}
