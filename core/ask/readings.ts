import { compareWords } from '../analyses/trend/sentence.js'
import { MEASURES, type TrendMeasure } from '../analyses/trend/measures.js'
import type { Comparison, TrendForm, TrendQuestion, TrendReading, TrendSeries } from '../analyses/trend/question.js'
import { usualTrend } from '../analyses/trend/question.js'
import { usualFunnel, type FunnelStep, type FunnelWindow } from '../analyses/funnel/question.js'
import { windowWords } from '../analyses/peopleWords.js'
import type { CrosstabQuestion } from '../analyses/crosstab/question.js'
import type { Question } from '../analyses/registry.js'
import { isClock } from '../groups/split.js'
import type { Condition, Filter, PropertyRef, Split, SplitRef } from '../questions/parts.js'
import type { Range, Unit } from '../time/range.js'
import { conditionWords, rangeWords, splitWords } from '../words/words.js'
import type { AskReading, Understood } from './ask.js'
import { bestFirst, eventMentions, propertyMentions, valueMentions, type Mention } from './match.js'
import { NUMBER, readNumber, readTime } from './times.js'
import { FILLERS, likeness, tokensOf, wordsOf, type Token } from './tokens.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

/** What the words say that no name is needed for. */
interface Said {
  kind: Question['kind'] | null
  measure: TrendMeasure | null
  days: number | null
  range: Range | null
  every: Unit | null
  compare: Comparison | null
  as: TrendReading | null
  form: TrendForm | null
  smooth: number | null
  keep: number | null
  window: FunnelWindow | null
  any: boolean
}

/** Marks between the words of which the tokens on either side have roles. */
type Marker = 'by' | 'where' | 'not' | 'then' | 'and' | 'over'

const UNIT = 'hour|day|week|month|quarter'
const MEASURE_WORDS: [string, TrendMeasure][] = [
  ['(?:times|how often) per (?:person|user)|how often|events per (?:person|user)', 'events per person'],
  ['(?:people|users)(?: ever)? so far|ever so far', 'people so far'],
  [
    'how many (?:people|users|persons)|number of (?:people|users)|(?:distinct|unique|different) (?:people|users)',
    'people',
  ],
  ['how many times|number of times|number of events|times', 'events'],
  ['90th percentile|p90', '90th percentile'],
  ['99th percentile|p99', '99th percentile'],
  ['median|typical', 'median'],
  ['average|mean|avg', 'average'],
  ['total|sum', 'sum'],
  ['minimum|min|lowest|least|shortest', 'minimum'],
  ['maximum|max|highest|longest|largest', 'maximum'],
  ['(?:how many )?(?:distinct|different|unique)', 'distinct values'],
  ['(?:how many )?sessions(?: with| that hold)?|visits(?: with)?', 'sessions'],
]

interface Phrase {
  regex: RegExp
  as: Understood['as']
  take(match: RegExpExecArray, said: Said): string | null
}
const phrase = (as: Phrase['as'], source: string, take: Phrase['take']): Phrase => ({
  ...{ as, take },
  regex: new RegExp(`(?:${source})(?![\\p{L}\\p{N}])`, 'uy'),
})

const compared = (to: 'before' | 'week' | 'month' | 'year') => (_match: RegExpExecArray, said: Said) => {
  said.compare = { to }
  return `compared with ${compareWords({ to }, { thisYear: 0 })}`
}
const VERSUS = '(?:compared (?:with|to)|versus|vs\\.?|against|than) (?:the )?'
const FORMS: [string, TrendForm][] = [
  ['lines?', 'lines'],
  ['stacked(?: areas?)?', 'stacked'],
  ['bars?|columns', 'bars'],
  ['ring|donut', 'ring'],
  ['ranking|ranked', 'ranked'],
  ['(?:a )?(?:single )?(?:figure|number)', 'figure'],
]

/** Words that mean the same in every workspace, in the order they are tried. */
const PHRASES: Phrase[] = [
  phrase('measure', '(?:the )?share of active (?:people|users)', (_match, said) => {
    said.measure = 'share of active people'
    return 'share of active people'
  }),
  phrase(
    'comparison',
    `${VERSUS}(?:time |period )?(?:just )?before|${VERSUS}previous (?:period|time)`,
    compared('before'),
  ),
  ...(['week', 'month', 'year'] as const).map((unit) =>
    phrase(
      'comparison',
      `${VERSUS}(?:same (?:dates|time) )?(?:a |last |the previous |previous |one )${unit}(?: earlier| before| ago)?|${unit} over ${unit}`,
      compared(unit),
    ),
  ),
  phrase(
    'kind',
    '(?:a |the )?funnel(?: of)?|conversion(?: rate)?',
    (_match, said) => ((said.kind = 'funnel'), 'a funnel'),
  ),
  phrase(
    'kind',
    '(?:a )?(?:cross ?tab(?:ulation)?|table|matrix)(?: of)?',
    (_match, said) => ((said.kind = 'crosstab'), 'a crosstab'),
  ),
  phrase(
    'unit',
    `(?:each|every|per|by|by the|a) (${UNIT})(?! of)`,
    ([, unit], said) => ((said.every = unit as Unit), `each ${unit}`),
  ),
  phrase('measure', '(daily|weekly|monthly|quarterly) active(?: (?:people|users))?', ([, word], said) => {
    said.every = unitOf(word!)
    said.measure = 'people'
    said.any = true
    return `people who did anything, each ${said.every}`
  }),
  phrase('measure', '(?:active (?:people|users)|anybody active|any activity)', (_match, said) => {
    said.measure ??= 'people'
    said.any = true
    return 'people who did anything'
  }),
  phrase('unit', 'hourly|daily|weekly|monthly|quarterly', ([word], said) => {
    said.every = unitOf(word)
    return `each ${said.every}`
  }),
  phrase(
    'measure',
    `(?:rolling|active in the last) (${NUMBER})[ -]days?|people in the last (${NUMBER}) days`,
    ([, a, b], said) => {
      said.days = readNumber((a ?? b)!)
      said.measure = 'people in the last days'
      return `people in the last ${said.days} days`
    },
  ),
  phrase(
    'window',
    `(?:within|in under|in less than) (?:an? )?(?:(${NUMBER}) )?(minute|hour|day|week)s?(?: of the start)?`,
    ([, n, unit], said) => {
      said.window = { count: n === undefined ? 1 : readNumber(n), unit: unit as FunnelWindow['unit'] }
      return `within ${windowWords(said.window)}`
    },
  ),
  phrase(
    'reading',
    '(?:as )?(?:a )?(?:share|percent(?:age)?|proportion)s?(?: of (?:all|the total|total))?',
    (_match, said) => ((said.as = 'share'), 'as shares of all'),
  ),
  phrase(
    'reading',
    '(?:as )?(?:a )?(?:running total|cumulative(?:ly)?)',
    (_match, said) => ((said.as = 'running total'), 'as a running total'),
  ),
  phrase(
    'reading',
    '(?:as )?(?:an )?index(?:ed)?',
    (_match, said) => ((said.as = 'index'), 'as an index, the first as 100'),
  ),
  ...FORMS.map(([words, form]) =>
    phrase('reading', `as (?:a )?(?:${words})(?: chart)?`, (_match, said) => ((said.form = form), `drawn as ${form}`)),
  ),
  phrase(
    'reading',
    `smooth(?:ed)?(?: over)? (${NUMBER})(?: (?:${UNIT})s?)?|(${NUMBER})[- ](?:${UNIT}) (?:moving|rolling|trailing) average`,
    ([, a, b], said) => {
      said.smooth = Math.max(2, Math.min(60, readNumber((a ?? b)!)))
      return `smoothed over ${said.smooth}`
    },
  ),
  phrase('groups', `(?:the )?top (${NUMBER})|(?:the )?(${NUMBER}) largest`, ([, a, b], said) => {
    said.keep = Math.max(1, Math.min(50, readNumber((a ?? b)!)))
    return `the ${said.keep} largest groups`
  }),
  ...MEASURE_WORDS.map(([words, measure]) =>
    phrase('measure', `(?:what (?:is|was) the |the )?(?:${words})(?: of)?`, (_match, said) => {
      if (said.measure === null || said.measure === 'people') said.measure = measure
      return MEASURE_MEANS[measure] ?? measure
    }),
  ),
]
const MEASURE_MEANS: Partial<Record<TrendMeasure, string>> = { events: 'times', 'distinct values': 'different values' }

function unitOf(word: string): Unit {
  return word === 'daily' ? 'day' : (word.replace(/ly$/, '') as Unit)
}

const MARKERS: [Marker, RegExp][] = [
  ['by', /(?:for (?:each|every)|broken down by|split by|grouped by|group by|by|per|across)(?![\p{L}\p{N}])/uy],
  ['not', /(?:excluding|except(?: for)?|without|but not|not among|not|other than)(?![\p{L}\p{N}])/uy],
  ['where', /(?:where|whose|with|only(?: where| for)?|among|for|limited to)(?![\p{L}\p{N}])/uy],
  ['over', /(?:divided by|\/)/uy],
  ['then', /(?:→|(?:and )?then|to)(?![\p{L}\p{N}])/uy],
  ['and', /(?:and|vs\.?|versus|or)(?![\p{L}\p{N}])/uy],
]

const COMPARED: [RegExp, '>' | '≥' | '<' | '≤' | '=' | '≠'][] = [
  [/(?:is )?(?:at least|>=|≥|no less than)/uy, '≥'],
  [/(?:is )?(?:at most|<=|≤|no more than|up to)/uy, '≤'],
  [/(?:is )?(?:more than|over|above|greater than|longer than|>)/uy, '>'],
  [/(?:is )?(?:less than|fewer than|under|below|shorter than|<)/uy, '<'],
  [/(?:is not|≠|!=)/uy, '≠'],
  [/(?:is|equals|=)/uy, '='],
]
const NUMERAL = /-?\d[\d,]*(?:\.\d+)?(?![\p{L}\p{N}])/uy

/** One typed text on its way to a question. */
class Text {
  readonly tokens: Token[]
  readonly lower: string
  /** by token: taken by something understood */
  readonly taken: boolean[]
  /** by token: the marker that stands right before it */
  readonly markers: (Marker | null)[]
  readonly understood: Understood[] = []

  constructor(readonly text: string) {
    this.tokens = tokensOf(text)
    this.lower = text.toLowerCase()
    this.taken = this.tokens.map(() => false)
    this.markers = this.tokens.map(() => null)
  }

  /** Takes the tokens in [from, to) of the text. */
  take(from: number, to: number, as: Understood['as'], means: string): void {
    this.tokens.forEach((token, index) => {
      if (token.from < to && token.to > from) this.taken[index] = true
    })
    this.understood.push({ from, to, as, means })
  }

  readonly isFree = (index: number) => !this.taken[index]
  /** Whether something in [from, to) of the text has been understood already. */
  isTaken(from: number, to: number): boolean {
    return this.understood.some((each) => each.from < to && each.to > from)
  }
  copy(): Text {
    const copy = new Text(this.text)
    this.taken.forEach((taken, index) => (copy.taken[index] = taken))
    this.markers.forEach((marker, index) => (copy.markers[index] = marker))
    copy.understood.push(...this.understood)
    return copy
  }

  unused(): { from: number; to: number }[] {
    return this.tokens
      .filter((token, index) => !this.taken[index] && (token.quoted || !FILLERS.has(token.word)))
      .map(({ from, to }) => ({ from, to }))
  }
}

/** Every reading that is worth offering, the best first; the same question may come twice. */
export function readingsOf(text: string, vocabulary: Vocabulary, firstDayOfWeek: number): AskReading[] {
  const base = new Text(text)
  const said = readPhrases(base, vocabulary, firstDayOfWeek)
  readMarkers(base)
  const { properties, conditions } = readNamed(base, vocabulary, said)
  const readings: { reading: AskReading; score: number }[] = []
  for (const choice of eventChoices(base, vocabulary, said, properties.of, conditions)) {
    const work = base.copy()
    for (const { from, to, means } of choice.spans) work.take(from, to, 'event', means)
    const where = conditionsFor(work, conditions, choice.events, vocabulary)
    const question = build(said, choice, properties, where)
    if (!question) continue
    const unused = work.unused()
    const understood = [...work.understood].sort((a, b) => a.from - b.from)
    readings.push({ reading: { question, understood, unused }, score: choice.score - 0.4 * unused.length })
  }
  const best = readings
    .sort((a, b) => b.score - a.score)
    .slice(0, 3)
    .map(({ reading }) => reading)
  const other = best[0] && otherMeasure(best[0])
  return other ? [best[0]!, other, ...best.slice(1)] : best
}

function readPhrases(text: Text, { today, thisYear }: Vocabulary, firstDayOfWeek: number): Said {
  const said: Said = {
    ...{ kind: null, measure: null, days: null, range: null, every: null, compare: null, as: null, form: null },
    ...{ smooth: null, keep: null, window: null, any: false },
  }
  for (let index = 0; index < text.tokens.length; index++) {
    if (text.taken[index] || text.tokens[index]!.quoted) continue
    const at = text.tokens[index]!.from
    const phrase = PHRASES.find(({ regex, take, as }) => {
      regex.lastIndex = at
      const match = regex.exec(text.lower)
      const means = match && take(match, said)
      if (match && means) text.take(at, at + match[0].length, as, means)
      return means
    })
    const time = !phrase && said.range === null && readTime(text.lower, at, today, firstDayOfWeek)
    if (!time) continue
    said.range = time.range
    const words = rangeWords(time.range, { thisYear })
    text.take(at, time.end, 'time', words.lead + words.text)
  }
  return said
}

function readMarkers(text: Text): void {
  text.tokens.forEach((token, index) => {
    if (text.taken[index] || token.quoted) return
    for (const [marker, regex] of MARKERS) {
      regex.lastIndex = token.from
      const match = regex.exec(text.lower)
      if (!match) continue
      const end = token.from + match[0].length
      let next = index
      while (next < text.tokens.length && text.tokens[next]!.from < end) text.taken[next++] = true
      if (next < text.tokens.length) text.markers[next] = marker
      return
    }
  })
}

interface Properties {
  /** the property that is measured */
  of: KnownProperty | null
  splits: { by: SplitRef; words: string }[]
}

/** A condition that was typed, in all the ways it may be meant. */
interface Typed {
  from: number
  to: number
  options: Condition[]
}

/** What is typed of properties: the one measured, those that make groups, and those that are filtered by. */
function readNamed(text: Text, vocabulary: Vocabulary, said: Said): { properties: Properties; conditions: Typed[] } {
  const properties: Properties = { of: null, splits: [] }
  readSplits(text, vocabulary, properties, said)
  const conditions = readConditions(text, vocabulary)
  const wants = said.measure !== null && MEASURES[said.measure].of !== null
  if (wants) properties.of = readMeasured(text, vocabulary, said)
  // "fares" with no event named: what they add up to.
  else if (
    said.measure === null &&
    !said.any &&
    eventMentions(text.tokens, text.isFree, vocabulary).every(({ fit }) => fit < 0.5)
  ) {
    properties.of = readMeasured(text, vocabulary, { ...said, measure: 'sum' })
    if (properties.of) said.measure = 'sum'
  }
  // "total rides" has no property to add up: it is how often.
  if (wants && !properties.of) said.measure = said.measure === 'sum' ? 'events' : null
  return { properties, conditions }
}

const CLOCK: [RegExp, SplitRef][] = [
  [/(?:day|days) of (?:the )?week|weekdays?/uy, { of: 'weekday' }],
  [/(?:hour|hours|time) of (?:the )?day/uy, { of: 'hour' }],
]

function readSplits(text: Text, vocabulary: Vocabulary, properties: Properties, said: Said): void {
  const { tokens } = text
  // "top 5 docks" are groups too.
  const top = text.understood.find(({ as }) => as === 'groups')
  const after = top ? tokens.findIndex(({ from }) => from >= top.to) : -1
  if (after >= 0) text.markers[after] ??= 'by'
  for (let index = 0; index < tokens.length; index++) {
    // After "by" come the groups; more of them after "and" or a comma.
    const follows =
      text.markers[index] === 'and' && properties.splits.length > 0 && lastTook(text, index) === 'property'
    if (text.taken[index] || (text.markers[index] !== 'by' && !follows) || properties.splits.length === 3) continue
    const clock = CLOCK.find(([regex]) => {
      regex.lastIndex = tokens[index]!.from
      return regex.test(text.lower)
    })
    if (clock) {
      text.take(tokens[index]!.from, clock[0].lastIndex, 'property', `for each ${splitWords(clock[1], {})}`)
      properties.splits.push({ by: clock[1], words: splitWords(clock[1], {}) })
      continue
    }
    const [best] = bestFirst(
      propertyMentions(
        tokens,
        (at) => text.isFree(at) && (at === index || text.markers[at] === null),
        vocabulary,
      ).filter(({ first, fit }) => first === index && fit >= 0.4),
      personFirst,
    )
    const rival = eventMentions(tokens, text.isFree, vocabulary).find(
      ({ first, fit }) => first === index && fit > (best?.fit ?? 0),
    )
    if (
      !best ||
      (rival && text.markers[index] === 'by' && /per$/.test(text.lower.slice(0, tokens[index]!.from).trim()))
    )
      continue
    text.take(tokens[index]!.from, tokens[best.end - 1]!.to, 'property', `for each ${best.value.words}`)
    properties.splits.push({ by: best.value.property, words: best.value.words })
    // In a table "by A and B" goes on in the same way.
    const next = tokens[best.end]
    if (next && !text.markers[best.end] && /^\s*,\s*$/.test(text.text.slice(tokens[best.end - 1]!.to, next.from)))
      text.markers[best.end] = said.kind === 'crosstab' ? 'by' : text.markers[best.end]!
  }
}

function lastTook(text: Text, index: number): Understood['as'] | null {
  const before = text.understood.filter(({ to }) => to <= text.tokens[index]!.from).sort((a, b) => b.to - a.to)[0]
  return before && /^\s*(?:,|and|,? and)\s*$/i.test(text.text.slice(before.to, text.tokens[index]!.from))
    ? before.as
    : null
}

/** Of equally good matches the profile's property is meant: it holds for every event. */
const eventFirst = (property: KnownProperty) => (property.property.of === 'event' ? 0.05 : 0)
const personFirst = (property: KnownProperty) => (property.property.of === 'person' ? 0.05 : 0)

function readMeasured(text: Text, vocabulary: Vocabulary, said: Said): KnownProperty | null {
  const numbers = said.measure !== 'distinct values'
  const mentions = propertyMentions(text.tokens, text.isFree, vocabulary).filter(
    ({ value, fit, first }) => fit >= 0.4 && (!numbers || value.kind === 'number') && text.markers[first] !== 'where',
  )
  const [best] = bestFirst(mentions, eventFirst)
  if (!best) return null
  const { tokens } = text
  text.take(tokens[best.first]!.from, tokens[best.end - 1]!.to, 'property', best.value.words)
  const per = /\s+(?:per|for each|by) (?:person|user|rider|customer)(?![\p{L}])/uy
  per.lastIndex = tokens[best.end - 1]!.to
  if (per.test(text.lower)) {
    text.take(tokens[best.end - 1]!.to, per.lastIndex, 'measure', 'summed for each person')
    said.measure = 'per person'
  }
  return best.value
}

/** "minutes over 20", "plan is Annual", and values named by themselves. */
function readConditions(text: Text, vocabulary: Vocabulary): Typed[] {
  const found: Typed[] = []
  const { tokens } = text
  const isOpen = (index: number) => text.isFree(index)
  const typed = (first: number, to: number, options: Condition[], words: string) => {
    text.take(tokens[first]!.from, to, 'value', words)
    found.push({ from: tokens[first]!.from, to, options })
  }
  for (const { from, to, condition } of amountConditions(text, vocabulary)) {
    text.take(from, to, 'value', conditionWords(condition, wordsOnly(vocabulary)))
    found.push({ from, to, options: [condition] })
  }
  for (const { first, end, value, fit } of bestFirst(propertyMentions(tokens, isOpen, vocabulary), personFirst)) {
    if (fit < 0.6 || !tokens.slice(first, end).every((_, at) => text.isFree(first + at))) continue
    const at = tokens[end - 1]!.to + 1
    const condition = value.kind === 'number' ? numberCondition(text.lower, at, value) : textCondition(text, at, value)
    if (condition && !text.isTaken(tokens[end - 1]!.to, condition.end))
      typed(first, condition.end, [condition.condition], conditionWords(condition.condition, wordsOnly(vocabulary)))
  }
  const values = valueMentions(tokens, isOpen, vocabulary)
  const events = eventMentions(tokens, isOpen, vocabulary)
  const named = propertyMentions(tokens, isOpen, vocabulary)
  for (const { first, end, fit } of bestFirst(values, () => 0)) {
    if (!tokens.slice(first, end).every((_, at) => text.isFree(first + at))) continue
    // "mail opened" is the event, not the value "mail".
    if (
      events.some(
        (event) =>
          event.first <= first && event.end >= end && event.end - event.first > end - first && event.fit >= 0.6,
      )
    )
      continue
    if (events.some((event) => event.first === first && event.end === end && event.fit >= Math.min(fit, 0.5))) continue
    // A property of that very name is what is meant, "fares", rather than a value that is called the same.
    if (named.some((each) => each.first === first && each.end === end && each.fit >= 0.9)) continue
    const same = values.filter((each) => each.first === first && each.end === end && each.fit >= fit - 0.05)
    const negated = negatedAt(text, first)
    const options = same.map(({ value: { property, value } }): Condition => ({
      ...{ property: property.property, op: negated ? 'is not' : 'is', values: [value] },
    }))
    const [shown] = same
    // "cargo bikes": the next word says of which property the value is.
    const next = tokens[end]
    const said = next && text.isFree(end) && !text.markers[end] ? next : null
    const names = said
      ? same.filter(({ value: { property } }) => wordsOf(property.words).some((word) => likeness(said, word) >= 0.95))
      : []
    const last = names.length > 0 && !events.some((event) => event.first === end && event.fit >= 0.5) ? end : end - 1
    const words = `${shown!.value.property.words} is ${negated ? 'not ' : ''}${shown!.value.value}`
    typed(first, tokens[last]!.to, options, words)
  }
  return found
}

function negatedAt(text: Text, index: number): boolean {
  for (let at = index; at >= 0; at--) {
    if (text.markers[at] === 'not') return true
    if (text.markers[at] !== null && text.markers[at] !== 'and') return false
    if (at < index && !text.taken[at]) return false
  }
  return false
}

const wordsOnly = ({ properties, thisYear }: Vocabulary) => ({
  ...{ thisYear, full: true },
  labels: {
    events: {},
    properties: Object.fromEntries(
      properties.map(({ property, words }) => [
        property.of === 'source' ? 'source' : `${property.of} ${property.name}`,
        words,
      ]),
    ),
  },
})

function numberCondition(
  lower: string,
  at: number,
  { property }: KnownProperty,
): { condition: Condition; end: number } | null {
  const between = /(?:is )?between (-?[\d.,]+) and (-?[\d.,]+)(?![\p{L}\p{N}])/uy
  between.lastIndex = at
  const pair = between.exec(lower)
  if (pair) {
    const numbers = [pair[1], pair[2]].map((each) => Number(each!.replaceAll(',', ''))) as [number, number]
    return { condition: { property, op: 'between', numbers }, end: between.lastIndex }
  }
  for (const [regex, op] of COMPARED) {
    regex.lastIndex = at
    if (!regex.test(lower)) continue
    NUMERAL.lastIndex = regex.lastIndex + (lower[regex.lastIndex] === ' ' ? 1 : 0)
    const match = NUMERAL.exec(lower)
    if (match)
      return { condition: { property, op, number: Number(match[0].replaceAll(',', '')) }, end: NUMERAL.lastIndex }
  }
  return null
}

/** "over 30 minutes": the number comes before what it is of. */
function amountConditions(text: Text, vocabulary: Vocabulary): { from: number; to: number; condition: Condition }[] {
  const found: { from: number; to: number; condition: Condition }[] = []
  text.tokens.forEach((token, index) => {
    if (text.taken[index] && text.markers[index] === null && !/^(?:over|above|under|below)$/.test(token.word)) return
    for (const [regex, op] of COMPARED.slice(0, 4)) {
      regex.lastIndex = token.from
      if (!regex.test(text.lower)) continue
      NUMERAL.lastIndex = regex.lastIndex + (text.lower[regex.lastIndex] === ' ' ? 1 : 0)
      const match = NUMERAL.exec(text.lower)
      const next = match ? text.tokens.findIndex(({ from }) => from >= NUMERAL.lastIndex) : -1
      if (!match || next < 0) continue
      const [best] = bestFirst(propertyMentions(text.tokens, text.isFree, vocabulary), eventFirst).filter(
        ({ first, value, fit }) => first === next && value.kind === 'number' && fit >= 0.6,
      )
      if (!best) continue
      const condition: Condition = { property: best.value.property, op, number: Number(match[0].replaceAll(',', '')) }
      found.push({ from: token.from, to: text.tokens[best.end - 1]!.to, condition })
      return
    }
  })
  return found
}

/** "plan is Annual", "page contains docs": the value as it is known, or as it was typed. */
function textCondition(text: Text, at: number, known: KnownProperty): { condition: Condition; end: number } | null {
  const operator = /(is not|isn’t|isn't|≠|is|equals|=|contains|starts with|ends with) /uy
  operator.lastIndex = at
  const match = operator.exec(text.lower)
  const first = match && text.tokens.findIndex(({ from }) => from >= operator.lastIndex)
  if (!match || first === null || first < 0) return null
  const { property } = known
  const token = text.tokens[first]!
  const typed = token.quoted ? text.text.slice(token.from + 1, token.to - 1) : text.text.slice(token.from, token.to)
  const word = match[1]!
  if (word === 'contains' || word === 'starts with' || word === 'ends with')
    return { condition: { property, op: word, text: typed }, end: token.to }
  const op = /not|n’t|n't|≠/.test(word) ? 'is not' : 'is'
  const [value] = valueMentions(text.tokens, text.isFree, { properties: [known], events: [], thisYear: 0, today: '' })
    .filter((each) => each.first === first)
    .sort((a, b) => b.end - a.end || b.fit - a.fit)
  if (value) return { condition: { property, op, values: [value.value.value] }, end: text.tokens[value.end - 1]!.to }
  return { condition: { property, op, values: [typed] }, end: token.to }
}

/** The conditions that go with the events: of several ways one is meant, that which the events carry. */
function conditionsFor(
  text: Text,
  typed: readonly Typed[],
  events: readonly KnownEvent[],
  vocabulary: Vocabulary,
): { from: number; condition: Condition }[] {
  const carried = (condition: Condition) => {
    const { property } = condition
    return property.of === 'event' ? (events.some((each) => each.properties.includes(property.name)) ? 2 : 0) : 1
  }
  return typed.map(({ from, to, options }) => {
    const condition = [...options].sort((a, b) => carried(b) - carried(a))[0]!
    const entry = text.understood.find((each) => each.from === from && each.to === to)
    if (entry)
      text.understood[text.understood.indexOf(entry)] = {
        ...entry,
        means: conditionWords(condition, wordsOnly(vocabulary)),
      }
    return { from, condition }
  })
}

interface EventChoices {
  events: KnownEvent[]
  spans: { from: number; to: number; means: string; joint: Marker | null }[]
  score: number
  /** what is done is named as things, "rides", rather than as those who do it, "riders": it is counted itself */
  plural: boolean
}

/** The ways in which the words that are left name events; each with all the events of the question, in order. */
function eventChoices(
  text: Text,
  vocabulary: Vocabulary,
  said: Said,
  of: KnownProperty | null,
  conditions: readonly Typed[],
): EventChoices[] {
  const { tokens } = text
  const filtered = conditions.flatMap(({ options }) =>
    options.every(({ property }) => property.of === 'event') ? [options.map(({ property }) => nameOf(property))] : [],
  )
  const carries = (event: KnownEvent) =>
    of?.property.of === 'event' && event.properties.includes(of.property.name) ? 0.4 : 0
  const most = Math.max(1, ...vocabulary.events.map(({ recent }) => recent))
  const fits = (event: KnownEvent) =>
    filtered.filter((names) => names.some((name) => event.properties.includes(name))).length * 0.4
  const prefer = (event: KnownEvent) =>
    carries(event) + fits(event) + (0.04 * Math.log1p(event.recent)) / Math.log1p(most)
  const all = bestFirst(
    eventMentions(tokens, text.isFree, vocabulary).filter(({ first, end }) =>
      tokens.slice(first + 1, end).every((_, at) => text.markers[first + 1 + at] === null),
    ),
    prefer,
  )
  const slots: Mention<KnownEvent>[][] = []
  // What carries nothing that is measured, or should not be asked about any more, is no second guess.
  const isGuess = (event: KnownEvent) => !event.shy && (of?.property.of !== 'event' || carries(event) > 0)
  for (const mention of all) {
    const slot = slots.find(([kept]) => kept!.first < mention.end && mention.first < kept!.end)
    if (!slot) slots.push([mention])
    else if (
      slot[0]!.first === mention.first &&
      slot[0]!.end === mention.end &&
      slot.length < 3 &&
      isGuess(mention.value)
    )
      slot.push(mention)
  }
  slots.sort((a, b) => a[0]!.first - b[0]!.first)
  // More events than one stand side by side where a word or a comma joins them.
  const named = slots.filter(
    (slot, index) =>
      index === 0 || (slot[0]!.fit >= 0.5 && isJoined(text, slots[index - 1]![0]!.end - 1, slot[0]!.first)),
  )
  if (named.length === 0) return withoutEvent(vocabulary, said, of)
  const choices = named[0]!.flatMap((_, at) => {
    const pick = named.map((slot, index) => (index === 0 || at === 0 ? slot[index === 0 ? at : 0]! : slot[0]!))
    return [pick]
  })
  return choices.map((pick) => ({
    events: pick.map(({ value }) => value),
    spans: pick.map(({ first, end, value }) => ({
      ...{ from: tokens[first]!.from, to: tokens[end - 1]!.to, means: value.words },
      joint: jointBefore(text, first),
    })),
    score: pick.reduce((sum, { fit, value }) => sum + fit + prefer(value), 0),
    plural: tokens
      .slice(pick[0]!.first, pick[0]!.end)
      .some(
        ({ word }) =>
          /[^s]s$/.test(word) && !/[eo]rs$/.test(word) && !pick[0]!.value.words.toLowerCase().includes(word),
      ),
  }))
}

function isJoined(text: Text, last: number, next: number): boolean {
  const joint = jointBefore(text, next)
  return (
    joint === 'and' ||
    joint === 'then' ||
    joint === 'over' ||
    text.text.slice(text.tokens[last]!.to, text.tokens[next]!.from).includes(',')
  )
}

const nameOf = (property: PropertyRef) => (property.of === 'source' ? 'source' : property.name)

/** The marker that joins an event to the one before, passing over words that name nothing. */
function jointBefore(text: Text, index: number): Marker | null {
  for (let at = index; at >= 0; at--) {
    if (text.markers[at] !== null) return text.markers[at]!
    if (at < index && !FILLERS.has(text.tokens[at]!.word)) return null
  }
  return null
}

/** No event is named: anything, where that is said; the commonest event that carries what is measured; else nothing. */
function withoutEvent({ events }: Vocabulary, said: Said, of: KnownProperty | null): EventChoices[] {
  if (said.any) return [{ events: [], spans: [], score: 0.5, plural: false }]
  if (of?.property.of !== 'event') return []
  const { name } = of.property
  const [best] = events
    .filter(({ properties, shy }) => properties.includes(name) && !shy)
    .sort((a, b) => b.recent - a.recent)
  return best ? [{ events: [best], spans: [], score: 0.3, plural: false }] : []
}

type Placed = { from: number; condition: Condition }[]

function build(said: Said, choice: EventChoices, { of, splits }: Properties, where: Placed): Question | null {
  const { events, spans } = choice
  const joints = spans.map(({ joint }) => joint)
  const funnel =
    said.kind === 'funnel' ||
    (said.kind === null && events.length > 1 && joints.slice(1).every((joint) => joint === 'then'))
  if (funnel && events.length > 0) return buildFunnel(said, choice, splits, where)
  const range = said.range ?? usualRange(said.every)
  const every = said.every ?? usualUnit(range)
  const measure =
    said.measure ?? (of ? 'median' : said.any || events.length === 0 ? 'people' : choice.plural ? 'events' : 'people')
  const conditions = conditionsBy(spans, where)
  const series = (events.length > 0 ? events : [null]).map((event, index): TrendSeries => {
    const filter = filterOf(conditions[index] ?? [])
    return {
      event: event ? { names: [event.name] } : { activity: true },
      ...(filter ? { where: filter } : {}),
      ...{ measure, ...(of && MEASURES[measure].of !== null ? { of: of.property } : {}) },
      ...(said.days !== null && measure === 'people in the last days' && said.days !== 28 ? { days: said.days } : {}),
    }
  })
  const groups = splits.map(({ by }, index): Split => ({ by, keep: index === 0 ? (said.keep ?? 10) : 10 }))
  if (said.kind === 'crosstab' && groups.length > 0) {
    const rows = groups.length > 1 ? groups.slice(0, -1) : groups
    const column = groups.length > 1 && series.length === 1 ? groups.at(-1) : undefined
    const laid = { rows, ...(column ? { column } : {}) }
    return {
      ...{ kind: 'crosstab', series, every, range },
      ...laid,
      show: { cells: 'bars', beside: 'trend' },
    } satisfies CrosstabQuestion
  }
  const ratio = events.length === 2 && joints[1] === 'over'
  const question: TrendQuestion = {
    ...{ kind: 'trend', series: ratio ? series.map((each) => ({ ...each, hidden: true as const })) : series },
    ...(ratio ? { formulas: [{ formula: 'a / b', unit: 'number' as const }] } : {}),
    ...{ every, range },
    ...(groups.length > 0 ? { breakdowns: groups } : {}),
    ...(said.compare ? { compare: said.compare } : {}),
    ...(said.smooth === null ? {} : { smooth: said.smooth }),
    show: { form: said.form ?? 'lines', as: said.as ?? 'number' },
  }
  return question
}

function buildFunnel(
  said: Said,
  { events, spans }: EventChoices,
  splits: Properties['splits'],
  where: Placed,
): Question {
  const conditions = conditionsBy(spans, where)
  const steps = events.map((event, index): FunnelStep => {
    const filter = filterOf(conditions[index] ?? [])
    return { event: { names: [event.name] }, ...(filter ? { where: filter } : {}) }
  })
  const [by] = splits.flatMap((split) => (isClock(split.by) ? [] : [split.by]))
  return {
    ...usualFunnel(events[0]!.name),
    steps,
    ...(said.window ? { window: said.window } : {}),
    ...(said.range ? { range: said.range } : {}),
    ...(by ? { breakdowns: [{ by, keep: said.keep ?? 10 }] } : {}),
  }
}

/** A condition on a person goes with every event; one on an event with the event it stands beside. */
function conditionsBy(spans: EventChoices['spans'], where: Placed): Condition[][] {
  const conditions = spans.map((): Condition[] => [])
  if (spans.length === 0) return [where.map(({ condition }) => condition)]
  for (const { from, condition } of where) {
    if (condition.property.of === 'person') {
      for (const each of conditions) each.push(condition)
      continue
    }
    const nearest = spans.reduce((best, span, index) => {
      const far = (place: number) => Math.min(Math.abs(spans[place]!.from - from), Math.abs(spans[place]!.to - from))
      return far(index) < far(best) ? index : best
    }, 0)
    conditions[nearest]!.push(condition)
  }
  return conditions
}

/** Several values of one property are any of them; other conditions must all hold. */
function filterOf(conditions: readonly Condition[]): Filter | null {
  const joined: Condition[] = []
  for (const condition of conditions) {
    const same = joined.findIndex(
      (each) =>
        'values' in each &&
        'values' in condition &&
        each.op === condition.op &&
        JSON.stringify(each.property) === JSON.stringify(condition.property),
    )
    const had = joined[same]
    if (had && 'values' in had && 'values' in condition)
      joined[same] = { ...had, values: [...new Set([...had.values, ...condition.values])] }
    else joined.push(condition)
  }
  return joined.length > 1 ? { all: joined } : (joined[0] ?? null)
}

function usualRange(every: Unit | null): Range {
  switch (every) {
    case 'hour':
      return { last: 7, unit: 'day' }
    case 'day':
      return { last: 30, unit: 'day' }
    case 'month':
    case 'quarter':
      return { last: 12, unit: 'month' }
    default:
      return usualTrend('').range
  }
}

/** A unit that gives some ten to sixty points. */
function usualUnit(range: Range): Unit {
  const days =
    'last' in range
      ? range.last * { hour: 1 / 24, day: 1, week: 7, month: 30, quarter: 91 }[range.unit]
      : range.to
        ? (Date.parse(range.to) - Date.parse(range.from)) / 86_400_000 + 1
        : 120
  return days <= 2 ? 'hour' : days <= 45 ? 'day' : days <= 400 ? 'week' : 'month'
}

/** The same question by times where it asks for people, and the other way round. */
function otherMeasure(reading: AskReading): AskReading | null {
  const { question } = reading
  if (question.kind !== 'trend' || question.series.length > 1) return null
  const [series] = question.series
  const other = series!.measure === 'people' ? 'events' : series!.measure === 'events' ? 'people' : null
  return other && { ...reading, question: { ...question, series: [{ ...series!, measure: other }] } }
}
