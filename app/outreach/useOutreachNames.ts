import type { OutreachNames } from '../../core/outreach/words.js'
import { propertyWords } from '../../core/words/words.js'
import { useWorkspace } from '../page/workspace.js'

/** What sentences call segments, destinations and properties. */
export function useOutreachNames(places: readonly { id: string; name: string }[]): OutreachNames {
  const { segments, words } = useWorkspace()
  return {
    segment: (id) => segments.find((each) => each.id === id)?.name ?? 'a segment that was deleted',
    destination: (id) => places.find((each) => each.id === id)?.name ?? 'a destination that was deleted',
    property: (name) => propertyWords({ of: 'person', name }, words),
  }
}
