import { type Reading, sentenceText } from '../../words/sentence.js'
import { formatAs, formatNumber, proseShare } from '../../words/format.js'
import {
  eventWords,
  groupWords,
  plain,
  splitWords,
  strong,
  toldGroup,
  type Finding,
  type Words,
} from '../../words/words.js'
import type { NestedKey } from '../../questions/parts.js'
import { MEASURES } from '../trend/measures.js'
import { figureParts } from '../trend/sentence.js'
import type { CrosstabResult } from './finish.js'
import type { CrosstabQuestion } from './question.js'

/** Fewer people than this in a cell say little. */
const FEW = 30
/** A cell's number must differ by this many standard deviations from what rows and columns alone let expect. */
const CLEAR = 3.3

/** What the table says: its largest row, and the cell that stands out most. Each only where it holds. */
export function crosstabFindings(result: CrosstabResult, question: CrosstabQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const cautions: Finding[] = []
  const [series] = question.series
  const { shares } = MEASURES[series.measure]
  const outer = result.rows.filter(({ path }) => path.length === 1 && !('rest' in path[0]))
  const across = question.column ? result.columns.length - 1 : 0
  const { unit } = result.columns[across]
  const name = series.name ?? sentenceText(figureParts(series, words))
  const by = splitWords(question.rows[0].by, words)
  const value = (row: { values: (number | null)[] }) => row.values[across]
  const told = outer.filter((row) => value(row) !== null)
  const all = result.all.values[across]
  if (told.length > 1) {
    const ranked = told.toSorted((a, b) => value(b)! - value(a)!)
    const [top] = ranked
    const last = ranked[ranked.length - 1]
    const number = (row: (typeof outer)[number]) => formatAs(value(row), unit, words.currency)
    if (value(top)! > value(last)!) {
      const finding = [
        plain(`By ${by}, `),
        strong(groupWords(top.path[0])),
        plain(' comes first with '),
        strong(number(top)),
        plain(` (${name})`),
      ]
      if (shares && all !== null && all > 0 && !result.overlap)
        finding.push(plain(', '), strong(proseShare(value(top)! / all)), plain(' of all'))
      finding.push(plain(`; ${groupWords(last.path[0])} comes last with ${number(last)}.`))
      findings.push(finding)
    }
  }
  const out = question.column && shares && !result.overlap ? standsOut(result) : null
  if (out) {
    const { ratio } = out
    const by =
      ratio >= 2
        ? `${formatNumber(ratio)} times`
        : `${proseShare(Math.abs(ratio - 1))} ${ratio >= 1 ? 'more than' : 'fewer than'}`
    findings.push([
      strong(`${toldGroup(out.row, question.rows, words)} · ${toldGroup(out.column, [question.column!], words)}`),
      plain(' stands out: '),
      strong(formatNumber(out.value), ratio >= 1 ? 'gain' : 'loss'),
      plain(`, ${by} the ${formatNumber(Math.round(out.expected))} that its row and column alone suggest.`),
    ])
  }
  if (findings.length === 0)
    findings.push(
      told.length === 0
        ? [plain('Nobody did '), strong(eventWords(series.event, words)), plain(' in this time, as asked.')]
        : [
            strong(formatAs(all, unit, words.currency)),
            plain(` (${name}) in all${told.length > 1 ? '; no row stands before the others' : ''}.`),
          ],
    )
  if (result.overlap)
    cautions.push([
      plain(
        'A person can be in several rows or columns, so that people do not add up to the totals. The totals count each person once.',
      ),
    ])
  const small = result.rows.filter(
    ({ people, path }) => people[across] > 0 && people[across] < FEW && !('rest' in path.at(-1)!),
  )
  if (small.length > 0 && !shares)
    cautions.push([
      strong(String(small.length)),
      plain(small.length === 1 ? ' row is' : ' rows are'),
      plain(` of fewer than ${FEW} people: a few of them can move the figure.`),
    ])
  return { findings, cautions }
}

/**
 * The cell that differs most from (row total × column total) / total, by its standardised residual
 * (Haberman 1973: residual over √(expected × (1 − row share) × (1 − column share))). Of two rows and columns all cells
 * have the same one: of equal ones the cell is told that is most times larger than expected.
 */
export function standsOut(
  result: CrosstabResult,
): { row: NestedKey; column: NestedKey; value: number; expected: number; ratio: number } | null {
  const last = result.columns.length - 1
  const total = result.all.values[last]
  if (!total) return null
  const clear: (NonNullable<ReturnType<typeof standsOut>> & { residual: number })[] = []
  for (const { path, values } of result.rows) {
    if (path.length !== 1 || 'rest' in path[0]) continue
    result.columns.forEach(({ key }, column) => {
      const [value, inRow, inColumn] = [values[column], values[last], result.all.values[column]]
      if (key === null || 'rest' in key || value === null || !inRow || !inColumn) return
      const expected = (inRow * inColumn) / total
      const spread = Math.sqrt(expected * (1 - inRow / total) * (1 - inColumn / total))
      const residual = spread > 0 ? Math.abs(value - expected) / spread : 0
      if (expected < 5 || residual <= CLEAR) return
      clear.push({ row: path[0], column: key, value, expected, ratio: value / expected, residual })
    })
  }
  const most = Math.max(...clear.map(({ residual }) => residual)) * (1 - 1e-9)
  const [best] = clear.filter(({ residual }) => residual >= most).sort((a, b) => b.ratio - a.ratio)
  return best ?? null
}
