import type { Random } from '../../demo/random.js'

/** Names that every object answers to, and that nobody's data means by it. */
export const INHERITED = Object.getOwnPropertyNames(Object.prototype)

const deep = (n: number, open: string, close: string) => open.repeat(n) + close.repeat(n)
const parsed = (text: string): unknown => JSON.parse(text)

/** What somebody may put where something else is expected. */
const NASTY: readonly (() => unknown)[] = [
  () => null,
  () => '',
  () => 0,
  () => -1,
  () => 1e300,
  () => -1e300,
  () => 2 ** 53,
  () => 0.1,
  () => true,
  () => [],
  () => ({}),
  () => [[], [null]],
  () => ({ toString: 1 }),
  () => ({ length: 1e9 }),
  () => ({ then: 1 }),
  () => parsed('{"__proto__":{"x":1}}'),
  () => parsed(deep(3000, '[', ']')),
  () => 'x'.repeat(70_000),
  () => '\u0000',
  () => '\ud800',
  () => '＝1+1',
  () => '../../etc/passwd',
  () => "'; DROP TABLE events; --",
  () => '9999-12-31',
  () => '0001-01-01',
  () => '2026-02-31',
  () => '-000001-01-01',
  () => 'NaN',
  () => '%',
  () => '(a+)+$',
  () => 'Infinity',
]

/** Something else in the place of what was there. */
function nasty(random: Random): unknown {
  return random.chance(0.3) ? random.pick(INHERITED) : random.pick(NASTY)()
}

/** As JSON, as far as it can be written: what is nested too deep for that is sent as something else. */
export function written(value: unknown): string {
  try {
    return JSON.stringify(value) ?? ''
  } catch {
    return '['.repeat(5000)
  }
}

/** A copy of a value with one to three things in it changed. */
export function mutateValue(value: unknown, random: Random): unknown {
  let copy: unknown = structuredClone(value)
  const times = random.whole(1, 3)
  for (let i = 0; i < times; i++) copy = changeOne(copy, random)
  return copy
}

/** What is nested too deep to be copied stands there twice. */
function copyOf(value: unknown): unknown {
  try {
    return structuredClone(value)
  } catch {
    return value
  }
}

function changeOne(value: unknown, random: Random): unknown {
  if (typeof value !== 'object' || value === null || random.chance(0.08)) return nasty(random)
  if (Array.isArray(value)) {
    const list = value as unknown[]
    const at = random.whole(0, list.length)
    if (at === list.length) list.push(list.length > 0 && random.chance(0.5) ? copyOf(random.pick(list)) : nasty(random))
    else if (random.chance(0.15)) list.splice(at, 1)
    else if (random.chance(0.05) && written(list[at]).length < 500) return Array.from({ length: 2000 }, () => list[at])
    else list[at] = changeOne(list[at], random)
    return list
  }
  const entries = Object.entries(value as object)
  const at = random.whole(0, entries.length)
  if (at === entries.length)
    entries.push([random.chance(0.7) ? random.pick(INHERITED) : written(nasty(random)), nasty(random)])
  else if (random.chance(0.15)) entries.splice(at, 1)
  else if (random.chance(0.1)) entries[at] = [random.pick(INHERITED), entries[at][1]]
  else entries[at] = [entries[at][0], changeOne(entries[at][1], random)]
  return Object.fromEntries(entries)
}

/** Bytes with some of them changed, taken out, doubled or put in. */
export function mutateBytes(bytes: Buffer, random: Random): Buffer {
  let copy = Buffer.from(bytes)
  const times = random.whole(1, 8)
  for (let i = 0; i < times && copy.length > 0; i++) {
    const at = random.whole(0, copy.length - 1)
    switch (random.whole(0, 4)) {
      case 0:
        copy[at] = random.whole(0, 255)
        break
      case 1:
        copy = copy.subarray(0, at)
        break
      case 2:
        copy = Buffer.concat([copy.subarray(0, at), Buffer.from([random.whole(0, 255)]), copy.subarray(at)])
        break
      case 3:
        copy = Buffer.concat([copy.subarray(0, at), copy.subarray(at + random.whole(0, 39))])
        break
      case 4:
        copy = Buffer.concat([copy, copy.subarray(at, at + random.whole(1, 200))])
    }
  }
  return copy
}

export function mutateText(text: string, random: Random): string {
  if (random.chance(0.2)) return written(nasty(random)).slice(0, 4000)
  return mutateBytes(Buffer.from(text), random).toString('utf8')
}
