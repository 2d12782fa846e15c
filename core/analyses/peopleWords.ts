import type { SentencePart } from '../words/sentence.js'
import type { AnyMark, StudyDefinition } from '../questions/study.js'
import { quoted } from '../words/exact.js'
import type { Words } from '../words/words.js'
import { dayOf } from '../time/range.js'
import { kindOf } from './kinds.js'
import type { Among, PeopleRef, RulePeople, StudyPeople } from './people.js'
import { isGroup, type MemberCondition, type Rule } from '../segments/rule.js'
import { ruleWords, saidWords, segmentName, type StudyWords } from '../segments/words.js'
import { formatDay } from '../words/format.js'

/** ", among …" or ", not among …"; nothing where everybody is asked. */
export function amongParts({ among }: { among?: Among | undefined }, words: Words): SentencePart[] {
  if (!among) return []
  const all = among.everybody
    ? [{ text: ', with ' }, { text: 'nobody left out', token: 'among', tone: 'water' as const, path: 'among' }]
    : []
  if (isEverybody(among)) return all
  const alone = loneSegment(among)
  return [
    { text: alone?.not ? ', not among ' : ', among ' },
    { text: amongWords(among, words), token: 'among', tone: 'water', path: 'among' },
    ...all,
  ]
}

/** Whether a study is asked among all there are, and only says that nobody is left out. */
export function isEverybody(ref: Among): boolean {
  return 'rule' in ref && ref.at === undefined && !ref.came && isGroup(ref.rule) && ref.rule.of.length === 0
}

/** Whoever is, or is not, in the one segment that people are asked by. */
export function loneSegment(ref: PeopleRef): MemberCondition | null {
  return 'rule' in ref && ref.at === undefined && !ref.came ? loneCondition(ref.rule) : null
}

function loneCondition(rule: Rule): MemberCondition | null {
  if (isGroup(rule) || rule.kind !== 'segment') return null
  return rule.since === undefined && !rule.off ? rule : null
}

/** Who the people are, after "among" or "not among": `those who did Ride completed in the week of 14 Sep`. */
export function amongWords(ref: Among, words: Words): string {
  const alone = loneSegment(ref)
  if (alone) return words.full ? quoted(segmentName(alone.segment, words)) : segmentName(alone.segment, words)
  if ('rule' in ref) return `people ${words.full ? exactPeople(ref, words) : peopleWords(ref, words)}`
  return `those ${words.print ? exactMarks(ref, words) : `who ${marksWords(ref, words)}`}`
}

/** Who a rule's people are, with the moments said to the millisecond. */
function exactPeople({ rule, at, came, since }: RulePeople, words: Words): string {
  const said = ruleWords(rule, words, studyClause)
  const moment = (ms: number) => quoted(new Date(ms).toISOString())
  if (came)
    return `who ${came === 'in' ? 'came into' : 'went out of'} ${said} between ${moment(since!)} and ${at === undefined ? 'now' : moment(at)}`
  return at === undefined ? said : `${said} as of ${moment(at)}`
}

function exactMarks({ study, marks }: StudyPeople, words: Words): string {
  const kind = kindOf(study.kind)
  const said = marks.map((mark) => kind.marks.exact(study, mark, words))
  return `${said.join(', or ')} of “${words.print!(study)}”`
}

/** Who a study's people are, after "who"; in full, after "are". */
export const studyClause: StudyWords = (condition, words) =>
  words.print ? `are those ${exactMarks(condition, words)}` : marksWords(condition, words)

/** Who the people are, beginning with "who", "whose" or "for whom". */
export function peopleWords(ref: PeopleRef, words: Words): string {
  if (!('rule' in ref)) return `who ${marksWords(ref, words)}`
  const alone = loneCondition(ref.rule)
  const name = alone && `${alone.not ? 'not ' : ''}in ${segmentName(alone.segment, words)}`
  const day = (ms: number) => formatDay(dayOf(ms, words.zone ?? 'UTC').toString(), words.thisYear)
  if (ref.came) {
    const which = alone && !alone.not ? segmentName(alone.segment, words) : 'the people'
    const into = ref.came === 'in' ? `who came into ${which}` : `who went out of ${which}`
    const until = ref.at === undefined ? 'now' : day(ref.at)
    const rest = alone && !alone.not ? '' : ` ${ruleWords(ref.rule, words, studyClause)}`
    return `${into}${rest} between ${day(ref.since!)} and ${until}`
  }
  if (ref.at !== undefined)
    return name
      ? `who were ${name} on ${day(ref.at)}`
      : `${ruleWords(ref.rule, words, studyClause)}, as of ${day(ref.at)}`
  return name ? `who are ${name}` : ruleWords(ref.rule, words, studyClause)
}

/** As `peopleWords`, with the conditions of a short rule each said: for a heading, which has room. */
export function saidPeopleWords(ref: PeopleRef, words: Words): string {
  const said = 'rule' in ref && !ref.came && ref.at === undefined ? saidWords(ref.rule, words, studyClause) : null
  return said ?? peopleWords(ref, words)
}

/** Who the people are, after "who": `did Ride completed in the week of 14 Sep (Plan: Day pass)`. */
function marksWords({ study, marks }: StudyPeople, words: Words): string {
  const shown = marks.slice(0, 3).map((mark) => markWords(study, mark, words))
  const more = marks.length - shown.length
  return [...new Set(shown), ...(more > 0 ? [`are in ${more} more selected places`] : [])].join(', or ')
}

/** Of a mark that is none of the study's. */
const COUNTED = 'are counted in it'

function markWords(study: StudyDefinition, mark: AnyMark, words: Words): string {
  const { marks } = kindOf(study.kind)
  return marks.kinds.some((kind) => kind === mark.kind) ? marks.words(study, mark, words) : COUNTED
}
