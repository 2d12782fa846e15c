import { FILLERS, tokensOf } from './tokens.js'
import type { Vocabulary } from './vocabulary.js'

/** What questions often go on with, whatever the workspace. */
const PHRASES = [
  ...[
    'last month',
    'last week',
    'last 7 days',
    'last 30 days',
    'last 12 weeks',
    'this month',
    'this week',
    'yesterday',
  ],
  ...['each day', 'each week', 'each month', 'day of week', 'hour of day', 'within 7 days', 'median', 'average'],
  ...['share of active people', 'compared with the time just before', 'compared with a year earlier', 'running total'],
]

/**
 * How the text may go on: the names and phrases that the word being typed begins, or that begin with the two last words;
 * the commonest events first.
 * @returns whole texts, at most `most`
 */
export function complete(text: string, { events, properties }: Vocabulary, most = 4): string[] {
  const tokens = tokensOf(text)
  const last = tokens.at(-1)
  if (!last || last.quoted || last.to < text.length) return []
  const before = tokens.at(-2)
  const starts = [...(before && !before.quoted ? [before.from] : []), last.from]
  const names = [
    ...events
      .filter(({ shy }) => !shy)
      .sort((a, b) => b.recent - a.recent)
      .map(({ words }) => words),
    ...properties.filter(({ shy }) => !shy).map(({ words }) => words),
    ...PHRASES,
    ...properties.flatMap(({ values, kind }) => (kind === 'text' ? values : [])),
  ]
  const found = new Set<string>()
  for (const from of starts) {
    const typed = text.slice(from).toLowerCase()
    if (typed.length < 2 || FILLERS.has(typed)) continue
    for (const name of names) {
      const lower = name.toLowerCase()
      if (lower.startsWith(typed) && lower !== typed) found.add(text.slice(0, from) + name)
    }
  }
  return [...found].slice(0, most)
}
