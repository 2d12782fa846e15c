import { Dictionary } from './dictionary.js'

/** What is known of a property across all rows that carry it. */
export interface PropertyInfo {
  name: string
  dictionary: Dictionary
  /** the smallest and largest date-time seen, epoch ms; Infinity and -Infinity before the first */
  firstDate: number
  lastDate: number
}

/** Names and their codes. Codes index `columns`, `profiles` and the lookup tables of a plan. */
export class LogSchema {
  readonly types: { name: string; passive: boolean }[] = []
  readonly properties: PropertyInfo[] = []
  readonly profile: PropertyInfo[] = []
  /** code 0 is no source */
  readonly sources = new Dictionary()
  private readonly typeCodes = new Map<string, number>()
  private readonly propertyCodes = new Map<string, number>()
  private readonly profileCodes = new Map<string, number>()

  typeCode(name: string): number | undefined {
    return this.typeCodes.get(name)
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
