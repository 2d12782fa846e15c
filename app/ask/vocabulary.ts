import { own } from '../../core/names.js'
import type { KnownEvent, KnownProperty, Vocabulary } from '../../core/ask/vocabulary.js'
import { propertyWords, type Words } from '../../core/words/words.js'
import type { Catalog } from '../../server/engine/catalog.js'

/** What a typed question can be about, from what the workspace knows. @param today its local day */
export function vocabularyOf(
  catalog: Catalog,
  words: Words,
  today: string,
  segments: readonly { id: string; name: string }[],
): Vocabulary {
  return {
    ...{ thisYear: words.thisYear, today },
    segments: segments.map(({ id, name }) => ({ id, words: name })),
    events: catalog.events.map(
      ({ name, description, synonyms, recent, passive, deprecated, combined, properties }): KnownEvent => ({
        ...{ name, description, synonyms, recent, combined, properties },
        words: own(words.labels?.events, name) ?? name,
        shy: deprecated || passive,
      }),
    ),
    properties: catalog.properties.map(
      ({ property, description, synonyms, kind, deprecated, samples }): KnownProperty => ({
        ...{ property, description, synonyms, kind, shy: deprecated, values: samples },
        words: propertyWords(property, words),
      }),
    ),
  }
}
