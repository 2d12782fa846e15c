import { own } from '../names.js'
import { NOTHING_MENDED, type InnerRecipe, type Mending, type RuleRow } from '../made/definitions.js'
import { sessionProperties } from '../sessions/properties.js'
import { Dictionary, type Values } from './dictionary.js'

/** What is known of a property across all rows that carry it. */
export interface PropertyInfo {
  name: string
  dictionary: Values
  /** whether any of them was a date */
  dated: boolean
  /** of people: whether what somebody had has changed in the course of time */
  changing: boolean
}

/** A property whose values still come in. */
export interface GrowingInfo extends PropertyInfo {
  dictionary: Dictionary
}

/** A property that is worked out from others. */
export interface MadeInfo extends PropertyInfo {
  of: 'event' | 'person'
  recipe: InnerRecipe
  /** fills as its columns are made, whoever asks for them */
  growing: GrowingInfo
}

/** Names and their codes. Codes index `columns`, `profiles` and the lookup tables of a plan. */
export interface Schema {
  readonly types: readonly EventTypeInfo[]
  readonly properties: readonly PropertyInfo[]
  readonly profile: readonly PropertyInfo[]
  /** code 0 is no source */
  readonly sources: Values
  /** by code; what was changed or taken back stays, without a name, for questions that began with it */
  readonly made: readonly MadeInfo[]
  typeCode(name: string): number | undefined
  propertyCode(name: string): number | undefined
  profileCode(name: string): number | undefined
  /** The code of a property that is made, by its name or that of one merged into it. */
  madeCode(of: 'event' | 'person', name: string): number | undefined
  /**
   * The codes of the event types that count under a name: its own, those merged into it, or those of a combined event.
   * An old name that was merged stands for what it was merged into. Undefined where nothing goes by that name.
   */
  typesNamed(name: string): number[] | undefined
  /** What an event's name counts as, after merging. */
  currentName(name: string): string
  /** The rows of channel rules, beside their fallback; null where the property is made in another way. */
  channelRows(of: 'event' | 'person', name: string): readonly RuleRow[] | null
  /** The names of all events there are to choose: of what arrived, and combined ones. */
  eventNames(): string[]
  /** The same with the values that made properties have by now: those of columns that were made for a question. */
  asMade(): Schema
}

export interface EventTypeInfo {
  readonly name: string
  readonly passive: boolean
  /** shown in no list of what there is */
  readonly hidden: boolean
}

/** What names mean: reading is the same whether more may come in or not. */
abstract class Naming {
  abstract readonly types: readonly EventTypeInfo[]
  protected abstract readonly mending: Mending
  protected abstract readonly madeCodes: ReadonlyMap<string, number>
  abstract typeCode(name: string): number | undefined

  typesNamed(name: string): number[] | undefined {
    const combined = this.mending.combined.find((event) => event.name === name)
    if (combined) return [...new Set(combined.events.flatMap((part) => this.typesNamed(part) ?? []))]
    const own = this.currentName(name)
    const olds = Object.keys(this.mending.mergedEvents).filter((old) => this.currentName(old) === own)
    const codes = [own, ...olds].flatMap((each) => this.typeCode(each) ?? [])
    return codes.length > 0 ? codes : undefined
  }

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

  madeCode(of: 'event' | 'person', name: string): number | undefined {
    return this.madeCodes.get(`${of} ${name}`)
  }

  channelRows(of: 'event' | 'person', name: string): readonly RuleRow[] | null {
    const found = this.mending.derived.find((each) => each.of === of && each.name === name && each.channels)
    return found?.recipe.kind === 'rules' ? found.recipe.rows : null
  }

  eventNames(): string[] {
    return [...this.types.map((type) => type.name), ...this.mending.combined.map((event) => event.name)]
  }
}

/** Names and their codes as they come in. */
export class LogSchema extends Naming implements Schema {
  readonly types: EventTypeInfo[] = []
  readonly properties: GrowingInfo[] = []
  readonly profile: GrowingInfo[] = []
  readonly sources = new Dictionary()
  readonly made: MadeInfo[] = []
  protected mending: Mending = NOTHING_MENDED
  protected madeCodes = new Map<string, number>()
  private readonly typeCodes = new Map<string, number>()
  private readonly propertyCodes = new Map<string, number>()
  private readonly profileCodes = new Map<string, number>()

  constructor() {
    super()
    this.mend(NOTHING_MENDED)
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
      this.madeCodes.set(key, this.made.push(newMade(name, of, recipe)) - 1)
    }
    // First of all: whatever the workspace makes itself may go by the same name.
    for (const { name, part } of sessionProperties) put('event', name, { kind: 'session', part })
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

  addType(name: string, passive = false, hidden = false): number {
    const known = this.typeCodes.get(name)
    if (known !== undefined) {
      const before = this.types[known]
      if (before.passive !== passive || before.hidden !== hidden) this.types[known] = { name, passive, hidden }
      return known
    }
    const code = this.types.push({ name, passive, hidden }) - 1
    this.typeCodes.set(name, code)
    return code
  }

  typeCode(name: string): number | undefined {
    return this.typeCodes.get(name)
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

  /** What names and values mean now; nothing of it changes any more. */
  state(): Schema {
    return new SchemaState({
      types: [...this.types],
      properties: this.properties.map(stateOf),
      profile: this.profile.map(stateOf),
      sources: this.sources.state(),
      made: [...this.made],
      ...{ mending: this.mending, madeCodes: this.madeCodes, typeCodes: this.typeCodes },
      ...{ propertyCodes: this.propertyCodes, profileCodes: this.profileCodes },
    })
  }

  asMade(): Schema {
    return this
  }
}

interface State {
  types: readonly EventTypeInfo[]
  properties: readonly PropertyInfo[]
  profile: readonly PropertyInfo[]
  sources: Values
  made: readonly MadeInfo[]
  mending: Mending
  madeCodes: ReadonlyMap<string, number>
  /** these may know names that came later: their codes are not in the lists */
  typeCodes: ReadonlyMap<string, number>
  propertyCodes: ReadonlyMap<string, number>
  profileCodes: ReadonlyMap<string, number>
}

/** What names and values meant in one state of the store. */
class SchemaState extends Naming implements Schema {
  readonly types: readonly EventTypeInfo[]
  readonly properties: readonly PropertyInfo[]
  readonly profile: readonly PropertyInfo[]
  readonly sources: Values
  readonly made: readonly MadeInfo[]
  protected readonly mending: Mending
  protected readonly madeCodes: ReadonlyMap<string, number>

  constructor(private readonly state: State) {
    super()
    this.types = state.types
    this.properties = state.properties
    this.profile = state.profile
    this.sources = state.sources
    this.made = state.made
    this.mending = state.mending
    this.madeCodes = state.madeCodes
  }

  typeCode(name: string): number | undefined {
    return within(this.types, this.state.typeCodes.get(name))
  }

  propertyCode(name: string): number | undefined {
    return within(this.properties, this.state.propertyCodes.get(name))
  }

  profileCode(name: string): number | undefined {
    return within(this.profile, this.state.profileCodes.get(name))
  }

  asMade(): Schema {
    if (this.made.length === 0) return this
    return new SchemaState({ ...this.state, made: this.made.map((info) => ({ ...info, ...stateOf(info.growing) })) })
  }
}

function within(list: readonly unknown[], code: number | undefined): number | undefined {
  return code !== undefined && code < list.length ? code : undefined
}

function stateOf({ name, dictionary, dated, changing }: GrowingInfo): PropertyInfo {
  return { name, dictionary: dictionary.state(), dated, changing }
}

function newInfo(name: string): GrowingInfo {
  return { name, dictionary: new Dictionary(), dated: false, changing: false }
}

/** A made property that nothing has been made of yet. */
export function newMade(name: string, of: MadeInfo['of'], recipe: InnerRecipe): MadeInfo {
  const growing = newInfo(name)
  return { ...growing, of, recipe, growing }
}

function add(name: string, list: GrowingInfo[], codes: Map<string, number>): number {
  const known = codes.get(name)
  if (known !== undefined) return known
  const code = list.push(newInfo(name)) - 1
  codes.set(name, code)
  return code
}
