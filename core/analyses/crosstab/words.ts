import { keyWords } from '../../words/exact.js'
import { eventWords, groupWords, type Words } from '../../words/words.js'
import { exactBucket, exactDetails } from '../markWords.js'
import { whenWords } from '../trend/words.js'
import type { CrosstabMark } from './marks.js'
import type { CrosstabQuestion } from './question.js'

/** `did Ride completed over the last 12 weeks (Harbour · Day pass)`. */
export function cellWords(study: CrosstabQuestion, cell: CrosstabMark, words: Words): string {
  const series = study.series[cell.series ?? 0] ?? study.series[0]
  const places = [...cell.row, ...(cell.column ? [cell.column] : [])].map((key) => groupWords(key))
  const when = whenWords(series, study, cell.bucket, words)
  const group = places.length > 0 ? ` (${places.join(' · ')})` : ''
  return `did ${eventWords(series.event, words)}${series.where ? ', as filtered,' : ''} ${when}${group}`
}

/** The same, so that it can be read back: `in the row Quay › Day pass in the week of 14 Sep`. */
export function exactCell({ every }: CrosstabQuestion, cell: CrosstabMark, words: Words): string {
  const row = cell.row.length === 0 ? 'in all rows' : `in the row ${cell.row.map(keyWords).join(' › ')}`
  const column = cell.column ? ` and the column ${keyWords(cell.column)}` : ''
  const time = cell.bucket === undefined ? '' : ` in ${exactBucket(cell.bucket, every, words)}`
  return row + column + time + exactDetails(cell.series ? `series ${cell.series + 1}` : undefined)
}
