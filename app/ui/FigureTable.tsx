import type { ReactNode } from 'react'
import { moveInTable } from './moveInTable.js'

export interface FigureHead {
  text: string
  title?: string
  /** words, not a figure */
  plain?: true
}

/** A table of figures that keys walk over; those that are people are `PeopleCell`s. The first column names the rows. */
export function FigureTable(props: {
  heads: readonly (string | FigureHead)[]
  /** whether people can be selected from it */
  selects: boolean
  children: ReactNode
}) {
  const { heads, selects, children } = props
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="The numbers" data-table="">
      <table className="numbers cohorts" role={selects ? 'grid' : undefined} onKeyDown={moveInTable}>
        <thead>
          <tr>
            {heads.map((head, i) => {
              const { text, title, plain }: FigureHead = typeof head === 'string' ? { text: head } : head
              return (
                <th key={i} scope="col" className={i === 0 || plain ? '' : 'number'} title={title}>
                  {text}
                </th>
              )
            })}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  )
}
