import type { Workspace } from '../page/workspace.js'
import { dayIn } from '../catalog/days.js'
import { suggest, type Suggestion } from './suggest.js'
import { vocabularyOf } from './vocabulary.js'

// What reads questions is large, and most pages are left without one being asked: it comes with the first focus.

/** Reads what is typed against the names there are by now. */
export function askerOf(workspace: Workspace): (text: string) => Suggestion[] {
  const { catalog, words, status, zone, segments, studies, dashboards, destinations, firstDayOfWeek } = workspace
  const vocabulary = vocabularyOf(catalog, words, dayIn(status.now, zone), segments)
  return (text) => suggest(text, vocabulary, { studies, dashboards, destinations }, words, firstDayOfWeek)
}
