import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Link } from 'react-router'
import { propertiesIn } from '../../core/questions/named.js'
import { recipeSchema, type Derived, type Recipe } from '../../core/made/definitions.js'
import { PreviewSheet } from '../catalog/PreviewSheet.js'
import { RecipeEditor, startRecipe } from '../catalog/RecipeEditor.js'
import { RuleRows } from '../catalog/RuleRows.js'
import { LeftOver } from '../catalog/LeftOver.js'
import { TryEvent } from '../catalog/TryEvent.js'
import { LeaveDialog } from '../catalog/LeaveDialog.js'
import { RECIPES, type RecipeStart } from '../catalog/recipes.js'
import { useDraft } from '../catalog/useDraft.js'
import { useMend } from '../catalog/useMend.js'
import { usePreview } from '../catalog/usePreview.js'
import { dowser, missing } from '../door/dowser.server.js'
import type { Route } from './+types/derived'

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams
  const of = params.get('of') === 'person' ? ('person' as const) : ('event' as const)
  const name = params.get('name')
  if (name !== null) {
    const found = dowser()
      .mending.get()
      .derived.find((each) => each.of === of && each.name === name)
    if (!found) missing(`There is no derived property “${name}”. It may have been removed.`)
    return { definition: found, isNew: false }
  }
  const channels = params.has('channels')
  const asked = RECIPES.find(({ kind }) => kind === params.get('kind'))?.kind ?? 'arithmetic'
  const recipe: Recipe = channels ? { kind: 'rules', rows: [], otherwise: { text: 'Direct' } } : startRecipe(asked, of)
  const definition: Derived = {
    name: '',
    of: asked === 'touch' ? 'person' : of,
    description: '',
    recipe,
    ...(channels ? { channels: true } : {}),
  }
  return { definition, isNew: true }
}

export const meta = ({ data }: Route.MetaArgs) => [{ title: `${data?.definition.name || 'New property'} · Dowser` }]

export default function DerivedPage({ loaderData }: Route.ComponentProps) {
  const { definition: before, isNew } = loaderData
  const back = before.channels ? '/catalog/channels' : '/catalog/made'
  const { draft, setDraft, changed, blocker, leave } = useDraft<Derived>(before, back)
  const [problems, setProblems] = useState<{ message: string; path: (string | number)[] }[]>([])
  const { mend, busy } = useMend()
  const { reply, waiting } = usePreview({ ...draft, name: draft.name || 'new' })
  const { recipe, of, channels } = draft
  const set = (more: Partial<Derived>) => {
    setProblems([])
    setDraft({ ...draft, ...more })
  }
  const save = () =>
    void mend({
      do: 'save derived',
      definition: draft,
      ...(isNew ? {} : { before: { of: before.of, name: before.name } }),
    }).then((result) => {
      setProblems(result.problems)
      if (result.problems.length === 0) leave()
    })
  const previewProblems = reply?.problems ?? []
  const fault = previewProblems.find(({ at }) => at)?.at ?? null
  const counts = reply && 'counts' in reply ? reply.counts : null
  const never = reply && 'never' in reply ? reply.never : []
  const faulty = new Set(
    (reply && 'preview' in reply ? reply.preview.faults : []).flatMap(({ path }) =>
      path[0] === 'rows' && typeof path[1] === 'number' ? [path[1]] : [],
    ),
  )
  const nameProblem = problems.find(({ path }) => path[0] === 'name')
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/catalog">Catalog</Link>
          <span aria-hidden="true">›</span>
          <Link to={back}>{channels ? 'Channel rules' : 'Made here'}</Link>
          <span aria-hidden="true">›</span>
          <strong>{isNew ? 'New' : before.name}</strong>
        </nav>
        <div className="page-actions">
          <Button component={Link} to={back}>
            Cancel
          </Button>
          <Button variant="contained" disabled={busy || !changed} onClick={save}>
            {isNew ? 'Keep it' : 'Keep the changes'}
          </Button>
        </div>
      </div>
      <h1 className="question">
        {channels
          ? 'Each event gets the channel of the first row that holds.'
          : 'A property worked out from others, for past events too.'}
      </h1>
      <div className={`editor-body${recipe.kind === 'rules' ? ' wide' : ''}`}>
        <section className="sheet pad stack">
          <div className="row wrap">
            <TextField
              label={channels ? 'Name of the property' : 'Name'}
              value={draft.name}
              autoFocus={isNew}
              error={nameProblem !== undefined}
              helperText={nameProblem?.message}
              slotProps={{ htmlInput: { maxLength: 200 } }}
              onChange={(event) => set({ name: event.target.value })}
            />
            <TextField
              label="What it means"
              className="grow"
              value={draft.description}
              slotProps={{ htmlInput: { maxLength: 1000 } }}
              onChange={(event) => set({ description: event.target.value })}
            />
          </div>
          {!channels && recipe.kind !== 'chance' && (
            <div className="row wrap">
              <Select
                value={of}
                aria-label="Whose property it is"
                onChange={(event) => {
                  const next = event.target.value as 'event' | 'person'
                  const kind = recipe.kind === 'touch' && next === 'event' ? 'arithmetic' : recipe.kind
                  set({ of: next, recipe: startRecipe(kind, next) })
                }}
              >
                <MenuItem value="event">of each event</MenuItem>
                <MenuItem value="person">of each person</MenuItem>
              </Select>
              <Select
                value={recipe.kind}
                aria-label="How it is worked out"
                onChange={(event) => {
                  const kind = event.target.value as RecipeStart
                  // Whose events these are is the person: no event has a first one of its own.
                  const whose = kind === 'touch' ? 'person' : of
                  set({ of: whose, recipe: startRecipe(kind, whose) })
                }}
              >
                {RECIPES.map(({ kind, label }) => (
                  <MenuItem key={kind} value={kind}>
                    {label}
                  </MenuItem>
                ))}
              </Select>
            </div>
          )}
          {recipe.kind === 'rules' ? (
            <RuleRows
              recipe={recipe}
              of={of}
              gives={channels ? 'Channel' : 'Value'}
              needsFallback={channels === true}
              counts={counts?.rows ?? null}
              never={never}
              faulty={faulty}
              onChange={(next) => set({ recipe: next })}
            />
          ) : (
            <RecipeEditor recipe={recipe} of={of} fault={fault} onChange={(next) => set({ recipe: next })} />
          )}
          {problems
            .filter((problem) => problem !== nameProblem)
            .map(({ message }) => (
              <p key={message} className="faults" role="alert">
                {message}
              </p>
            ))}
          {changed && !fault && isWhole(recipe) && <IncompleteWords problems={previewProblems} />}
        </section>
        <div className="stack">
          {recipe.kind === 'rules' && of === 'event' && (
            <div className="rule-tools">
              <TryEvent recipe={recipe} gives={channels ? 'channel' : 'value'} />
              <LeftOver left={counts?.left ?? []} otherwise={recipe.otherwise} />
            </div>
          )}
          {recipe.kind !== 'chance' && (
            <PreviewSheet reply={isChosen(recipe) ? reply : null} waiting={waiting} of={of} />
          )}
        </div>
      </div>
      <LeaveDialog blocker={blocker} />
    </main>
  )
}

/** Whether each property that it reads has been chosen. */
const isChosen = (recipe: Recipe) => propertiesIn(recipe).every((ref) => ref.of === 'source' || ref.name !== '…')

function isWhole(recipe: Recipe): boolean {
  return recipeSchema.safeParse(recipe).success
}

function IncompleteWords({ problems }: { problems: readonly { message: string }[] }) {
  if (problems.length === 0) return null
  return <p className="hint">{problems[0]!.message}</p>
}
