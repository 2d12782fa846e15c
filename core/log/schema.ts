import { own } from '../names.js'
import { NOTHING_MENDED, type InnerRecipe, type Mending } from '../made/definitions.js'
import { Dictionary } from './dictionary.js'

/** What is known of a property across all rows that carry it. */
export interface PropertyInfo {
  name: string
  dictionary: Dictionary
  /** the smallest and largest date-time seen, epoch ms; Infinity and -Infinity before the first */
  firstDate: number
  lastDate: number
}

/** A property that is worked out from others. Its dictionary fills as its columns are made. */
export interface MadeInfo extends PropertyInfo {
  of: 'event' | 'person'
  recipe: InnerRecipe
}

/** Names and their codes. Codes index `columns`, `profiles` and the lookup tables of a plan. */
export class LogSchema {
  readonly types: { name: string; passive: boolean }[] = []
  readonly properties: PropertyInfo[] = []
  readonly profile: PropertyInfo[] = []
  /** code 0 is no source */
  readonly sources = new Dictionary()
  /** by code; what was changed or taken back stays, without a name, for questions that began with it */
  readonly made: MadeInfo[] = []
  private mending: Mending = NOTHING_MENDED
  private madeCodes = new Map<string, number>()
  private readonly typeCodes = new Map<string, number>()
  private readonly propertyCodes = new Map<string, number>()
  private readonly profileCodes = new Map<string, number>()

  typeCode(name: string): number | undefined {
    return this.typeCodes.get(name)
  }

  /**
   * The codes of the event types that count under a name: its own, those merged into it, or those of a combined event.
   * An old name that was merged stands for what it was merged into. Undefined where nothing goes by that name.
   */
  typesNamed(name: string): number[] | undefined {
    const combined = this.mending.combined.find((event) => event.name === name)
    if (combined) return [...new Set(combined.events.flatMap((part) => this.typesNamed(part) ?? []))]
    const own = this.currentName(name)
    const olds = Object.keys(this.mending.mergedEvents).filter((old) => this.currentName(old) === own)
    const codes = [own, ...olds].flatMap((each) => this.typeCodes.get(each) ?? [])
    return codes.length > 0 ? codes : undefined
  }

  /** What an event's name counts as, after merging. */
  currentName(name: string): string {
    const { mergedEvents } = this.mending
    let at = name
    for (let hops = 0; hops < 50; hops++) {
      const into = own(mergedEvents, at)
      if (into === undefined) break
      at = into
    }
    return at
  }

  /** The code of a property that is made, by its name or that of one merged into it. */
  madeCode(of: 'event' | 'person', name: string): number | undefined {
    return this.madeCodes.get(`${of} ${name}`)
  }

  /** The names of all events there are to choose: of what arrived, and combined ones. */
  eventNames(): string[] {
    return [...this.types.map((type) => type.name), ...this.mending.combined.map((event) => event.name)]
  }

  /** Takes over what the workspace makes of its data. What did not change keeps its code, and so its columns. */
  mend(mending: Mending): void {
    const before = this.madeCodes
    this.mending = mending
    this.madeCodes = new Map()
    const put = (of: 'event' | 'person', name: string, recipe: InnerRecipe) => {
      const key = `${of} ${name}`
      const old = before.get(key)
      if (old !== undefined && JSON.stringify(this.made[old].recipe) === JSON.stringify(recipe)) {
        this.madeCodes.set(key, old)
        return
      }
      const info = { name, of, recipe, dictionary: new Dictionary(), firstDate: Infinity, lastDate: -Infinity }
      this.madeCodes.set(key, this.made.push(info) - 1)
    }
    const maps = new Map<string, Record<string, string>>()
    for (const { properties } of mending.combined)
      for (const { name, from } of properties) maps.set(name, { ...from, ...maps.get(name) })
    for (const [name, from] of maps) put('event', name, { kind: 'by event', from })
    for (const { of, into } of mending.mergedProperties) {
      const olds = mending.mergedProperties.filter((merged) => merged.of === of && merged.into === into)
      put(of, into, { kind: 'first of', names: [into, ...olds.map(({ from }) => from)] })
    }
    for (const { of, name, recipe } of mending.derived) put(of, name, recipe)
    for (const { of, from, into } of mending.mergedProperties)
      this.madeCodes.set(`${of} ${from}`, this.madeCodes.get(`${of} ${into}`)!)
  }

  addType(name: string, passive = false): number {
    const known = this.typeCodes.get(name)
    if (known !== undefined) {
      this.types[known].passive = passive
      return known
    }
    const code = this.types.push({ name, passive }) - 1
    this.typeCodes.set(name, code)
    return code
  }

  propertyCode(name: string): number | undefined {
    return this.propertyCodes.get(name)
  }

  addProperty(name: string): number {
    return add(name, this.properties, this.propertyCodes)
  }

  profileCode(name: string): number | undefined {
    return this.profileCodes.get(name)
  }

  addProfile(name: string): number {
    return add(name, this.profile, this.profileCodes)
  }
}

function add(name: string, list: PropertyInfo[], codes: Map<string, number>): number {
  const known = codes.get(name)
  if (known !== undefined) return known
  const code = list.push({ name, dictionary: new Dictionary(), firstDate: Infinity, lastDate: -Infinity }) - 1
  codes.set(name, code)
  return code
}
