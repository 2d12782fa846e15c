import { effectOfMessage } from '../../core/outreach/effectOf.js'
import { isChannel } from '../../core/outreach/destination.js'
import { messageSchema, type Message } from '../../core/outreach/message.js'
import { readJson } from '../../core/questions/readJson.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { actOnMessage } from '../outreach/actOnMessage.server.js'
import { MessagePage } from '../outreach/MessagePage.js'
import { blankMessage, type MessageData } from '../outreach/message.js'
import { effectAnswer } from '../outreach/effectAnswer.server.js'
import type { Route } from './+types/message'

const LINES_SHOWN = 100

export async function loader({ params, request }: Route.LoaderArgs): Promise<MessageData> {
  const { messages, destinations, settings } = dowser()
  const saved = params.messageId ? orMissing(() => messages.get(params.messageId!)) : null
  const places = destinations
    .list()
    .filter(({ setup }) => isChannel(setup.kind))
    .map(({ id, name, setup }) => ({ id, name, kind: setup.kind, setup }))
  const search = new URL(request.url).searchParams
  const definition: Message = saved?.definition ?? {
    ...blankMessage,
    segment: search.get('segment') ?? '',
    ...(places.length === 1 ? { destination: places[0]!.id } : {}),
    ...givenParts(search.get('message')),
  }
  const { ready } = await dowser().status()
  const { zone } = settings.get()
  const place = places.find(({ id }) => id === definition.destination)
  const answer =
    saved && saved.startedMs !== null && ready
      ? await effectAnswer(effectOfMessage(definition, saved.startedMs, zone), request.signal)
      : null
  return {
    ...{ saved, definition, places: places.map(({ id, name, kind }) => ({ id, name, kind })) },
    effect: answer && 'result' in answer ? answer : null,
    problem: answer && 'problem' in answer ? answer.problem : null,
    counts: saved && messages.counts(saved.id),
    lines: saved ? messages.lines(saved.id, LINES_SHOWN) : [],
    shares: saved ? messages.shares(saved.id) : [],
    simulated: place !== undefined && !('people' in place.setup && place.setup.people?.react === false),
  }
}

/** Parts of a message that another page begins one with. */
function givenParts(text: string | null): Partial<Message> {
  if (text === null) return {}
  const whole = messageSchema.safeParse({ ...blankMessage, name: 'x', ...(readJson(text) as object) })
  if (!whole.success) return {}
  const { name, ...rest } = whole.data
  return { ...rest, name: name === 'x' ? '' : name }
}

export async function action({ request }: Route.ActionArgs) {
  return actOnMessage(await request.formData())
}

export const meta = ({ loaderData }: Route.MetaArgs) => [
  { title: `${loaderData?.saved?.definition.name ?? 'New message'} · Dowser` },
]

export default function MessageRoute({ loaderData }: Route.ComponentProps) {
  const { saved } = loaderData
  return <MessagePage data={loaderData} key={`${saved?.id ?? 'new'} ${saved?.startedMs ?? ''}`} />
}
