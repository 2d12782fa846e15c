import { FindField } from '../ui/FindField.js'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { own } from '../../core/names.js'
import Button from '@mui/material/Button'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { loneSegment, saidPeopleWords } from '../analyses/words.js'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { Condition } from '../../core/questions/parts.js'
import { ruleOfPeople } from '../../core/analyses/peopleRule.js'
import { asGroup, EVERYBODY, type Rule, type RuleGroup } from '../../core/segments/rule.js'
import { faultWords } from '../../core/questions/faults.js'
import { countOf } from '../../core/words/format.js'
import { conditionWords } from '../../core/words/words.js'
import { besideAddress, peopleParams, segmentAddress, studyAddress } from '../address/address.js'
import { dowser, missing } from '../door/dowser.server.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { ColumnChoice } from '../people/ColumnChoice.js'
import { PeopleTable } from '../people/PeopleTable.js'
import { PeopleTabs } from '../people/PeopleTabs.js'
import { listAddress, listsOf } from '../people/listAddress.js'
import { StudyThem } from '../people/StudyThem.js'
import { PeopleTray } from '../people/PeopleTray.js'
import { readBeside, readColumns, readPeople, readSort } from '../address/readAddress.server.js'
import { CompositionSheet } from '../segments/CompositionSheet.js'
import { ProfileEditor } from '../segments/ProfileEditor.js'
import { SavePeopleDialog } from '../segments/SavePeopleDialog.js'
import { useWorkspace } from '../page/workspace.js'
import { Pager } from '../ui/Pager.js'
import type { Route } from './+types/people'

const PAGE = 50

export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const asked = search.has('people') || search.has('marks') ? readPeople(search) : { rule: EVERYBODY }
  if (!asked) missing('The address does not say which people. Select a number in a study, and choose “See them”.')
  const ref: PeopleRef = asked
  const page = Math.max(1, Math.floor(Number(search.get('page') ?? '1')) || 1)
  const columns = readColumns(search)
  const sort = readSort(search)
  const find = (search.get('find') ?? '').trim()
  const beside = readBeside(search)
  const names = dowser().profileNames()
  if (find !== '') {
    const people = await dowser().peopleWithId(find, PAGE)
    return { ref, beside, page: 1, count: people.length, people, names, columns, sort, find }
  }
  const found = await dowser().people(
    ref,
    { offset: (page - 1) * PAGE, limit: PAGE, ...(sort ? { sort } : {}) },
    request.signal,
  )
  if ('faults' in found) missing(found.faults.map(faultWords).join(' '))
  return { ref, beside, page, ...found, names, columns, sort, find }
}

export const meta = () => [{ title: 'People · Dowser' }]

export default function People({ loaderData }: Route.ComponentProps) {
  const { ref, beside, page, count, people, names, columns, sort, find } = loaderData
  const { words } = useWorkspace()
  const navigate = useNavigate()
  const [search] = useSearchParams()
  const [saving, setSaving] = useState(false)
  const [selected, setSelected] = useState<PeopleRef | null>(null)
  const [choosing, setChoosing] = useState<{ left: number; top: number } | null>(null)
  const pages = Math.max(1, Math.ceil(count / PAGE))
  const carried = names.filter((name) => people.some(({ profile }) => own(profile, name) !== undefined))
  const shown = columns ?? carried.slice(0, 7)
  const everybody = 'rule' in ref && JSON.stringify(ref.rule) === JSON.stringify(EVERYBODY) && !ref.came
  const address = (change: Record<string, string | null>) => {
    const next = new URLSearchParams(search)
    next.delete('page')
    for (const [key, value] of Object.entries(change)) {
      if (value === null) next.delete(key)
      else next.set(key, value)
    }
    return `?${next.toString()}`
  }
  const { base, wheres } = splitRule(ref)
  const put = (next: Condition[]) => {
    const rule = joinRule(base, next)
    void navigate(address({ people: rule.of.length === 0 ? null : JSON.stringify({ rule }), q: null, marks: null }), {
      preventScrollReset: true,
    })
  }
  // The one heading of the page: who they are, where somebody is meant.
  const Heading = everybody || find !== '' ? 'p' : 'h1'
  const study = 'study' in ref ? ref.study : null
  const segment = loneSegment(ref)
  const list = listAddress(ref)
  return (
    <main className="page">
      <div className="page-head">
        {everybody || find !== '' ? (
          <h1 className="question">People</h1>
        ) : (
          <nav className="crumbs" aria-label="Breadcrumbs">
            <Link to="/people">People</Link>
            <span aria-hidden="true">›</span>
            {study && <Link to={studyAddress(asQuestion(study))}>from a study</Link>}
            {segment && (
              <Link to={`/people/segments/${segment.segment}`}>
                {own(words.segments, segment.segment) ?? 'segment'}
              </Link>
            )}
            {!study && !segment && <strong>chosen</strong>}
          </nav>
        )}
        <div className="page-actions">
          <StudyThem people={ref} />
          {list !== null && (
            <Button component={Link} to={list}>
              Their {listsOf(ref)}
            </Button>
          )}
          <ColumnChoice
            names={names}
            shown={shown}
            address={(next) => address({ columns: JSON.stringify(next) })}
            words={words}
          />
          <Button
            variant="outlined"
            component="a"
            href={`/download/people.csv?${peopleParams(ref)}${columns ? `&columns=${encodeURIComponent(JSON.stringify(columns))}` : ''}`}
            download
          >
            Download list
          </Button>
          <Button variant="contained" onClick={() => setSaving(true)}>
            Save as segment
          </Button>
        </div>
      </div>
      <PeopleTabs />
      <div className="people-tools">
        <FindPerson
          find={find}
          onFind={(text) => void navigate(address({ find: text || null }), { replace: true, preventScrollReset: true })}
        />
        {find === '' && (
          <>
            {wheres.map((where, index) => (
              <span key={index} className="filter-chip">
                whose {conditionWords(where, words)}
                <button
                  type="button"
                  aria-label={`Take this condition away: ${conditionWords(where, words)}`}
                  onClick={() => put(wheres.toSpliced(index, 1))}
                >
                  ×
                </button>
              </span>
            ))}
            <button
              type="button"
              className="addition"
              onClick={(event) => setChoosing(placeUnder(event.currentTarget))}
            >
              + only those whose…
            </button>
            {'rule' in ref && !ref.came && (
              <Link className="addition" to={segmentAddress(asGroup(ref.rule))}>
                + by what they did…
              </Link>
            )}
          </>
        )}
      </div>
      <Heading className="people-count">
        <strong>{countOf(count, 'person', 'people')}</strong>{' '}
        {find !== ''
          ? `with “${find}” in an id${count === PAGE ? ', the first of them' : ''}`
          : everybody
            ? 'have been seen'
            : saidPeopleWords(ref, words)}
        <span className="soft"> · profile properties at their latest value</span>
      </Heading>
      {beside && find === '' && (
        <p className="people-beside">
          beside those {saidPeopleWords(beside, words)} ·{' '}
          <Link to={besideAddress(ref, null)}>beside everyone instead</Link> ·{' '}
          <Link to={besideAddress(beside, ref)}>the other way round</Link>. Profiles are read as of now, so a difference
          may also be what came of it.
        </p>
      )}
      <div className={`people-grid${beside ? ' comparing' : ''}`}>
        <section className="sheet">
          {people.length === 0 ? (
            <p className="pad soft">{find === '' ? 'Nobody is meant by this.' : 'Nobody has such an id.'}</p>
          ) : (
            <PeopleTable
              people={people}
              columns={shown}
              sort={find === '' ? sort : null}
              {...(find === '' ? { sorted: (next) => address({ sort: next && JSON.stringify(next) }) } : {})}
              from={`?${new URLSearchParams({ of: JSON.stringify(ref), ...(sort ? { sort: JSON.stringify(sort) } : {}) }).toString()}`}
            />
          )}
          <Pager page={page} pages={pages} address={(to) => address({ page: String(to) })} />
        </section>
        {!everybody && find === '' && count > 0 && (
          <CompositionSheet
            people={JSON.stringify(ref)}
            rule={ruleOfPeople(ref)}
            {...(beside ? { beside: JSON.stringify(beside) } : {})}
            onSelect={setSelected}
          />
        )}
      </div>
      <TokenPopover at={choosing} label="Only those whose" width={430} onClose={() => setChoosing(null)}>
        <AddWhere onDone={(where) => put([...wheres, where])} />
      </TokenPopover>
      <SavePeopleDialog
        open={saving}
        people={ref}
        count={find === '' ? count : null}
        onClose={() => setSaving(false)}
      />
      <PeopleTray people={selected} onClose={() => setSelected(null)} />
    </main>
  )
}

/** The condition is part of the list once the editor is closed on it, or another value is chosen. */
function AddWhere({ onDone }: { onDone: (where: Condition) => void }) {
  const [where, setWhere] = useState<Condition | null>(null)
  return (
    <div className="stack">
      <ProfileEditor value={null} onChange={setWhere} />
      {where && (
        <Button variant="contained" onClick={() => onDone(where)}>
          Show them
        </Button>
      )}
    </div>
  )
}

function FindPerson({ find, onFind }: { find: string; onFind: (text: string) => void }) {
  const [text, setText] = useState(find)
  useEffect(() => {
    if (text.trim() === find) return
    const timer = setTimeout(() => onFind(text.trim()), 250)
    return () => clearTimeout(timer)
  }, [text, find, onFind])
  return <FindField label="Find a person by id" type="search" value={text} onChange={setText} />
}

/** Conditions on profiles at the end of a list's rule, which can be taken away one by one, and what they were added to. */
function splitRule(ref: PeopleRef): { base: Rule | null; wheres: Condition[] } {
  if (!('rule' in ref)) return { base: { kind: 'study', ...ref }, wheres: [] }
  if (ref.came || ref.at !== undefined) return { base: null, wheres: [] }
  const group = asGroup(ref.rule)
  if (group.hold !== 'all') return { base: group, wheres: [] }
  const first = group.of.findLastIndex((node) => 'hold' in node || node.kind !== 'profile') + 1
  const rest = group.of.slice(0, first)
  return {
    base: rest.length === 0 ? null : rest.length === 1 ? rest[0] : { hold: 'all', of: rest },
    wheres: group.of.slice(first).flatMap((node) => ('where' in node && node.kind === 'profile' ? [node.where] : [])),
  }
}

function joinRule(base: Rule | null, wheres: readonly Condition[]): RuleGroup {
  const added: Rule[] = wheres.map((where) => ({ kind: 'profile', where }))
  return { hold: 'all', of: base ? [base, ...added] : added }
}
