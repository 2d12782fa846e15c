import { peopleSchema } from '../../core/analyses/peopleSchema.js'
import { readJson } from '../../core/questions/readJson.js'
import { z } from 'zod'
import type { PeopleRef } from '../../core/analyses/people.js'
import { dowser, missing } from '../door/dowser.server.js'
import { readSort } from '../address/readAddress.server.js'
import { Retrace } from '../retrace/Retrace.js'
import type { Route } from './+types/retrace'

export async function loader({ params, request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const space = params.space === 'anonymous' ? 'anonymous' : 'known'
  const session = Math.floor(Number(search.get('session')))
  const found = await dowser().session(space, params.id, {
    session: session >= 1 ? session : null,
    eventId: search.get('at'),
    of: listOf(search),
  })
  if (!found)
    missing(
      `Nobody has the ${space === 'known' ? 'id' : 'anonymous id'} “${params.id}”, or they have done nothing yet.`,
    )
  const of = listOf(search)
  const sort = readSort(search)
  const neighbours = of && (await dowser().neighbours(of, found.person, sort ?? undefined))
  return { found, of, neighbours }
}

function listOf(search: URLSearchParams): PeopleRef | null {
  try {
    const read = peopleSchema.safeParse(readJson(search.get('of') ?? 'null'))
    return read.success ? read.data : null
  } catch {
    return null
  }
}

const form = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('note'), event: z.string().min(1).max(500), text: z.string().trim().min(1).max(1000) }),
  z.object({ intent: z.literal('remove note'), id: z.string().min(1).max(40) }),
])

export async function action({ request }: Route.ActionArgs) {
  const read = form.safeParse(Object.fromEntries(await request.formData()))
  if (!read.success) return { problem: 'The note was not kept: write at least one word, at most 1,000 characters.' }
  const { momentNotes } = dowser()
  if (read.data.intent === 'note') momentNotes.add(read.data.event, read.data.text, Date.now())
  else momentNotes.remove(read.data.id)
  return { problem: null }
}

export const meta = ({ params }: Route.MetaArgs) => [{ title: `Retrace ${params.id} · Dowser` }]

export default function RetraceRoute({ loaderData }: Route.ComponentProps) {
  const { found } = loaderData
  return <Retrace key={`${found.person} ${found.session}`} {...loaderData} />
}
