import type { PersonRow } from '../../server/index.js'

/** Where a person's page stands. */
export function personAddress({ id, anonymous }: Pick<PersonRow, 'id' | 'anonymous'>): string {
  return `/people/${anonymous ? 'anonymous' : 'known'}/${encodeURIComponent(id)}`
}
