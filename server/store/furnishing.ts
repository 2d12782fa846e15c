import type { AnnotationInput } from '../../core/analyses/trend/annotationSchema.js'
import type { Question } from '../../core/analyses/registry.js'
import type { Combined, Derived } from '../../core/made/definitions.js'
import { costsKey, type CostRow, type CostsBy } from '../../core/costs/costs.js'
import { own } from '../../core/names.js'
import type { PlanEvent } from '../../core/plan/plan.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import { costStore } from './costs.js'
import { annotationStore } from './annotations.js'
import { catalogStore, type Scope } from './catalog.js'
import { dashboardStore, type Place } from './dashboards.js'
import type { Db } from './database.js'
import { bumpDefinitions } from './definitions.js'
import { mendingStore } from './mending.js'
import { planStore } from './plan.js'
import { segmentStore, type SegmentInput } from './segments.js'
import { settingsStore, type WorkspaceSettings } from './settings.js'
import { destinationStore } from './destinations.js'
import { messageStore } from './messages.js'
import { syncStore } from './syncs.js'
import type { DestinationSetup } from '../../core/outreach/destination.js'
import type { Message } from '../../core/outreach/message.js'
import type { Sync } from '../../core/outreach/sync.js'
import { studyStore } from './studies.js'

/** What a workspace can be furnished with beside its events: what is said of them, and what is asked of them. */
export interface Furnishing {
  settings: Partial<WorkspaceSettings>
  events: Record<string, { description: string; passive?: boolean; synonyms?: string }>
  properties: Record<Scope, Record<string, string>>
  plan: PlanEvent[]
  combined: Combined[]
  derived: Derived[]
  annotations: Omit<AnnotationInput, 'study'>[]
  costs: { by: CostsBy; rows: CostRow[] }[]
  segments: (SegmentInput & { id: string; rule: RuleGroup })[]
  destinations: { id: string; name: string; setup: DestinationSetup }[]
  /** running from the first start on */
  kept: { id: string; definition: Sync }[]
  /** started at a time, and ended at one or still running; who came into them is read from their events */
  messages: { id: string; definition: Message; startedMs: number; endedMs: number | null }[]
  studies: { id: string; name: string; description: string; question: Question }[]
  dashboards: { id: string; name: string; description: string; cards: FurnishedCard[] }[]
}
export type FurnishedCard = Place & ({ study: string } | { note: unknown })

/** What furnishing changed, so that it can be undone: plain JSON. */
export interface Furnished {
  /** what it set, and how it was before */
  settings: { set: Partial<WorkspaceSettings>; before: Partial<WorkspaceSettings> }
  described: string[]
  describedProperties: Record<Scope, string[]>
  planned: string[]
  combined: string[]
  derived: { of: Scope; name: string }[]
  annotations: string[]
  /** left out by what was furnished before there were any */
  costs?: CostsBy[]
  segments: string[]
  /** left out by what was furnished before there were any */
  destinations?: string[]
  kept?: string[]
  messages?: string[]
  studies: string[]
  dashboards: string[]
}

/** Names, descriptions, studies and dashboards that come together, and can go together. */
export function furnishingStore(db: Db) {
  const settings = settingsStore(db)
  const catalog = catalogStore(db)
  const plan = planStore(db)
  const mending = mendingStore(db)
  const annotations = annotationStore(db)
  const costs = costStore(db)
  const segments = segmentStore(db)
  const studies = studyStore(db)
  const dashboards = dashboardStore(db)
  const makeType = db.prepare('INSERT INTO event_types (name) VALUES (?) ON CONFLICT DO NOTHING')
  const makeProperty = db.prepare('INSERT INTO properties (scope, name) VALUES (?, ?) ON CONFLICT DO NOTHING')
  const destinations = destinationStore(db)
  const syncs = syncStore(db)
  const messages = messageStore(db)
  const dropMessage = db.prepare('DELETE FROM messages WHERE id = ?')
  const dropSync = db.prepare('DELETE FROM syncs WHERE id = ?')
  const dropDestination = db.prepare('DELETE FROM destinations WHERE id = ?')
  const dropSegment = db.prepare('DELETE FROM segments WHERE id = ?')
  const has = (table: 'segments' | 'studies' | 'dashboards' | 'destinations' | 'syncs' | 'messages', id: string) =>
    db.prepare(`SELECT 1 FROM ${table} WHERE id = ?`).get(id) !== undefined

  function put(furnishing: Furnishing, nowMs: number): Furnished {
    const wanted = furnishing.settings
    const now = settings.get()
    const before = Object.fromEntries(
      Object.entries(now).filter(([key]) => Object.hasOwn(wanted, key)),
    ) as typeof wanted
    // Where something of the name is said already, that stays.
    const said = new Set(catalog.types().flatMap((row) => (row.description || row.planned ? [row.name] : [])))
    const saidOf = new Set(catalog.properties().flatMap((row) => (row.description ? [`${row.scope} ${row.name}`] : [])))
    const { combined, derived } = mending.get()
    const names = new Set(segments.list().map(({ name }) => name.toLowerCase()))
    const done: Furnished = {
      settings: { set: wanted, before },
      described: Object.keys(furnishing.events).filter((name) => !said.has(name)),
      describedProperties: {
        event: Object.keys(furnishing.properties.event).filter((name) => !saidOf.has(`event ${name}`)),
        person: Object.keys(furnishing.properties.person).filter((name) => !saidOf.has(`person ${name}`)),
      },
      planned: furnishing.plan.map(({ name }) => name).filter((name) => !said.has(name)),
      combined: furnishing.combined.map(({ name }) => name).filter((name) => !combined.some((c) => c.name === name)),
      derived: furnishing.derived
        .map(({ of, name }) => ({ of, name }))
        .filter(({ of, name }) => !derived.some((d) => d.of === of && d.name === name)),
      annotations: [],
      costs: furnishing.costs.map(({ by }) => by).filter((by) => costs.rows(by).length === 0),
      segments: furnishing.segments.map(({ id }) => id).filter((id) => !has('segments', id)),
      destinations: furnishing.destinations.map(({ id }) => id).filter((id) => !has('destinations', id)),
      kept: furnishing.kept.map(({ id }) => id).filter((id) => !has('syncs', id)),
      messages: furnishing.messages.map(({ id }) => id).filter((id) => !has('messages', id)),
      studies: furnishing.studies.map(({ id }) => id).filter((id) => !has('studies', id)),
      dashboards: furnishing.dashboards.map(({ id }) => id).filter((id) => !has('dashboards', id)),
    }
    settings.set(wanted)
    for (const name of done.described) {
      makeType.run(name)
      catalog.describeEvents([name], own(furnishing.events, name)!)
    }
    for (const scope of ['event', 'person'] as const)
      for (const name of done.describedProperties[scope]) {
        makeProperty.run(scope, name)
        catalog.describeProperties(scope, [name], { description: own(furnishing.properties[scope], name)! })
      }
    plan.save(furnishing.plan.filter(({ name }) => done.planned.includes(name)))
    for (const each of furnishing.combined) if (done.combined.includes(each.name)) mending.saveCombined(each, nowMs)
    for (const each of furnishing.derived)
      if (done.derived.some(({ of, name }) => of === each.of && name === each.name)) mending.saveDerived(each, nowMs)
    done.annotations = furnishing.annotations.map((each) => annotations.save({ ...each, study: null }, nowMs))
    const fresh = new Set(done.costs?.map(costsKey))
    for (const { by, rows } of furnishing.costs) if (fresh.has(costsKey(by))) costs.set(by, rows)
    for (const { name, ...rest } of furnishing.segments)
      if (done.segments.includes(rest.id))
        segments.create({ ...rest, name: names.has(name.toLowerCase()) ? `${name} (demo)` : name }, nowMs)
    const places = new Set(destinations.list().map(({ name }) => name.toLowerCase()))
    for (const { id, name, setup } of furnishing.destinations)
      if (done.destinations?.includes(id))
        destinations.create(places.has(name.toLowerCase()) ? `${name} (demo)` : name, setup, null, nowMs, id)
    furnishing.kept.forEach(({ id, definition }, index) => {
      if (!done.kept?.includes(id)) return
      syncs.create(definition, nowMs - index * 1000, id)
      // At the first tick, wherever the workspace's clock stands.
      syncs.begin(id, nowMs, 0)
    })
    for (const { id, definition, startedMs, endedMs } of furnishing.messages) {
      if (!done.messages?.includes(id)) continue
      messages.create(definition, startedMs, id)
      messages.begin(id, startedMs, 0)
      messages.readEntries(id, nowMs)
      if (endedMs !== null) messages.end(id, endedMs)
    }
    // The first of them stands first: lists begin with what was saved last.
    furnishing.studies.forEach((study, index) => {
      if (done.studies.includes(study.id)) studies.create(study, nowMs - index * 1000)
    })
    for (const { cards, ...dashboard } of furnishing.dashboards) {
      if (!done.dashboards.includes(dashboard.id)) continue
      dashboards.create(dashboard, nowMs)
      for (const { x, y, w, h, ...shown } of cards) dashboards.addCard(dashboard.id, shown, nowMs, { x, y, w, h })
    }
    return done
  }

  function remove(done: Furnished): void {
    const now = settings.get()
    const { set, before } = done.settings
    // A setting that was changed since is somebody's own.
    const own = Object.entries(before).filter(([key]) => keyed(now, key) === keyed(set, key))
    settings.set(Object.fromEntries(own) as Partial<WorkspaceSettings>)
    done.dashboards.forEach((id) => dashboards.remove(id))
    done.studies.forEach((id) => studies.remove(id))
    done.messages?.forEach((id) => dropMessage.run(id))
    done.kept?.forEach((id) => dropSync.run(id))
    done.destinations?.forEach((id) => dropDestination.run(id))
    done.segments.forEach((id) => dropSegment.run(id))
    done.annotations.forEach((id) => annotations.remove(id))
    done.costs?.forEach((by) => costs.set(by, []))
    done.derived.forEach(({ of, name }) => mending.removeDerived(of, name))
    done.combined.forEach((name) => mending.removeCombined(name))
    const unsaid = { description: '', display: '', synonyms: '', owner: '', state: 'live', passive: false } as const
    const types = new Set(catalog.types().map(({ name }) => name))
    const there = done.described.filter((name) => types.has(name))
    catalog.describeEvents(there, unsaid)
    for (const name of done.planned) if (types.has(name)) plan.remove(name)
    const { passive: _passive, ...unsaidOf } = unsaid
    for (const scope of ['event', 'person'] as const)
      catalog.describeProperties(scope, done.describedProperties[scope], unsaidOf)
    bumpDefinitions(db)
  }

  return {
    put: (furnishing: Furnishing, nowMs: number): Furnished => db.transaction(() => put(furnishing, nowMs)).immediate(),
    remove: (done: Furnished): void => db.transaction(() => remove(done)).immediate(),
  }
}

const keyed = (settings: Partial<WorkspaceSettings>, key: string) => own(settings as Record<string, unknown>, key)
