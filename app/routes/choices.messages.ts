import { effectOfMessage } from '../../core/outreach/effectOf.js'
import { dowser } from '../door/dowser.server.js'

/** The messages that have been started, each as the study of what it brings. */
export function loader() {
  const { messages, settings } = dowser()
  const { zone } = settings.get()
  return messages
    .list()
    .flatMap(({ definition, startedMs }) => (startedMs === null ? [] : [effectOfMessage(definition, startedMs, zone)]))
}
