import type { Schema } from '../log/schema.js'
import { nearest, type Fault } from '../questions/faults.js'
import type { EventChoice } from '../questions/parts.js'

/** The codes of the chosen event types; an unknown one is a fault. Any activity = every type that is not passive. */
export function planTypes(
  choice: EventChoice,
  schema: Schema,
  faults: Fault[],
  path: (string | number)[],
): Uint16Array {
  if ('activity' in choice) return Uint16Array.from(schema.types.flatMap((type, code) => (type.passive ? [] : [code])))
  const codes = new Set<number>()
  for (const name of choice.names) {
    const found = schema.typesNamed(name)
    if (found === undefined) {
      const want = nearest(name, schema.eventNames())
      faults.push({ path, code: 'unknown_event', got: name, ...(want ? { want } : {}) })
    } else for (const code of found) codes.add(code)
  }
  return Uint16Array.from(codes)
}
