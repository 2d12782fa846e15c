import type { TimeLimit } from '../questions/limits.js'
import type { TrendMeasure } from '../analyses/trend/measures.js'
import type { TrendForm } from '../analyses/trend/question.js'
import { compareWords, rangeWords } from '../words/words.js'
import type { GrowthState } from '../analyses/growth/question.js'
import { limitWords } from '../words/limitWords.js'
import type { Unit } from '../time/range.js'
import { habitPeriod } from './habitPeriod.js'
import type { LookBack, PlainModel } from '../analyses/attribution/question.js'
import { ASKINGS } from './askings.js'
import { eventMentions, WHOLE_NAME } from './match.js'
import { ANYBODY, phrase, type Phrase } from './phrase.js'
import { VISITS } from './kinds/sessions.js'
import { nothingSaid, type Said, type SaidOfCredit } from './said.js'
import type { Text } from './text.js'
import { NUMBER, readNumber, readTime } from './times.js'
import { MODEL_NAMES } from '../analyses/attribution/words.js'
import type { Vocabulary } from './vocabulary.js'

const UNIT = 'hour|day|week|month|quarter|year'
const MEASURE_WORDS: [string, TrendMeasure][] = [
  ['(?:times|how often) per (?:person|user)|how often|events per (?:person|user)', 'events per person'],
  ['(?:people|users)(?: ever)? so far', 'people so far'],
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
  ['minimum|min|lowest|(?<!at )least|shortest', 'minimum'],
  ['maximum|max|highest|longest|largest', 'maximum'],
  ['(?:how many )?(?:distinct|different|unique)', 'distinct values'],
  ['(?:how many )?sessions(?: with| that hold)?|visits(?: with)?', 'sessions'],
]

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

const DO = '(?: do (?:people|they|users|customers|members))?(?: do)?'
/** Of studies about coming back. */
const COMING: Phrase[] = [
  phrase('kind', `(hour|day|week|month)[ -](${NUMBER}) retention(?: rate)?(?: of| after)?`, ([, unit, n], said) => {
    said.kind = 'retention'
    said.every = unit as Unit
    said.at = readNumber(n!)
    return `retention in ${unit} ${said.at}`
  }),
  phrase('kind', '(hourly|daily|weekly|monthly) retention(?: rate)?(?: of| after)?', ([, word], said) => {
    said.kind = 'retention'
    said.every = unitOf(word!)
    return `retention, ${word}`
  }),
  phrase(
    'kind',
    '(?:the )?(?:new (?:people|users) )?retention(?: rate)?(?: of| after)?|(?:do|did|how many|who) ?(?:people|they|users)? (?:come|came|comes|coming) back(?: to| for| after)?|(?:come|coming) back(?: to| after)?',
    ([word], said) => {
      said.kind = 'retention'
      said.first = word.includes('new ')
      return 'retention: who comes back'
    },
  ),
  phrase(
    'kind',
    `(?:at least )?(${NUMBER})(?: or more|\\+)? days (?:a|per|each|in a|every) (week|month)`,
    ([, n, unit], said) => {
      said.kind = 'habit'
      said.period = unit as 'week' | 'month'
      said.at = readNumber(n!)
      return `a habit: ${said.at} days or more in a ${unit}`
    },
  ),
  phrase(
    'kind',
    `(?:(?:on )?how many |number of )?(hours|days|weeks) (?:in |per |a |each |every )((?:a )?(?:day|week|month)|[48] weeks)${DO}`,
    ([, unit, period], said) => {
      const found = habitPeriod(unit!, period!)
      if (!found) return null
      said.kind = 'habit'
      said.period = found
      return `a habit: ${unit} in ${period!.replace(/^a /, 'a ')}`
    },
  ),
  phrase('kind', '(?:the )?habits?(?: of)?', (_match, said) => ((said.kind = 'habit'), 'a habit: how many days')),
  phrase(
    'kind',
    '(?:the )?(?:usage interval|time between(?: uses of)?|how long between|gaps? between|natural frequency|how often do people naturally(?: do)?)(?: of)?',
    (_match, said) => ((said.kind = 'gaps'), 'the usage interval'),
  ),
  phrase('kind', '(?:who )?(?:has |have )?(lapsed|revived)(?: people)?', ([, state], said) => {
    said.kind = 'growth'
    said.state = state as GrowthState
    return `growth accounting: ${state}`
  }),
  phrase('kind', '(?:lose|loses|losing|lost) (?:the )?most', (_match, said) => {
    said.kind = 'growth'
    said.state = 'lapsed'
    return 'growth accounting: lapsed, most first'
  }),
  phrase(
    'kind',
    '(?:the )?(?:growth accounting|quick ratio|growing or leaking|new,? retained,?(?: and)? (?:revived|lapsed).*?)(?: of| by)?',
    (_match, said) => ((said.kind = 'growth'), 'growth accounting'),
  ),
]

/** Whoever does something, in a question about their ways. */
const WHO = '(?:the )?[\\p{L}]+'
/** Of paths. */
const WAYS: Phrase[] = [
  phrase(
    'kind',
    `what (?:happens|happened|do ${WHO} do|did ${WHO} do|lies)(?: on the way)? between|(?:the )?(?:paths?|ways?) between`,
    (_match, said) => ((said.kind = 'paths'), (said.way = 'between'), 'paths between'),
  ),
  phrase(
    'kind',
    `what (?:do|did|does) ${WHO} do (?:next |right |directly )?after(?: an?)?|what (?:comes|came|happens|happened|follows)(?: next| right)? after(?: an?)?|where (?:do|did) ${WHO} go (?:next )?(?:after|from)(?: an?)?|(?:the )?(?:paths?|ways?) (?:after|from)(?: an?)?`,
    (_match, said) => ((said.kind = 'paths'), (said.way = 'forward'), 'paths: what they do next'),
  ),
  phrase(
    'kind',
    `how (?:do|did) ${WHO} (?:get|come|arrive) (?:to|at)(?: an?)?|what (?:brings|brought|leads|led) ${WHO} to(?: an?)?|what (?:leads|led) to(?: an?)?|what (?:do|did) ${WHO} do (?:right |directly )?before(?: an?)?|what (?:comes|came|happens|happened) before(?: an?)?|(?:the )?(?:paths?|ways?) (?:to|before)(?: an?)?`,
    (_match, said) => ((said.kind = 'paths'), (said.way = 'backward'), 'paths: what brings them there'),
  ),
]

const credited = (said: Said): SaidOfCredit => {
  said.kind = 'attribution'
  said.any = false
  return (said.ofCredit ??= { models: [] })
}
const BRINGS = '(?:bring|brings|brought|drive|drives|drove|earn|earns|deserve|deserves)'
const MODELS: [string, PlainModel][] = [
  ['first[- ]touch', 'first'],
  ['last[- ]touch', 'last'],
  ['last (?:other than|non[- ])direct(?: touch)?', 'last other'],
  ['linear(?: model| attribution)?', 'linear'],
  ['time[- ]decay', 'decay'],
  ['40[-/]20[-/]40', '40-20-40'],
  ['20[-/]20[-/]60', '20-20-60'],
  ['60[-/]20[-/]20', '60-20-20'],
  ['participation', 'participation'],
  ['removal effects?', 'removal'],
  ['shapley(?: values?)?', 'shapley'],
]
/** Of what brought people. */
const CREDIT: Phrase[] = [
  phrase('kind', 'first (?:against|versus|vs\\.?|and|or) last[- ]touch', (_match, said) => {
    credited(said).models.push('first', 'last')
    return 'credit by first touch and by last touch'
  }),
  ...MODELS.map(([source, model]) =>
    phrase(
      'kind',
      `(?:by |told by |against |versus |vs\\.? |and )?${source}(?: attribution| credit)?`,
      (_match, said) => {
        credited(said).models.push(model)
        return `credit by ${MODEL_NAMES[model]}`
      },
    ),
  ),
  phrase('kind', '(?:the )?attribution(?: of| for)?|(?:the )?credit (?:for|of)', (_match, said) => {
    credited(said)
    return 'what brought them'
  }),
  // "which channels bring": without a word between it asks for the ways that lead there.
  phrase(
    'kind',
    `(?<=(?:which|what) (?:[\\p{L}]+ ){1,3})${BRINGS}(?: in| credit for| us)?(?: the)?(?: most)?(?: ${ANYBODY} to)?(?: an?)?`,
    (_match, said) => {
      if (said.kind !== null && said.kind !== 'attribution') return null
      credited(said)
      return 'what brought them'
    },
  ),
  phrase('window', `(?:looking back|look-?back(?: of)?) (${NUMBER}) (day|session)s?`, ([, n, unit], said) => {
    if (!said.ofCredit) return null
    said.ofCredit.back = { count: readNumber(n!), unit: unit as LookBack['unit'] }
    return `looking back ${readNumber(n!)} ${unit}s`
  }),
]

/** Of what done early goes with staying. */
const EARLY: Phrase[] = [
  phrase(
    'kind',
    `(?:what (?:early behaviou?rs? )?(?:makes|make|keeps|keep|gets|get)(?: new)?(?: ${ANYBODY})?(?: to)? (?:stay|staying|stick|come back|coming back|return|returning)|(?:what|which) (?:early )?(?:behaviou?rs?|actions?|habits?)? ?(?:goes|go|went) with (?:staying|coming back|returning)|(?:the )?(?:tipping points?|aha moments?)(?: of| for)?)`,
    (_match, said) => {
      said.kind = 'tipping'
      // Where no outcome is named, it is being there at all.
      said.any = true
      return 'what done early goes with staying'
    },
  ),
]

/** Of what people are likely to do. */
const CHANCE: Phrase[] = [
  phrase(
    'kind',
    `(?:how likely (?:is|are|will)(?: each| every| our| the)?(?: ${ANYBODY})?|(?:who|which(?: of (?:the|our))? ${ANYBODY}) (?:(?:is|are|will be)(?: each| every| our| the)?(?: ${ANYBODY})? (?:most )?likely|(?:will|would) (?:most )?(?:likely|probably))|(?:the )?(?:likelihood|probability|chances?)(?: of| to| that)(?: each| every)?(?: ${ANYBODY})?|predict(?: who| which ${ANYBODY})?)(?: will| would)?(?: to)?(?: do)?(?: an?)?`,
    (_match, said) => {
      said.kind = 'likelihood'
      said.ofChance = {}
      return 'who is likely to'
    },
  ),
  phrase(
    'window',
    `(?:in|within|over|during) (?:the )?(?:next|coming) (?:(${NUMBER}) )?(day|week|month)s?`,
    ([, n, unit], said) => {
      if (!said.ofChance) return null
      const days = (n ? readNumber(n) : 1) * { day: 1, week: 7, month: 30 }[unit as 'day' | 'week' | 'month']
      said.ofChance.days = days
      return `in the next ${days} days`
    },
  ),
  phrase('kind', 'again', (_match, said) => {
    if (!said.ofChance) return null
    said.ofChance.again = true
    return 'also who did it before'
  }),
]

/** Words that mean the same in every workspace, in the order they are tried. */
const PHRASES: Phrase[] = [
  ...EARLY,
  ...CHANCE,
  ...CREDIT,
  ...VISITS,
  ...WAYS,
  ...ASKINGS,
  ...COMING,
  phrase('measure', '(?:the )?share of active (?:people|users)', (_match, said) => {
    said.measure = 'share of active people'
    return 'share of active people'
  }),
  phrase(
    'comparison',
    'this (week|month|quarter|year) (?:vs\\.?|versus|against|compared (?:with|to)|and|over) (?:the )?(?:last|previous)(?: (?:week|month|quarter|year))?(?: one)?',
    ([, unit], said) => {
      said.range = unit === 'year' ? { from: `${said.today.slice(0, 4)}-01-01` } : { last: 1, unit: unit as Unit }
      const to = unit === 'quarter' ? 'before' : (unit as 'week' | 'month' | 'year')
      said.compare = { to }
      return `this ${unit}, compared with ${compareWords({ to }, { thisYear: 0 })}`
    },
  ),
  phrase(
    'comparison',
    `${VERSUS}(?:time |period )?(?:just )?before|${VERSUS}previous (?:period|time)`,
    compared('before'),
  ),
  ...(['week', 'month', 'year'] as const).map((unit) =>
    phrase(
      'comparison',
      `${VERSUS}(?:same (?:dates|time) )?(?:a |last |the previous |previous |one )${unit}(?: earlier| before| ago)?|${VERSUS}${unit} (?:earlier|before|ago)|${unit} over ${unit}`,
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
    `(?:within|in under|in less than) (?:an? )?(?:(${NUMBER}) )?(minute|hour|day|week|month)s?( of the start| (?:of|after|from)(?= ))?`,
    ([, n, unit, more], said) => {
      // "a ride within a day of signing up": what came first is named last.
      said.turned = more !== undefined && more !== ' of the start'
      said.window = { count: n === undefined ? 1 : readNumber(n), unit: unit as TimeLimit['unit'] }
      return `within ${limitWords(said.window)}`
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
    `smooth(?:ed)?(?: over)? (${NUMBER})(?: (${UNIT})s?)?|(${NUMBER})[- ](${UNIT}) (?:moving|rolling|trailing) average(?: of)?`,
    ([, a, unit, b, other], said) => {
      said.smooth = readNumber((a ?? b)!)
      said.smoothUnit = ((unit ?? other) as Unit | undefined) ?? null
      return `smoothed over ${said.smooth}${said.smoothUnit ? ` ${said.smoothUnit}s` : ''}`
    },
  ),
  phrase('measure', '(?:have |has )?ever(?: so far)?', (_match, said) => {
    if (said.kind !== null || (said.measure !== null && said.measure !== 'people')) return null
    said.measure = 'people so far'
    return 'people so far'
  }),
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

export function readPhrases(text: Text, vocabulary: Vocabulary, firstDayOfWeek: number): Said {
  const { today, thisYear } = vocabulary
  const said = nothingSaid(today)
  const isNamed = (index: number) =>
    eventMentions(text.tokens, text.isFree, vocabulary).some(
      ({ first, end, fit }) => first === index && end > index + 1 && fit >= WHOLE_NAME,
    )
  for (let index = 0; index < text.tokens.length; index++) {
    if (text.taken[index] || text.tokens[index]!.quoted) continue
    const at = text.tokens[index]!.from
    const phrase = PHRASES.find(({ regex, take, as, unlessNamed }) => {
      regex.lastIndex = at
      const match = regex.exec(text.lower)
      if (match && unlessNamed && isNamed(index)) return false
      const means = match && take(match, said)
      if (match && means) text.take(at, at + match[0].length, as, means)
      return means
    })
    const time = !phrase && said.range === null && readTime(text.lower, at, today, firstDayOfWeek)
    if (!time) continue
    said.range = time.range
    said.rangeAt = at
    if (time.isDay) said.figure = true
    if (time.season) said.every ??= 'month'
    const words = rangeWords(time.range, { thisYear })
    text.take(at, time.end, 'time', words.lead + words.text)
  }
  settleSmoothing(text, said)
  return said
}

const IN_ANOTHER: Partial<Record<`${Unit} ${Unit}`, number>> = { 'hour day': 24, 'day week': 7, 'month quarter': 3 }

/**
 * What is smoothed over days is asked by day, unless another unit is named: then over as many of those, where they come
 * out even. Where they do not, or are too few or too many, the words are given back as not used.
 */
function settleSmoothing(text: Text, said: Said): void {
  const { smooth, smoothUnit } = said
  if (smooth === null) return
  said.every ??= smoothUnit
  const apart = smoothUnit === null || smoothUnit === said.every ? 1 : IN_ANOTHER[`${smoothUnit} ${said.every!}`]
  const many = smooth / (apart ?? NaN)
  said.smooth = Number.isInteger(many) && many >= 2 && many <= 60 ? many : null
  if (said.smooth === null) text.giveBack((each) => each.means.startsWith('smoothed over'))
}
