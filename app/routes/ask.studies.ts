import { dowser } from '../door/dowser.server.js'

/** The saved studies with their questions, for segments made of their results. */
export function loader() {
  return dowser()
    .studies.list()
    .map(({ id, name, question }) => ({ id, name, question }))
}
