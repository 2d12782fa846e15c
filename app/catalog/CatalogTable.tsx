import Checkbox from '@mui/material/Checkbox'
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type RowSelectionState,
  type SortingState,
} from '@tanstack/react-table'
import { useState, type ReactNode } from 'react'

export { createColumnHelper, type ColumnDef }

/** Rows shown before one asks for more: a file with two thousand columns makes as many properties. */
const PAGE = 200

declare module '@tanstack/react-table' {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the library's own signature
  interface ColumnMeta<TData, TValue> {
    number?: boolean
    /** left out where there is little room */
    wide?: boolean
    width?: string
  }
}

/** A table of the catalog: sorted by its heads, rows opened by a press, several chosen by their boxes. */
export function CatalogTable<T>(props: {
  label: string
  rows: readonly T[]
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- columns differ in the type of their values
  columns: ColumnDef<T, any>[]
  idOf: (row: T) => string
  open: string | null
  onOpen: (row: T) => void
  /** what can be done with several, above the table */
  bulk?: (chosen: T[], clear: () => void) => ReactNode
  empty: ReactNode
  start: SortingState
}) {
  const { label, rows, columns, idOf, open, onOpen, bulk, empty, start } = props
  const [sorting, setSorting] = useState<SortingState>(start)
  const [chosen, setChosen] = useState<RowSelectionState>({})
  const [shown, setShown] = useState(PAGE)
  const table = useReactTable({
    data: rows as T[],
    columns,
    state: { sorting, rowSelection: chosen },
    getRowId: idOf,
    onSortingChange: setSorting,
    onRowSelectionChange: setChosen,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })
  const all = table.getRowModel().rows
  const picked = all.filter((row) => row.getIsSelected()).map((row) => row.original)
  if (rows.length === 0) return <section className="sheet pad empty-table">{empty}</section>
  return (
    <section className="sheet">
      {bulk && picked.length > 0 && <div className="bulk">{bulk(picked, () => setChosen({}))}</div>}
      <div className="table-scroll" role="region" aria-label={label} tabIndex={0}>
        <table className="catalog-table">
          <thead>
            <tr>
              {bulk && (
                <th className="box">
                  <Checkbox
                    size="small"
                    checked={picked.length === all.length}
                    indeterminate={picked.length > 0 && picked.length < all.length}
                    onChange={(_event, on) => table.toggleAllRowsSelected(on)}
                    slotProps={{ input: { 'aria-label': 'All rows' } }}
                  />
                </th>
              )}
              {table.getFlatHeaders().map((header) => {
                const { meta } = header.column.columnDef
                const sorted = header.column.getIsSorted()
                return (
                  <th
                    key={header.id}
                    scope="col"
                    className={`${meta?.number ? 'number' : ''}${meta?.wide ? ' wide-only' : ''}`}
                    style={meta?.width ? { width: meta.width } : undefined}
                    aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : undefined}
                  >
                    {header.column.getCanSort() ? (
                      <button type="button" onClick={header.column.getToggleSortingHandler()}>
                        {flexRender(header.column.columnDef.header, header.getContext())}
                        <span aria-hidden="true">{sorted === 'asc' ? ' ↑' : sorted === 'desc' ? ' ↓' : ''}</span>
                      </button>
                    ) : (
                      flexRender(header.column.columnDef.header, header.getContext())
                    )}
                  </th>
                )
              })}
            </tr>
          </thead>
          <tbody>
            {all.slice(0, shown).map((row) => (
              <tr key={row.id} className={row.id === open ? 'open' : ''} onClick={() => onOpen(row.original)}>
                {bulk && (
                  <td className="box" onClick={(event) => event.stopPropagation()}>
                    <Checkbox
                      size="small"
                      checked={row.getIsSelected()}
                      onChange={(_event, on) => row.toggleSelected(on)}
                      slotProps={{ input: { 'aria-label': `Choose ${row.id}` } }}
                    />
                  </td>
                )}
                {row.getVisibleCells().map((cell) => {
                  const { meta } = cell.column.columnDef
                  return (
                    <td key={cell.id} className={`${meta?.number ? 'number' : ''}${meta?.wide ? ' wide-only' : ''}`}>
                      {flexRender(cell.column.columnDef.cell, cell.getContext())}
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {all.length > shown && (
        <div className="pager">
          <button type="button" className="link-button" onClick={() => setShown(shown + 10 * PAGE)}>
            Show the other {all.length - shown}
          </button>
        </div>
      )}
    </section>
  )
}
