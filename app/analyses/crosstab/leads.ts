import { isClock } from '../../../core/questions/groupedBy.js'
import { asTrend, usualCrosstab, type CrosstabQuestion } from '../../../core/analyses/crosstab/question.js'
import type { CrosstabColumn, CrosstabResult } from '../../../core/analyses/crosstab/finish.js'
import { measureName } from '../../../core/analyses/crosstab/sentence.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { Catalog } from '../../../server/engine/catalog.js'
import { groupWords, propertyWords, splitHead, splitWords, toldGroup, type Words } from '../../../core/words/words.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import type { Cell, Leads, Look } from '../leads.js'

export const leads: Leads<CrosstabQuestion, CrosstabResult> = {
  start: ([first], { catalog }) => (first ? startingCrosstab(first.name, catalog) : usualCrosstab('…')),
  home(events, near) {
    const question = leads.start(events, near)
    const [row] = question.rows
    if (!row) return []
    const name = splitWords(row.by, near.words)
    return [
      { label: question.column ? `${name} by ${splitWords(question.column.by, near.words)}` : `By ${name}`, question },
    ]
  },
  table: crosstabTable,
  next: (question, result, { catalog, words }) => afterCrosstab(question, result, catalog, words),
}

/** Rows and columns by the two profile properties that tell most; by source, where there are none. */
function startingCrosstab(event: string, catalog: Catalog): CrosstabQuestion {
  const usual = usualCrosstab(event)
  const rows = goodBreakdown(catalog, usual)
  if (!rows) return usual
  const once: CrosstabQuestion = { ...usual, rows: [{ by: rows, keep: 10 }] }
  const column = goodBreakdown(catalog, once)
  return column ? { ...once, column: { by: column, keep: 10 } } : once
}

function afterCrosstab(question: CrosstabQuestion, { rows }: CrosstabResult, catalog: Catalog, words: Words): Look[] {
  const { column: _column, ...plain } = question
  const looks: Look[] = []
  const property = goodBreakdown(catalog, question)
  if (!question.column && question.series.length === 1 && property)
    looks.push({
      label: `How does it fall across ${propertyWords(property, words)}?`,
      question: { ...question, column: { by: property, keep: 10 } },
    })
  looks.push({
    label: `How does it go over time, for each ${splitWords(question.rows[0].by, words)}?`,
    question: { ...asTrend(plain), breakdowns: [question.rows[0]] },
  })
  const top = rows.find(({ path }) => path.length === 1 && !('rest' in path[0]))
  if (top && !isClock(question.rows[0].by))
    looks.push({
      label: `What else did people of ${toldGroup(top.path[0], question.rows, words)} do?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'events per person' }],
        every: question.every,
        range: question.range,
        among: { study: question, marks: [{ kind: 'cell', row: top.path }] },
      },
    })
  if (question.column && question.rows.length === 1)
    looks.push({
      label: 'And the other way round?',
      question: { ...question, rows: [question.column], column: question.rows[0] },
    })
  return looks.slice(0, 4)
}

/** A row for each row of the table at every depth, outer ones with what they hold together; all together last. */
function crosstabTable(question: CrosstabQuestion, result: CrosstabResult, words: Words): Cell[][] {
  const measured = ({ series }: CrosstabColumn) => measureName(question, series, words)
  const head = [
    ...question.rows.map(({ by }) => splitHead(by, words)),
    ...result.columns.map((column) =>
      question.column ? (column.key ? groupWords(column.key, column.rest) : 'All together') : measured(column),
    ),
  ]
  const cells = [...result.rows, result.all].map(({ path, rest, values }) => [
    ...question.rows.map((_, depth) => {
      if (depth < path.length) return groupWords(path[depth], rest)
      return depth === path.length ? (depth === 0 ? 'All together' : 'all') : ''
    }),
    ...values,
  ])
  return [head, ...cells]
}
