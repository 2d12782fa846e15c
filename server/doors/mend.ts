import type { z } from 'zod'
import { parseQuestion } from '../../core/analyses/registry.js'
import { parseFormula, type FormulaFault } from '../../core/formula/formula.js'
import { combinedSchema, derivedSchema, type Combined, type Derived } from '../../core/made/definitions.js'
import type { MadePreview } from '../../core/made/preview.js'
import { findCircle } from '../../core/made/refs.js'
import { faultWords, nearest } from '../../core/questions/faults.js'
import type { catalogStore, Scope } from '../store/catalog.js'
import type { MendingStore } from '../store/mending.js'

/** Why a definition was not taken: what is wrong, and where in it. */
export interface Problem {
  message: string
  path: (string | number)[]
  /** where in a formula's text */
  at?: FormulaFault
}
export type Saved = { problems: [] } | { problems: Problem[] }

const GOOD: Saved = { problems: [] }
const bad = (message: string, path: (string | number)[] = []): Saved => ({ problems: [{ message, path }] })

/** Checks definitions made by hand before they are kept. */
export function mender(
  store: MendingStore,
  catalog: ReturnType<typeof catalogStore>,
  preview: (definition: Derived) => Promise<MadePreview>,
) {
  const arrived = (of: Scope, name: string) =>
    catalog
      .properties()
      .some(
        (row) =>
          row.scope === of && row.name === name && row.texts + row.numbers + row.booleans + row.dates + row.lists > 0,
      )

  return {
    /** Reads a derived property and finds what is wrong with it before it is worked out. */
    readDerived(input: unknown): { definition: Derived } | { problems: Problem[] } {
      const parsed = derivedSchema.safeParse(input)
      if (!parsed.success) return { problems: problemsOf(parsed.error) }
      const { recipe } = parsed.data
      if (recipe.kind === 'arithmetic') {
        const formula = parseFormula(recipe.formula)
        if ('fault' in formula)
          return { problems: [{ message: formula.fault.message, path: ['recipe', 'formula'], at: formula.fault }] }
      }
      if (recipe.kind === 'link part' && recipe.part === 'query value' && !recipe.key)
        return {
          problems: [{ message: 'Say which value of the query is meant, e.g. utm_source.', path: ['recipe', 'key'] }],
        }
      if (recipe.kind === 'chance') {
        const { faults } = parseQuestion(recipe.study)
        if (faults.length > 0)
          return {
            problems: faults.map((fault) => ({ message: faultWords(fault), path: ['recipe', 'study', ...fault.path] })),
          }
      }
      return { definition: parsed.data }
    },

    /** @param before what it was called, where it is changed */
    async saveDerived(input: unknown, nowMs: number, before?: { of: Scope; name: string }): Promise<Saved> {
      const read = this.readDerived(input)
      if ('problems' in read) return read
      const { definition } = read
      const { of, name } = definition
      const { derived, combined } = store.get()
      const others = derived.filter((each) => !before || each.of !== before.of || each.name !== before.name)
      if (others.some((each) => each.of === of && each.name === name))
        return bad(`There is a derived property “${name}” already. Choose another name.`, ['name'])
      if (arrived(of, name)) return bad(`A property “${name}” arrives with events. Choose another name.`, ['name'])
      if (of === 'event' && combined.some(({ properties }) => properties.some((each) => each.name === name)))
        return bad(`A combined event has a property “${name}” already. Choose another name.`, ['name'])
      const circle = findCircle([...others, definition])
      if (circle)
        return bad(`This goes in a circle: ${circle.join(' → ')}. One of them must not use the next.`, ['recipe'])
      const { faults } = await preview(definition)
      // A property that has not arrived yet may be on its way; anything else is a mistake.
      const grave = faults.filter(({ code }) => code !== 'unknown_property' || definition.recipe.kind === 'arithmetic')
      if (grave.length > 0)
        return { problems: grave.map((fault) => ({ message: faultWords(fault), path: ['recipe', ...fault.path] })) }
      store.saveDerived(definition, nowMs, before)
      return GOOD
    },

    saveCombined(input: unknown, nowMs: number, before?: string): Saved {
      const parsed = combinedSchema.safeParse(input)
      if (!parsed.success) return { problems: problemsOf(parsed.error) }
      const definition: Combined = parsed.data
      const types = catalog.types().map((type) => type.name)
      if (types.includes(definition.name))
        return bad(`An event “${definition.name}” arrives already. Choose another name.`, ['name'])
      const { combined, derived } = store.get()
      if (definition.name !== before && combined.some(({ name }) => name === definition.name))
        return bad(`There is a combined event “${definition.name}” already.`, ['name'])
      const unknown = definition.events.find((event) => !types.includes(event))
      if (unknown !== undefined) return bad(`No event “${unknown}” is known.${meant(unknown, types)}`, ['events'])
      const clash = definition.properties.find((property) =>
        derived.some((each) => each.of === 'event' && each.name === property.name),
      )
      if (clash) return bad(`There is a derived property “${clash.name}” already. Choose another name.`, ['properties'])
      store.saveCombined(definition, nowMs, before)
      return GOOD
    },

    /** null takes the merging back. */
    mergeEvent(from: string, into: string | null): Saved {
      const types = catalog.types()
      if (into === null) {
        store.mergeEvent(from, null)
        return GOOD
      }
      const target = types.find((type) => type.name === into)
      if (!target) {
        const want = meant(
          into,
          types.map((type) => type.name),
        )
        return bad(`No event “${into}” is known.${want}`, ['into'])
      }
      if (from === into) return bad('An event cannot be merged into itself.', ['into'])
      if (target.merged_into !== null)
        return bad(`“${into}” is itself counted as “${target.merged_into}”. Merge into that one.`, ['into'])
      const onto = types.find((type) => type.merged_into === from)
      if (onto) return bad(`“${onto.name}” is merged into “${from}”: merge it elsewhere first.`, ['from'])
      store.mergeEvent(from, into)
      return GOOD
    },

    mergeProperty(of: Scope, from: string, into: string | null): Saved {
      const rows = catalog.properties().filter((row) => row.scope === of)
      if (into === null) {
        store.mergeProperty(of, from, null)
        return GOOD
      }
      const target = rows.find((row) => row.name === into)
      if (!target) {
        const want = meant(
          into,
          rows.map((row) => row.name),
        )
        return bad(`No property “${into}” is known.${want}`, ['into'])
      }
      if (from === into) return bad('A property cannot be merged into itself.', ['into'])
      if (target.merged_into !== null)
        return bad(`“${into}” is itself read as “${target.merged_into}”. Merge into that one.`, ['into'])
      const onto = rows.find((row) => row.merged_into === from)
      if (onto) return bad(`“${onto.name}” is merged into “${from}”: merge it elsewhere first.`, ['from'])
      store.mergeProperty(of, from, into)
      return GOOD
    },
  }
}

function meant(name: string, known: readonly string[]): string {
  const want = nearest(name, known)
  return want ? ` Did you mean “${want}”?` : ''
}

export function problemsOf(error: z.ZodError): Problem[] {
  return error.issues.map((issue) => ({
    message: capital(issue.message),
    path: issue.path.map((key) => (typeof key === 'symbol' ? String(key) : key)),
  }))
}

function capital(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.?!]$/.test(text) ? '' : '.'}`
}
