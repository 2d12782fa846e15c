import { countOf, joinWords } from '../../words/format.js'
import type { Words } from '../../words/words.js'
import type { PeopleRef, StudyPeople } from '../people.js'
import type { AttributionMark } from './marks.js'
import { leadOf, type AttributionQuestion, type Model } from './question.js'
import { modelWords, sayCredit, touchWords, worthWords } from './words.js'

/** Conversions that are counted somewhere. */
export interface Credited {
  count: number
  /** what of them is credited to the values that they are counted by; null = the model shares no conversion by itself */
  credit: number | null
}

/** `credited with 3.4 conversions`, or `12 conversions` where no value is asked about. */
export function creditedWords(ref: PeopleRef, { count, credit }: Credited, words: Words): string {
  if (!('study' in ref)) return ''
  const marks = ref.marks as readonly AttributionMark[]
  const ofValue = marks.some((mark) => mark.kind === 'credit' && mark.value !== undefined)
  if (!ofValue || credit === null) return countOf(count, 'conversion', 'conversions')
  const { worth } = ref.study as AttributionQuestion
  if (worth !== undefined)
    return `credited with ${sayCredit(credit)} ${worth === 'people' ? '' : 'of '}${worthWords({ worth }, words)}`
  return `credited with ${sayCredit(credit)} ${sayCredit(credit) === '1' ? 'conversion' : 'conversions'}`
}

/** `credited to Search by last touch`, for the head of a column; null where no value is asked about. */
export function creditedBy(ref: StudyPeople, words: Words): string | null {
  const marks = ref.marks as readonly AttributionMark[]
  const study = ref.study as AttributionQuestion
  const keys = marks.flatMap((mark) => (mark.kind === 'credit' && mark.value !== undefined ? [mark.value] : []))
  if (keys.length === 0) return null
  const names = [...new Set(keys.map((key) => touchWords(key, study.by, undefined, words)))]
  return `To ${joinWords(names, 'and')} by ${modelWords(modelOfMarks(marks, leadOf(study)))}`
}

/** By which model a list of marks shares conversions: that of the first mark that names one, or the one the study is ordered by. */
export function modelOfMarks(marks: readonly AttributionMark[], lead: Model): Model {
  for (const mark of marks) if (mark.kind === 'credit' && mark.model !== undefined) return mark.model
  return lead
}
