import { USUAL_BEHAVIOUR, destinationKinds, type DestinationSetup } from '../../core/outreach/destination.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { actOnDestination } from '../outreach/act.server.js'
import { DestinationPage } from '../outreach/DestinationPage.js'
import type { DestinationData } from '../outreach/destinationData.js'
import type { Route } from './+types/destination'

const LOG_SHOWN = 50

export async function loader({ params, request }: Route.LoaderArgs): Promise<DestinationData> {
  const { destinations, syncs, messages, settings } = dowser()
  const id = params.destinationId
  const saved = id ? orMissing(() => destinations.get(id)) : null
  const asked = new URL(request.url).searchParams.get('kind')
  const kind = destinationKinds.find((each) => each === asked) ?? null
  const kept = saved
    ? syncs
        .list()
        .filter(({ definition }) => definition.destination === saved.id)
        .map((sync) => ({
          id: sync.id,
          name: sync.definition.name,
          state: sync.state,
          there: syncs.members(sync.id).in,
        }))
    : []
  const { webhookHosts } = settings.get()
  return {
    ...{ saved, kept, webhookHosts },
    messages: saved
      ? messages
          .list()
          .flatMap(({ id: own, definition, state }) =>
            definition.destination === saved.id ? [{ id: own, name: definition.name, state }] : [],
          )
      : [],
    setup:
      saved?.setup ??
      (kind && ({ kind, behaviour: USUAL_BEHAVIOUR, ...(kind === 'folder' && { format: 'csv' }) } as DestinationSetup)),
    log: saved ? destinations.log(saved.id, LOG_SHOWN) : [],
    standIn: saved ? await destinations.state(saved.id).catch(() => null) : null,
    folder: saved?.setup.kind === 'folder' ? destinations.folderOf(saved.id) : null,
  }
}

export async function action({ request }: Route.ActionArgs) {
  return actOnDestination(await request.formData())
}

export const meta = ({ loaderData }: Route.MetaArgs) => [
  { title: `${loaderData?.saved?.name ?? 'New destination'} · Dowser` },
]

export default function DestinationRoute({ loaderData }: Route.ComponentProps) {
  return <DestinationPage data={loaderData} key={`${loaderData.saved?.id ?? 'new'} ${loaderData.setup?.kind ?? ''}`} />
}
