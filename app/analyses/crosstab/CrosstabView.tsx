import { FindField } from '../../ui/FindField.js'
import type { CrosstabMark } from '../../../core/analyses/crosstab/marks.js'
import { memo, useState } from 'react'
import type { CrosstabResult } from '../../../core/analyses/crosstab/finish.js'
import { cellForms, type CellForm, type CrosstabQuestion } from '../../../core/analyses/crosstab/question.js'
import type { NestedKey } from '../../../core/questions/parts.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'
import { Beside, BesideChoice } from './Beside.js'
import { CrosstabTable } from './CrosstabTable.js'
import { rowId } from './rows.js'

const CELLS: Record<CellForm, string> = { bars: 'Bars', heat: 'Shaded', plain: 'Plain' }

/** More rows than this can be searched. */
const SEARCH_FROM = 8

function CrosstabBody(props: BodyProps<CrosstabQuestion, CrosstabResult, CrosstabMark>) {
  const { question, result, words, edit, selected, onSelect } = props
  const { show } = question
  const [search, setSearch] = useState('')
  const [pressed, setPressed] = useState<readonly NestedKey[]>([])
  // A row that is no longer there gives way to all together.
  const rowOf = (path: readonly NestedKey[]) => result.rows.find((row) => rowId(row.path) === rowId(path))
  const row = (show.locked && rowOf(show.locked)) ?? rowOf(pressed) ?? result.all
  const press = { ...(edit ? { edit } : {}), ...(onSelect ? { onSelect } : {}) }
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented
            label="Cells"
            value={show.cells}
            options={cellForms.map((value) => ({ value, label: CELLS[value] }))}
            onChange={(cells) => edit({ ...question, show: { ...show, cells } })}
          />
          {result.rows.length > SEARCH_FROM && <FindField label="Find a row" value={search} onChange={setSearch} />}
          <span className="bar-end">
            <span className="bar-label">Beside it</span>
            <BesideChoice question={question} edit={edit} />
          </span>
        </div>
      )}
      <div className={`crosstab-grid${show.beside === 'nothing' ? ' alone' : ''}`}>
        <CrosstabTable
          result={result}
          question={question}
          words={words}
          search={search}
          followed={show.beside === 'nothing' ? '' : rowId(row.path)}
          onFollow={({ path }) => setPressed(path)}
          selected={selected}
          {...press}
        />
        {show.beside !== 'nothing' && (
          <Beside result={result} question={question} words={words} row={row} selected={selected} {...press} />
        )}
      </div>
    </>
  )
}

export const view: KindView<CrosstabQuestion, CrosstabResult, CrosstabMark> = {
  Body: memo(CrosstabBody),
  Numbers: null,
}
