import type { Question } from '../analyses/registry.js'
import { ask } from './ask.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

/** A question that can be typed here, and what it asks for. */
export interface AskExample {
  /** what is asked for, in words */
  asks: string
  text: string
}

type Kind = Question['kind'] | 'people'

/** The events and properties that examples are made of: those that are most, and carry most. */
interface Parts {
  /** what is done most */
  act: string
  /** what mostly comes before it */
  before: string | null
  /** what the act is told apart by, and how much it is */
  by: string | null
  number: string | null
  /** what may have brought people */
  source: string | null
  /** what people are told apart by */
  of: string | null
  value: string | null
}

/**
 * Questions over the names of a workspace, a few for everything that can be asked for. Each is read back: only what is
 * wholly understood, as what it is meant for, is told.
 */
export function askExamples(vocabulary: Vocabulary, firstDayOfWeek: number): AskExample[] {
  const parts = partsOf(vocabulary)
  if (!parts) return []
  const { act, before, by, number, source, of, value } = parts
  const all: [asks: string, kind: Kind, text: string | null][] = [
    ['how many', 'trend', `how many people did ${act} each week`],
    ['how many', 'trend', before && `${before} by month this year`],
    ['how much', 'trend', number && `average ${number} per ${act} each week`],
    ['a figure', 'trend', 'how many active users did we have yesterday'],
    ['which, ranked', 'trend', by && `top 5 ${by} by ${act} last month`],
    ['beside each other', 'trend', before && `compare ${act} and ${before} each week`],
    ['a share', 'trend', by && `${act} by ${by} as a share`],
    ['getting through', 'funnel', before && `what percentage of people do ${act} within 7 days of ${before}`],
    ['how long it takes', 'funnel', before && `how long does it take from ${before} to ${act}`],
    ['where they are lost', 'funnel', before && `where do people drop off between ${before} and ${act}`],
    ['coming back', 'retention', `retention after ${act} by week`],
    ['coming back', 'retention', of && `which ${of} has the best retention`],
    ['how often', 'habit', `how often do people do ${act}`],
    ['how often', 'gaps', `time between ${act}`],
    ['staying away', 'growth', 'monthly churn'],
    ['their ways', 'paths', `what do people do after ${act}`],
    ['visits', 'sessions', 'average session length by week'],
    ['what brought them', 'attribution', source && `which ${source} brings ${act}`],
    ['what foretells', 'likelihood', `who is likely to do ${act} in the next 30 days`],
    ['people', 'people', before && `people who did ${before} but never ${act}`],
    ['people', 'people', `people who did ${act} more than 10 times in the last 30 days`],
    ['some of them only', 'trend', value && `${act} each week, ${value} only`],
  ]
  return all.flatMap(([asks, kind, text]) => {
    if (!text) return []
    const [reading] = ask(text, vocabulary, firstDayOfWeek)
    const isMeant = reading && (reading.question ? reading.question.kind === kind : kind === 'people')
    return isMeant && reading.unused.length === 0 && reading.notes.length === 0 ? [{ asks, text }] : []
  })
}

function partsOf({ events, properties }: Vocabulary): Parts | null {
  const plain = events.filter(({ shy, words }) => !shy && /^[\p{L}\d_' -]+$/u.test(words))
  const ranked = [...plain].sort((a, b) => b.recent - a.recent)
  const owned = (event: KnownEvent, kind: KnownProperty['kind']) =>
    properties.filter((each) => each.property.of === 'event' && each.kind === kind && !each.shy && carries(event, each))
  // Of what is done much, what says most of itself in numbers: a page that is opened is seldom what a product is for.
  const much = ranked.slice(0, MUCH)
  const most = Math.max(...much.map((event) => owned(event, 'number').length))
  const act = much.find((event) => owned(event, 'number').length === most && owned(event, 'text').length > 0) ?? much[0]
  if (!act) return null
  // What is done a little more often mostly comes before it.
  const single = ranked.filter((event) => event === act || !event.combined)
  const place = single.indexOf(act)
  const before = single[place - 1] ?? single[place + 1] ?? null
  const source = properties.find(
    ({ property, kind, shy, words }) => property.of === 'event' && kind === 'text' && !shy && SOURCE.test(words),
  )
  const told = properties.filter(
    ({ property, kind, shy, values }) => property.of === 'person' && kind === 'text' && !shy && values.length > 1,
  )
  const of = told[0] ?? null
  return {
    act: low(act.words),
    before: before && low(before.words),
    by: lowOf(owned(act, 'text')[0]),
    number: lowOf(owned(act, 'number')[0]),
    source: lowOf(source),
    of: lowOf(of ?? undefined),
    value: of ? (of.values.map(String).find((each) => /^\p{L}+$/u.test(each)) ?? null) : null,
  }
}

const carries = (event: KnownEvent, { property }: KnownProperty): boolean =>
  'name' in property && event.properties.includes(property.name)

/** So many events are done much. */
const MUCH = 8
const SOURCE = /\b(?:channel|source|campaign|medium)\b/i

/** As one types it: names are read whatever their letters. */
const low = (words: string): string => words.toLowerCase().replaceAll('_', ' ')
const lowOf = (property: KnownProperty | undefined): string | null => (property ? low(property.words) : null)
