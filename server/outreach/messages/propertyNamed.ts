import type { Db } from '../../store/database.js'

/** The profile property that a text calls so: by its name, or by what it is called on pages. */
export function propertyNamed(db: Db, field: string): string {
  const rows = db
    .prepare<[], { name: string; display: string }>(
      `SELECT name, display FROM properties WHERE scope = 'person' ORDER BY name`,
    )
    .all()
  const said = plainOf(field)
  const found =
    rows.find(({ name }) => name === field) ??
    rows.find(({ name, display }) => plainOf(display) === said || plainOf(name) === said)
  return found?.name ?? field
}

/** `First name`, `first_name` and `first name` are the same. */
const plainOf = (text: string) =>
  text
    .trim()
    .toLowerCase()
    .replaceAll(/[_\s-]+/g, ' ')

/** Names of all profile properties. */
export function knownProperties(db: Db): ReadonlySet<string> {
  return new Set(
    db.prepare<[], string>(`SELECT name FROM properties WHERE scope = 'person' ORDER BY name`).pluck().all(),
  )
}
