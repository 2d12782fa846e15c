import { usualCrosstab, type CrosstabQuestion } from '../../core/analyses/crosstab/question.js'
import type { AnalysisKind, Question } from '../../core/analyses/registry.js'
import { usualFunnel } from '../../core/analyses/funnel/question.js'
import { usualTrend, type TrendQuestion } from '../../core/analyses/trend/question.js'
import type { Catalog, EventEntry, PropertyEntry } from '../../server/engine/catalog.js'
import { goodBreakdown } from './breakdowns.js'
import { propertyWords, type Labels } from '../../core/words/words.js'

export interface Suggestion {
  label: string
  kind: 'Study' | 'Dashboard' | 'Question'
  question?: Question
  to?: string
}

/** What things are called otherwise than they arrive. */
function labelsOf({ events, properties }: Catalog): Labels {
  const named = properties.filter(({ label, property }) => label !== '' && property.of !== 'source')
  return {
    events: Object.fromEntries(events.map(({ name, label }) => [name, label])),
    properties: Object.fromEntries(named.map(({ name, label, property }) => [`${property.of} ${name}`, label])),
  }
}

/** The events an analyst would start from: live, counted as activity, the most frequent of the last 30 days first. */
export function commonEvents(catalog: Catalog): EventEntry[] {
  return catalog.events
    .filter((event) => !event.deprecated && !event.passive && event.events > 0)
    .sort((a, b) => b.recent - a.recent || b.events - a.events || (a.name < b.name ? -1 : 1))
}

/** A first study of a kind that already shows a result. */
export function startingQuestion(kind: AnalysisKind, catalog: Catalog): Question {
  const [first, ...others] = commonEvents(catalog)
  if (!first) return { trend: usualTrend, funnel: usualFunnel, crosstab: usualCrosstab }[kind]('…')
  if (kind === 'trend') return usualTrend(first.name)
  if (kind === 'crosstab') return startingCrosstab(first.name, catalog)
  // Steps from the wide to the narrow: the most frequent event, then rarer ones.
  const second = others.find((event) => event.recent < first.recent * 0.95) ?? others[0]
  const third = others.find((event) => second && event !== second && event.recent < second.recent * 0.95)
  const names = [first, second, third].flatMap((event) => (event ? [event.name] : []))
  return { ...usualFunnel(first.name), steps: names.map((name) => ({ event: { names: [name] } })) }
}

/** Rows and columns by the two profile properties that tell most; by source, where there are none. */
function startingCrosstab(event: string, catalog: Catalog): Question {
  const usual = usualCrosstab(event)
  const rows = goodBreakdown(catalog, usual)
  if (!rows) return usual
  const once: CrosstabQuestion = { ...usual, rows: [{ by: rows, keep: 10 }] }
  const column = goodBreakdown(catalog, once)
  return column ? { ...once, column: { by: column, keep: 10 } } : once
}

const words = (text: string) =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

/** Words of a question that name nothing. */
const FILLERS = new Set(
  'a an and are did do does each every for from get how in is many much of on over people since the they this to week weekly day daily month monthly hour hourly who'.split(
    ' ',
  ),
)

/** The part that forms of an English word share: riders, riding and ride are all `rid`. */
function stem(word: string): string {
  const short = word.replace(/(ers?|ings?|ed|es|s|e)$/, '')
  return short.length >= 3 ? short : word
}

/** How well a name and its meaning answer to what was typed: words that share a stem, the name counting double. */
function match(typed: readonly string[], name: string, meaning: string): number {
  const inName = new Set(words(name).map(stem))
  const inMeaning = new Set(words(meaning).map(stem))
  let score = 0
  for (const word of typed) {
    if (FILLERS.has(word)) continue
    const wanted = stem(word)
    const begins = (other: string) => other === wanted || (word.length >= 3 && other.startsWith(word))
    if ([...inName].some(begins)) score += 2
    else if ([...inMeaning].some(begins)) score += 1
  }
  return score
}

const EVERY = {
  hourly: 'hour',
  hour: 'hour',
  daily: 'day',
  day: 'day',
  weekly: 'week',
  week: 'week',
  monthly: 'month',
  month: 'month',
} as const

/**
 * What a typed question may mean: saved studies and dashboards by name, and new questions about the events it names,
 * with "by …" or "for each …" read as a breakdown and "each day" as the unit.
 */
export function suggest(
  text: string,
  catalog: Catalog,
  saved: { studies: { id: string; name: string }[]; dashboards: { id: string; name: string }[] },
): Suggestion[] {
  const typed = words(text)
  const labelled = { labels: labelsOf(catalog) }
  if (typed.length === 0) return []
  const found: Suggestion[] = []
  const named = (list: { id: string; name: string }[], kind: 'Study' | 'Dashboard', place: string) =>
    list
      .map((item) => ({ item, score: match(typed, item.name, '') }))
      .filter(({ score }) => score >= 2 * Math.max(1, typed.filter((word) => !FILLERS.has(word)).length))
      .sort((a, b) => b.score - a.score)
      .slice(0, 3)
      .forEach(({ item }) => found.push({ label: item.name, kind, to: `/${place}/${item.id}` }))
  named(saved.studies, 'Study', 'studies')
  named(saved.dashboards, 'Dashboard', 'dashboards')

  const [subject, each] = text.split(/\b(?:for each|by)\b/i)
  const property = each ? bestProperty(words(each), catalog.properties) : null
  const unit = words(text)
    .map((word) => EVERY[word as keyof typeof EVERY])
    .find(Boolean)
  const events = catalog.events
    .map((event) => ({ event, score: match(words(subject), `${event.name} ${event.label}`, event.description) }))
    .filter(({ event, score }) => score > 0 && event.events > 0)
    .sort(
      (a, b) =>
        b.score - a.score || Number(a.event.deprecated) - Number(b.event.deprecated) || b.event.recent - a.event.recent,
    )
    .slice(0, 3)
  for (const { event } of events) {
    const question: TrendQuestion = {
      ...usualTrend(event.name),
      ...(unit ? { every: unit } : {}),
      ...(unit === 'day'
        ? { range: { last: 30, unit: 'day' } }
        : unit === 'hour'
          ? { range: { last: 7, unit: 'day' } }
          : {}),
      ...(property ? { breakdowns: [{ by: property.property, keep: 10 }] } : {}),
    }
    const by = property ? `, for each ${propertyWords(property.property, labelled)}` : ''
    found.push({ label: `How many people did ${event.label} each ${question.every}${by}?`, kind: 'Question', question })
  }
  for (const { event } of events.slice(0, 2)) {
    const next = commonEvents(catalog).find((other) => other.name !== event.name && other.recent < event.recent)
    if (!next) continue
    const steps = [event, next].map(({ name }) => ({ event: { names: [name] } }))
    found.push({
      label: `How many people get from ${event.label} to ${next.label}?`,
      kind: 'Question',
      question: { ...usualFunnel(event.name), steps },
    })
  }
  return found.slice(0, 8)
}

function bestProperty(typed: readonly string[], properties: readonly PropertyEntry[]): PropertyEntry | null {
  const scored = properties
    .map((property) => ({ property, score: match(typed, property.name, property.description) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score || (a.property.property.of === 'person' ? -1 : 1))
  return scored[0]?.property ?? null
}
