import { own } from '../../core/names.js'
import type { Workspace } from '../page/workspace.js'

/** So long a question the field has room for. */
const ROOM = 23

/**
 * A question over this workspace's names, short enough for the field: what is done most of what is told apart by a
 * property, by the shortest such; null where there is nothing to ask about yet.
 */
export function exampleOf({
  catalog: { events, properties },
  words,
}: Pick<Workspace, 'catalog' | 'words'>): string | null {
  const asked = events
    .filter(({ deprecated, passive, recent }) => !deprecated && !passive && recent > 0)
    .sort((a, b) => b.recent - a.recent)
    .map((event) => ({ event, said: (own(words.labels?.events, event.name) ?? event.name).toLowerCase() }))
  for (const { event, said } of asked) {
    const by = properties
      .filter(
        ({ property, kind, deprecated }) =>
          property.of === 'event' && kind === 'text' && !deprecated && event.properties.includes(property.name),
      )
      .map(({ name }) => name.toLowerCase().replaceAll('_', ' '))
      .find((name) => `${said} by ${name}`.length <= ROOM)
    if (by) return `${said} by ${by}`
  }
  return asked[0] && asked[0].said.length <= ROOM - 9 ? `${asked[0].said} each day` : null
}
