import { syncSchema, type Sync } from '../../core/outreach/sync.js'
import { readJson } from '../../core/questions/readJson.js'
import { faultWords } from '../../core/questions/faults.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { actOnKept } from '../outreach/act.server.js'
import { KeptPage } from '../outreach/KeptPage.js'
import { blankSync, type KeptData } from '../outreach/kept.js'
import type { Route } from './+types/kept'

const RUNS_SHOWN = 30
const PARKED_SHOWN = 50

export async function loader({ params, request }: Route.LoaderArgs): Promise<KeptData> {
  const search = new URL(request.url).searchParams
  const { syncs, destinations } = dowser()
  const saved = params.keptId ? orMissing(() => syncs.get(params.keptId!)) : null
  const places = destinations.list().map(({ id, name, setup }) => ({ id, name, kind: setup.kind }))
  const edited = draftOf(search.get('kept'))
  const definition: Sync = edited ??
    saved?.definition ?? {
      ...blankSync,
      segment: search.get('segment') ?? '',
      destination: search.get('to') ?? (places.length === 1 ? places[0].id : ''),
    }
  const { ready } = await dowser().status()
  const expected = ready && definition.segment !== '' ? await syncs.expected(definition.segment) : null
  return {
    ...{ saved, definition, places },
    edited: edited !== null && JSON.stringify(edited) !== JSON.stringify(saved?.definition ?? blankSync),
    expected: expected && 'faults' in expected ? null : expected,
    faults: expected && 'faults' in expected ? expected.faults.map((fault) => faultWords(fault)) : [],
    runs: saved ? syncs.runs(saved.id, RUNS_SHOWN) : [],
    there: saved ? syncs.members(saved.id) : { in: 0, kept: 0, parked: 0 },
    parked: saved ? syncs.parked(saved.id, PARKED_SHOWN) : [],
    waiting: saved ? syncs.waiting(saved.id) : null,
  }
}

/** What is being written, whole or not: what is missing is asked for when it is saved. */
function draftOf(text: string | null): Sync | null {
  if (text === null) return null
  const read = readJson(text)
  const whole = syncSchema.safeParse({ ...blankSync, ...(read as object) })
  if (whole.success) return whole.data
  const { name, segment, destination, ...rest } = (read ?? {}) as Partial<Sync>
  const bare = syncSchema.safeParse({ ...blankSync, ...rest, name: 'x', segment: 'x', destination: 'x' })
  return bare.success
    ? { ...bare.data, name: String(name ?? ''), segment: String(segment ?? ''), destination: String(destination ?? '') }
    : null
}

export async function action({ request }: Route.ActionArgs) {
  return actOnKept(await request.formData())
}

export const meta = ({ loaderData }: Route.MetaArgs) => [
  { title: `${loaderData?.saved?.definition.name ?? 'Keep a segment in step'} · Dowser` },
]

export default function KeptRoute({ loaderData }: Route.ComponentProps) {
  return <KeptPage data={loaderData} key={loaderData.saved?.id ?? 'new'} />
}
