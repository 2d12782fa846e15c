import {
  sessionUnits,
  usualSessions,
  type SessionsQuestion,
  type SessionUnit,
} from '../../analyses/sessions/question.js'
import type { TrendQuestion } from '../../analyses/trend/question.js'
import { DEPTH, FROM_END } from '../../analyses/sessions/depth.js'
import type { Condition, EventPick } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import { POSITION } from '../../sessions/depth.js'
import { ANYBODY, phrase, type Phrase } from '../phrase.js'
import { NUMBER, readNumber } from '../times.js'
import type { Said, SaidOfSessions } from '../said.js'

const SESSION = '(?:sessions?|visits?)'
const IN_IT =
  '(?: (?:in|on|with|within) (?:the app|the site|the website|it|us|(?:an?|any|the|each) (?:session|visit)))?'
const DO = `(?: (?:do|does|did|is|are|was|were))?(?: ${ANYBODY}(?= ))?`
const ofSessions = (source: string, take: (match: RegExpExecArray) => { means: string } & SaidOfSessions): Phrase =>
  phrase('kind', source, (match, said) => {
    const { means, ...asked } = take(match)
    said.kind = 'sessions'
    said.any = true
    said.ofSessions = asked
    return means
  })
/** Of sessions. */
export const VISITS: Phrase[] = [
  ofSessions(
    `(?:how|at what|at which) (?:deep|far|early|late|position|place) (?:into|in) (?:a |an |the |their )?${SESSION} ?(?:do|does|did|is|are|was)?(?: ${ANYBODY}(?= ))?|how (?:deep|far|early|late) (?:do|does|did) ${ANYBODY} (?:into|in) (?:a |an |the |their )?${SESSION}|position in (?:a |the )?${SESSION} of`,
    () => ({ means: 'its place in a session', depth: 'place' }),
  ),
  ofSessions(`how many minutes (?:in|into|after the start of) (?:an? |the |their )?${SESSION}${DO}`, () => ({
    means: 'how many minutes into a session',
    depth: 'minutes',
  })),
  ofSessions(`how (?:often|many times) (?:in|per|during) (?:an? |the |each )?${SESSION}${DO}`, () => ({
    ...{ means: 'how often in a session', depth: 'often' },
  })),
  // "how often do people ask for help in a session": asked of by the end of it.
  phrase('kind', `(?:in|per|during) (?:an? |the |each |one )?${SESSION}`, (_match, said) => {
    const isOften = said.kind === 'habit' || said.measure === 'events' || said.measure === 'events per person'
    if (!isOften) return null
    Object.assign(said, { kind: 'sessions', any: true, ofSessions: { depth: 'often' } })
    return 'how often in a session'
  }),
  ofSessions(
    `(?:where|at (?:what|which) (?:place|point|position|step|stage)) (?:in|of) (?:an? |the |their )?${SESSION} (?:do|does|did) ${ANYBODY} (?:leave|stop|give up|drop (?:off|out)|quit|end)`,
    () => ({ means: 'at which place sessions end', depth: 'end' }),
  ),
  phrase(
    'kind',
    '(?:that |which )?(begin|start|end|stop)(?:s|ning|ing|ping|ed)? (?:with|by|on|in|at)(?: an?)?',
    ([, word], said) => {
      if (!said.ofSessions && (said.kind !== null || said.measure !== 'sessions')) return null
      const from = word === 'begin' || word === 'start' ? 'entry' : 'exit'
      said.kind = 'sessions'
      said.any = true
      said.ofSessions = { measure: 'sessions', ...said.ofSessions, from }
      return `what ${from === 'entry' ? 'begins' : 'ends'} the session`
    },
  ),
  ofSessions(
    `(?:the )?(?:${SESSION} )?bounce rate(?: of)?|(?:the )?(?:share|percentage|part|how many) of ${SESSION} (?:with|of|that have) (?:only |just )?(?:one|1|a single) event(?: only)?|single[- ]event ${SESSION}|how many leave after one event`,
    () => ({
      ...{ means: 'the share of sessions of one event', measure: 'single' },
    }),
  ),
  ofSessions(
    `(?:how much |the )?time (?:spent |on the app |in the app )?(?:on (?:the )?(?:app|site|website) |in (?:the )?app )?(?:per|for each|of each|by each) ${ANYBODY}|how much time (?:does|do|did) (?:an? |each )?${ANYBODY} spend${IN_IT}`,
    () => ({ means: 'time per person', measure: 'time per person' }),
  ),
  ofSessions(
    `(?:how many |number of )?${SESSION} (?:per|for each|of each|a) ${ANYBODY}|how many ${SESSION} (?:does|do) (?:an? |each )?${ANYBODY} have`,
    () => ({
      ...{ means: 'sessions per person', measure: 'per person' },
    }),
  ),
  ofSessions(
    `(?:how many )?events (?:per|in a|in each|a) ${SESSION}|how many events (?:does|do|are in|has) (?:an? |each )?${SESSION}(?: have)?|how (?:much (?:do|does|did) ${ANYBODY} do|thoroughly (?:do|does|did) ${ANYBODY} (?:explore|look around))(?: in (?:an? |each |the )?${SESSION})?`,
    () => ({
      ...{ means: 'events in a session', measure: 'events' },
    }),
  ),
  ofSessions(
    `(?:the )?(?:first|last) (?:thing|event)s? (?:in|of) (?:an? |the |each )?${SESSION}|what (?:do|does|did|are) ${SESSION} (?:begin|start|end|open)s?(?: with)?|what (?:do|did|does) ${ANYBODY} do (?:first|last) (?:in|of) (?:an? |the |each |their )?${SESSION}|what (?:is|are) the (?:first|last) things? (?:that )?(?:${ANYBODY} (?:do|did) )?(?:in|of) (?:an? |the |each |their )?${SESSION}|(?:the )?(?:entry|exit) events?(?= of| in|$)|where do ${ANYBODY} leave(?: the app)?`,
    () => ({ means: 'what sessions begin and end with', ways: true }),
  ),
  ofSessions(
    `(?:what (?:share|part|percentage) of |how many )?${SESSION} (?:that )?(?:are |last )?(?:longer than|over|more than|of more than|of over) (${NUMBER}) minutes?`,
    ([, n]) => ({ means: `sessions of over ${readNumber(n!)} minutes`, over: readNumber(n!) }),
  ),
  ofSessions(
    `(?:the )?(average|mean|avg|median|typical)? ?${SESSION} (?:length|duration)s?|(?:the )?(average|mean|median|typical)? ?(?:length|duration)s? of (?:an? |the )?${SESSION}|how long (?:is|are|was|were) (?:an? |the )?(average|typical|median)? ?${SESSION}(?: on average)?|how long (?:do|did) ${SESSION} last|how long (?:do|does|did)(?: ${ANYBODY})?(?= (?:[\\p{L}]+ ){0,3}stay)`,
    ([whole]) =>
      /average|mean|avg/u.test(whole)
        ? { means: 'the average length of a session', measure: 'average length' }
        : { means: 'the length of a typical session', measure: 'median length' },
  ),
  phrase('kind', `stay${IN_IT}`, (_match, said) => (said.ofSessions ? 'how long a session is' : null)),
]

/**
 * A study of sessions, or of the place of an event in them.
 * @param picks  the events that were named; none = all sessions
 * @param people conditions on people that stand by themselves
 */
export function buildSessions(
  said: Said,
  asked: SaidOfSessions,
  picks: readonly EventPick[],
  people: readonly Condition[],
  splits: readonly Split[],
): SessionsQuestion | TrendQuestion | null {
  const [first] = picks
  const among =
    people.length > 0
      ? { among: { rule: { hold: 'all' as const, of: people.map((where) => ({ kind: 'profile' as const, where })) } } }
      : {}
  const range = said.range ? { range: said.range } : {}
  if (asked.depth) {
    // Of anything at all it would be told of how long sessions are.
    if (asked.depth !== 'end' && (!first || 'activity' in first.event)) return null
    const found = asked.depth === 'end' ? DEPTH.end() : DEPTH[asked.depth](first!)
    return {
      ...{ ...found, ...range, ...among },
      ...(said.every ? { every: said.every } : {}),
      breakdowns: [...found.breakdowns!, ...splits].slice(0, 3),
    }
  }
  const usual = usualSessions()
  const every = sessionUnits.includes(said.every as SessionUnit) ? { every: said.every as SessionUnit } : {}
  return {
    ...{ ...usual, measure: asked.measure ?? usual.measure, ...every, ...range, ...among },
    ...(first ? { holds: asked.from ? endedBy(first, asked.from) : first } : {}),
    ...(said.compare ? { compare: said.compare } : {}),
    ...(splits.length > 0 ? { breakdowns: splits.slice(0, 2) } : {}),
    show: {
      form: asked.ways ? 'ways' : asked.over === undefined ? 'over time' : 'lengths',
      ...(asked.over === undefined ? {} : { over: asked.over }),
    },
  }
}

/** Of sessions that an event begins or ends: one that stands first or last in its session. */
function endedBy({ event, where }: EventPick, from: 'entry' | 'exit'): EventPick {
  const place: Condition = { property: from === 'entry' ? POSITION : FROM_END, op: '=', number: 1 }
  return { event, where: where ? { all: [place, where] } : place }
}
