import { readFileSync } from 'node:fs'
import type { ValueKind } from '../../core/log/values.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { propertyWords } from '../../core/words/words.js'
import type { Vocabulary } from '../../core/ask/vocabulary.js'

interface CatalogFile {
  today: string
  segments: string[]
  notes?: { day: string; text: string }[]
  events: {
    name: string
    description?: string
    synonyms?: string[]
    recent: number
    shy?: boolean
    combined?: boolean
    properties: string[]
  }[]
  properties: {
    of: 'event' | 'person' | 'source'
    name?: string
    kind: ValueKind
    description?: string
    synonyms?: string[]
    values?: string[]
  }[]
}

/** A small catalog of names that questions are asked over. */
export function catalogOf(name: 'bikes' | 'shop' | 'teams'): Vocabulary {
  const file = JSON.parse(readFileSync(new URL(`catalogs/${name}.json`, import.meta.url), 'utf8')) as CatalogFile
  return {
    today: file.today,
    thisYear: Number(file.today.slice(0, 4)),
    segments: file.segments.map((words) => ({ id: words, words })),
    events: file.events.map((each) => ({
      ...{ description: '', synonyms: [], shy: false, words: each.name },
      ...each,
    })),
    properties: file.properties.map(({ of, name: own, ...each }) => {
      const property: PropertyRef = of === 'source' ? { of } : { of, name: own! }
      const words = propertyWords(property, { labels: { events: {}, properties: {} } })
      return { ...{ description: '', synonyms: [], shy: false, values: [], property, words }, ...each }
    }),
  }
}
