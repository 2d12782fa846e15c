import type { Unit } from '../time/range.js'
import { ANYBODY, phrase, type Phrase } from './phrase.js'
import type { Said } from './said.js'
import { NUMBER, readNumber } from './times.js'

/** What is asked for in ways that lead to several kinds of study, by what else is named. */

const UNIT = 'hour|day|week|month|quarter|year'
const WHO = `(?: (?:of )?(?:the |our |all |new |those )?${ANYBODY})?`
const DO = '(?: (?:do|does|did|will|would|have|has|can))?'

/** Coming back and staying away. */
const STAYING: Phrase[] = [
  phrase(
    'kind',
    `(?:how many|who|what (?:share|percent(?:age)?|part|proportion) of|do|did)${WHO}${DO} (?:come|came|coming|return(?:ed)?) back (?:the|in the|within an?|an?|one) (hour|day|week|month) after (?:their|the|an?) first(?: time)?`,
    ([, unit], said) => {
      Object.assign(said, { kind: 'retention', first: true, every: unit, at: 1 })
      return `retention, in ${unit} 1 after the first ever`
    },
  ),
  phrase(
    'kind',
    `(?:new|first[- ]time) (?:${ANYBODY} )?(?:vs\\.?|versus|and|or|against|compared (?:with|to)) (?:returning|retained|existing|repeat|old|recurring)`,
    (_match, said) => ((said.kind = 'growth'), 'growth accounting: new beside retained'),
  ),
  // By the day there is no growth accounting, and with an event it is that event which is new.
  {
    unlessNamed: true,
    ...phrase(
      'kind',
      `(?:how many )?new ${ANYBODY}(?= (?:(?:by|per|each|every|a) )?(?:week|weekly|month|monthly)(?![\\p{L}]))`,
      (_match, said) => {
        said.kind = 'growth'
        said.state = 'new'
        return 'growth accounting: new'
      },
    ),
  },
  phrase(
    'reading',
    '(?:has |have |did )?(?:changed?|developed?|evolved?|moved)(?: over time)?|over time',
    (_match, said) => {
      if (said.kind !== 'retention') return null
      said.at ??= 1
      return 'over time'
    },
  ),
  phrase(
    'kind',
    `(?:who|which ${ANYBODY}|how many(?: ${ANYBODY})?)(?: has| have)? (?:stopped|quit|gave up|given up|ceased|churned(?: from)?|no longer)(?: using)?`,
    (_match, said) => lapsed(said),
  ),
  phrase(
    'kind',
    '(?:(daily|weekly|monthly|quarterly) )?(?:churn(?:ed)?(?: rate)?|attrition|lapse rate)(?: of)?',
    ([, word], said) => {
      if (word !== undefined) said.every = word === 'daily' ? 'day' : (word.replace(/ly$/, '') as Unit)
      return lapsed(said)
    },
  ),
]

function lapsed(said: Said): string {
  said.kind = 'growth'
  said.state = 'lapsed'
  return 'growth accounting: lapsed'
}

/** Two numbers, the one over the other. */
const ACTIVE = '(?:active(?:s| (?:people|users|riders|customers|members))?)'
const LONG = { daily: 1, weekly: 7, monthly: 28, dau: 1, wau: 7, mau: 28 } as const
const OVER = '(?:over|divided by|by|to|\\/|per)'
const RATIOS: Phrase[] = [
  phrase('kind', '(?:the )?stickiness(?: ratio)?', (_match, said) => activeRatio(said, 1, 28)),
  phrase(
    'kind',
    `(daily|weekly) ${ACTIVE} ${OVER} (weekly|monthly) ${ACTIVE}|(dau|wau) ?${OVER} ?(wau|mau)`,
    ([, a, b, c, d], said) =>
      activeRatio(said, LONG[(a ?? c) as keyof typeof LONG], LONG[(b ?? d) as keyof typeof LONG]),
  ),
  phrase('measure', '(dau|wau|mau)s?', ([, word], said) => {
    Object.assign(said, { any: true, measure: 'people', every: { dau: 'day', wau: 'week', mau: 'month' }[word!] })
    return `people who did anything, each ${said.every!}`
  }),
]

function activeRatio(said: Said, days: number, ofDays: number): string | null {
  if (days >= ofDays) return null
  Object.assign(said, { ratio: { days, ofDays }, any: true, every: said.every ?? (days === 1 ? 'day' : 'week') })
  const words = (n: number) => (n === 1 ? 'a day' : `the last ${n} days`)
  return `people active in ${words(days)}, as a share of those in ${words(ofDays)}`
}

/** Getting from one thing to another. */
const THROUGH: Phrase[] = [
  phrase(
    'kind',
    `how long (?:do|does|did)${WHO}(?: it)?(?: usually| typically)? (?:take|need)s?(?: on average)?(?: for)?${WHO}(?: to (?:get|go))?(?: (?:from|between))?|how long (?:is it |was it )?(?:from|between)(?= .* (?:to|and) )|(?:the )?(?:average |median |typical )?time (?:it takes )?(?:from|between)(?= .* (?:to|and) )|(?:the )?time to(?= )`,
    (_match, said) => {
      if (said.kind !== null) return null
      Object.assign(said, { kind: 'funnel', shown: 'time' })
      return 'a funnel: time to convert'
    },
  ),
  phrase(
    'kind',
    `(?:where|at (?:what|which) (?:step|point))${DO}${WHO} (?:drop(?:ping|ped)?(?: (?:off|out))?|fall(?:ing)? (?:off|out)|get stuck|give up|get lost|bail(?: out)?)(?: (?:between|from))?|(?:the )?drop[- ]?offs?(?: (?:between|from|in|of))?`,
    (_match, said) => {
      Object.assign(said, { kind: 'funnel', shown: 'between' })
      return 'a funnel, with what lies between'
    },
  ),
  phrase(
    'kind',
    `(?:what|which) (?:share|percent(?:age)?|part|proportion|fraction) of(?: (?:the|our|all|new|those))? ${ANYBODY}(?: who| that)?${DO}|how many (?:percent|%) of ${ANYBODY}${DO}|(?:the )?(?:share|percent(?:age)?|proportion|fraction) of(?: the| our| all| new)? ${ANYBODY} (?:who|that)${DO}`,
    (_match, said) => ((said.shareOf = 'people'), 'a share of people'),
  ),
  phrase(
    'reading',
    '(?:(?:what|which) )?(?:share|percent(?:age)?|proportion|part|fraction) of(?: the| our| all)?(?! (?:active|all|the total|total|everyone))',
    (_match, said) => ((said.shareOf = 'events'), 'a share'),
  ),
  phrase(
    'kind',
    '(?:the )?conversion(?: rate)?(?: of| for)?(?: (?:is|was))?(?: (better|worse|higher|lower)(?: (?:on|for|with|among|in))?)?',
    ([, than], said) => {
      said.kind = 'funnel'
      if (than !== undefined) said.compares = true
      return 'a funnel'
    },
  ),
  phrase('kind', '(?:become|turn into|convert(?: in)?to|end up|end in|lead to|result in|go on to)s?', (_match, said) =>
    said.shareOf ? ((said.kind = 'funnel'), 'a funnel') : null,
  ),
  phrase('unit', `by (${UNIT}) of(?: (?:the|their|first))?`, ([, unit], said) => {
    Object.assign(said, { every: unit, byStart: true })
    return `each ${unit}`
  }),
]

/** Beside each other, and in order. */
const RANKING: Phrase[] = [
  phrase('comparison', '(?:more|less) active(?= .*\\bthan\\b)', (_match, said) => {
    Object.assign(said, { compares: true, any: true, measure: said.measure ?? 'events per person' })
    return 'how often for each person'
  }),
  phrase(
    'comparison',
    'more (?:often|frequently)(?= .*\\bthan\\b)|(?:more|less|fewer)(?= (?:\\p{L}+ ){0,4}than (?!\\d))|more(?= than (?!\\d|an? ))|less often(?= .*\\bthan\\b)',
    (_match, said) => {
      Object.assign(said, { compares: true, measure: said.measure ?? 'events per person' })
      return 'how often for each person'
    },
  ),
  phrase('comparison', '(?:compare|comparing|(?:the )?difference between)', (_match, said) => {
    said.compares = true
    return 'side by side'
  }),
  phrase(
    'groups',
    '(?:the )?(?:biggest|main|most common|commonest|leading|top|most popular|best|worst|largest)(?= (?:\\p{L}+ ){1,3}(?:of|for|by)(?![\\p{L}]))(?! \\d)',
    (_match, said) => {
      said.ranked = true
      return 'ranked, the largest first'
    },
  ),
  phrase(
    'groups',
    '(?:has|have|had|with|gets?|is|are) (?:the )?(?:best|worst|most|fewest|highest|lowest|biggest|largest)',
    (_match, said) => {
      said.ranked = true
      return 'ranked'
    },
  ),
  phrase('groups', '(?:the )?(?:most (?:popular|common|frequent|used)|commonest|busiest)', (_match, said) => {
    said.ranked = true
    return 'ranked, the largest first'
  }),
  phrase(
    'measure',
    `how much (?:did|do|does|have|has) (?:we|they|it|${ANYBODY}) (?:sell|sold|spend|spent|pay|paid|earn|earned|make|made|take in)`,
    (_match, said) => {
      if (said.kind !== null) return null
      Object.assign(said, { measure: 'sum', sort: 'money' })
      return 'what was paid, added up'
    },
  ),
  phrase('measure', `how long (?:do|does|did|is|are|was|were) (?:the |an? )?(?:${ANYBODY}(?= ))?`, (_match, said) => {
    if (said.kind !== null || said.measure !== null) return null
    Object.assign(said, { measure: 'median', sort: 'duration' })
    return 'the median of how long'
  }),
  phrase('measure', '(?:the )?(longest|shortest|priciest|most expensive|cheapest)', ([, word], said) => {
    const isTime = /longest|shortest/.test(word!)
    Object.assign(said, {
      measure: /shortest|cheapest/.test(word!) ? 'minimum' : 'maximum',
      sort: isTime ? 'duration' : 'money',
    })
    return `the ${said.measure!} of ${isTime ? 'how long' : 'what it costs'}`
  }),
  phrase(
    'measure',
    '(?:the )?(?:total )?(?:revenue|turnover|sales value|income|takings|earnings|money (?:made|earned))(?: (?:from|of|on))?',
    (_match, said) => {
      if (said.kind !== null) return null
      Object.assign(said, { measure: said.measure ?? 'sum', sort: 'money' })
      return 'what was paid, added up'
    },
  ),
  phrase('measure', `(?:the )?(?:95th percentile|p95)(?: of)?`, (_match, said) => {
    said.measure = '90th percentile'
    said.notes.push('The 90th and the 99th percentile are offered, not the 95th: this is the 90th.')
    return 'the 90th percentile: the 95th is not offered'
  }),
]

/** Why, and what something did to something. */
const WHY: Phrase[] = [
  phrase(
    'reading',
    'why (?:did|do|does|are|is|have|has|were|was)(?: the| our)?',
    (_match, said) => ((said.why = true), 'what it did around then'),
  ),
  phrase(
    'reading',
    '(?:go(?:ne|ing|es)?|went) (?:up|down)|(?:rise|rose|risen|rising|fall|fell|fallen|falling|drop(?:ped|ping)?|spik(?:e|ed|ing)|jump(?:ed|ing)?|increas(?:e|ed|ing)|decreas(?:e|ed|ing)|declin(?:e|ed|ing)|grow|grew|grown|shrink|shrank)',
    (_match, said) => (said.why ? 'a change' : null),
  ),
]

/** How often people do something. */
const OFTEN: Phrase[] = [
  phrase('kind', `how (?:often|many days|frequently) (?:do|does|did)(?= )(?! ${ANYBODY} naturally)`, (_match, said) => {
    if (said.kind !== null) return null
    said.kind = 'habit'
    return 'a habit: how many days in a month'
  }),
]

export const ASKINGS: Phrase[] = [...STAYING, ...RATIOS, ...THROUGH, ...RANKING, ...WHY, ...OFTEN]

/** "how many times", "3 times": what stands in a rule of people. */
export const TIMES_SAID = new RegExp(
  `(more than|over|at least|fewer than|less than|at most|exactly|only|just)? ?(?:(${NUMBER}) times|(once|twice)(?! a)|(${NUMBER}) or more times)(?![\\p{L}\\p{N}])`,
  'u',
)

/** @returns the comparison and the number that a match of `TIMES_SAID` says */
export function timesSaid([, how, times, word, more]: RegExpExecArray): {
  op: '>' | '≥' | '<' | '≤' | '='
  number: number
} {
  const number = word ? (word === 'once' ? 1 : 2) : readNumber((times ?? more)!)
  if (more) return { op: '≥', number }
  switch (how) {
    case 'more than':
    case 'over':
      return { op: '>', number }
    case 'fewer than':
    case 'less than':
      return { op: '<', number }
    case 'at most':
      return { op: '≤', number }
    case 'exactly':
    case 'only':
    case 'just':
      return { op: '=', number }
    default:
      return { op: '≥', number }
  }
}
