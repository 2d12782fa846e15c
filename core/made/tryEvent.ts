import { arrange } from '../log/arrange.js'
import type { EventLog } from '../log/log.js'
import { Profiles } from '../log/profiles.js'
import { LogSchema, newMade } from '../log/schema.js'
import { Staging } from '../log/staging.js'
import type { Value } from '../log/values.js'
import type { PropertyRef } from '../questions/parts.js'
import { atOnce } from '../steps.js'
import { startOfDay, type Calendar } from '../time/range.js'
import { Temporal } from 'temporal-polyfill'
import type { Recipe } from './definitions.js'
import { compileRecipe } from './evaluate.js'

/** What an event that is made up carries; null = nothing of that property. */
export type TriedValues = readonly { property: PropertyRef; value: Value | null }[]

const TYPE = 'tried'

/**
 * Which row of a rule set catches an event that is made up, by the very tests that sort real events.
 * @param at   when it happens, epoch ms
 * @returns the row's index; the number of rows where only the fallback is left
 */
export function caughtBy(
  { rows }: Extract<Recipe, { kind: 'rules' }>,
  values: TriedValues,
  calendar: Calendar,
  at: number,
): number {
  const schema = new LogSchema()
  const dayStart = (day: string) => startOfDay(Temporal.PlainDate.from(day), calendar.zone)
  const staging = new Staging(schema, dayStart, 1)
  const profiles = new Profiles(schema, dayStart)
  const properties = new Map<string, Value>()
  let source = 0
  for (const { property, value } of values) {
    // What the rules read and the event does not carry is known all the same.
    if (property.of === 'event') schema.addProperty(property.name)
    if (property.of === 'person') schema.addProfile(property.name)
    if (value === null) continue
    if (property.of === 'source') source = schema.sources.code(String(value))
    else if (property.of === 'person') profiles.set(1, property.name, value)
    else properties.set(property.name, value)
  }
  staging.add({ arrival: 1, owner: 1, type: schema.addType(TYPE), time: at, source }, Object.fromEntries(properties))
  const pick = { rows: atOnce(staging.rows()), which: null, person: staging.owner.subarray(0, 1) }
  const log: EventLog = {
    ...arrange([pick], 2, schema.types.length, false),
    ...{ profiles: profiles.snapshot(2), made: [], madeProfiles: new Map(), then: [], hidden: null },
  }
  const numbered: Recipe = {
    kind: 'rules',
    rows: rows.map(({ where }, index) => ({ where, gives: { number: index } })),
    otherwise: { number: rows.length },
  }
  const compiled = compileRecipe(newMade('', 'event', numbered), { schema, calendar, now: at, faults: [] })
  return compiled.bind(log, 0)(0, 0, 1) as number
}
