import type { Plan, PlanEvent, PlanKind, Policy } from '../../core/plan/plan.js'
import type { Db } from './database.js'
import { bumpDefinitions } from './definitions.js'
import { NotFoundError } from './errors.js'

interface TypeRow {
  id: number
  name: string
  description: string
  owner: string
  planned: number
  policy: Policy | null
}

interface PropertyRow {
  type: number
  name: string
  kind: PlanKind
  required: number
  allowed: string | null
  pattern: string | null
  description: string
}

/** The tracking plan. What is said of an event, its description and owner, stands in the catalog and is shared with it. */
export function planStore(db: Db) {
  const types = db.prepare<[], TypeRow>(
    `SELECT id, name, description, owner, planned, policy FROM event_types
     WHERE planned = 1 OR policy IS NOT NULL ORDER BY name`,
  )
  const properties = db.prepare<[], PropertyRow>('SELECT * FROM plan_properties ORDER BY type, position')
  const policy = db.prepare<[], { value: string }>(`SELECT value FROM settings WHERE key = 'policy'`)
  const setPolicy = db.prepare(
    `INSERT INTO settings (key, value) VALUES ('policy', ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`,
  )
  const putType = db.prepare(
    `INSERT INTO event_types (name, description, owner, planned, policy) VALUES (@name, @description, @owner, 1, @policy)
     ON CONFLICT (name) DO UPDATE SET planned = 1, policy = excluded.policy,
       description = CASE excluded.description WHEN '' THEN description ELSE excluded.description END,
       owner = CASE excluded.owner WHEN '' THEN owner ELSE excluded.owner END`,
  )
  const typeId = db.prepare<[string], { id: number }>('SELECT id FROM event_types WHERE name = ?')
  const unplan = db.prepare('UPDATE event_types SET planned = 0 WHERE name = ?')
  const setTypePolicy = db.prepare('UPDATE event_types SET policy = ? WHERE name = ?')
  const dropUnseen = db.prepare(
    `DELETE FROM event_types WHERE name = ? AND events = 0 AND planned = 0
       AND NOT EXISTS (SELECT 1 FROM plan_properties WHERE type = event_types.id)
       AND NOT EXISTS (SELECT 1 FROM event_type_properties WHERE type = event_types.id)`,
  )
  const clearProperties = db.prepare('DELETE FROM plan_properties WHERE type = ?')
  const putProperty = db.prepare(
    `INSERT INTO plan_properties (type, name, kind, required, allowed, pattern, description, position)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
  )
  const describeProperty = db.prepare(
    `INSERT INTO properties (scope, name, description) VALUES ('event', ?, ?)
     ON CONFLICT (scope, name) DO UPDATE SET description = excluded.description WHERE properties.description = ''`,
  )

  function changing<A extends unknown[]>(change: (...args: A) => void): (...args: A) => void {
    return (...args) =>
      db
        .transaction(() => {
          change(...args)
          bumpDefinitions(db)
        })
        .immediate()
  }

  function write(event: PlanEvent): void {
    putType.run({ name: event.name, description: event.description, owner: event.owner, policy: event.policy ?? null })
    const { id } = typeId.get(event.name)!
    clearProperties.run(id)
    event.properties.forEach(({ name, kind, required, allowed, pattern, description }, position) => {
      const values = allowed ? JSON.stringify(allowed) : null
      putProperty.run(id, name, kind, required ? 1 : 0, values, pattern ?? null, description, position)
      if (description) describeProperty.run(name, description)
    })
  }

  return {
    get(): Plan {
      const rows = types.all()
      const ofType = new Map<number, PlanEvent['properties']>()
      for (const row of properties.all()) {
        const { name, kind, description } = row
        const list = ofType.get(row.type) ?? []
        list.push({
          ...{ name, kind, description, required: row.required === 1 },
          ...(row.allowed ? { allowed: JSON.parse(row.allowed) as string[] } : {}),
          ...(row.pattern ? { pattern: row.pattern } : {}),
        })
        ofType.set(row.type, list)
      }
      return {
        policy: policy.get() ? (JSON.parse(policy.get()!.value) as Policy) : 'flag',
        events: rows
          .filter((row) => row.planned === 1)
          .map(({ id, name, description, owner, policy: own }) => ({
            ...{ name, description, owner, properties: ofType.get(id) ?? [] },
            ...(own ? { policy: own } : {}),
          })),
        others: Object.fromEntries(
          rows.filter((row) => row.planned === 0 && row.policy).map((row) => [row.name, row.policy!]),
        ),
      }
    },
    /** Writes events of the plan whole; those not named stay. */
    save: changing((events: readonly PlanEvent[]) => {
      for (const event of events) write(event)
    }),
    /** Takes an event out of the plan; one that never arrived is forgotten. */
    remove: changing((name: string) => {
      const found = typeId.get(name)
      if (!found) throw new NotFoundError('event', name)
      clearProperties.run(found.id)
      unplan.run(name)
      setTypePolicy.run(null, name)
      dropUnseen.run(name)
    }),
    setPolicy: changing((next: Policy) => setPolicy.run(JSON.stringify(next))),
    /** null = the workspace's policy */
    setEventPolicy: changing((name: string, next: Policy | null) => setTypePolicy.run(next, name)),
  }
}
