import Button from '@mui/material/Button'
import { Link } from 'react-router'
import { formatNumber } from '../../core/words/format.js'

/** From page to page of a list, each at an address of its own; nothing where there is one page only. */
export function Pager(props: {
  /** from 1 */
  page: number
  pages: number
  address: (page: number) => string
  /** what leads back and on */
  words?: readonly [string, string]
}) {
  const { page, pages, address, words = ['Before', 'Next'] } = props
  if (pages <= 1) return null
  return (
    <div className="pager">
      <Button component={Link} to={address(page - 1)} disabled={page <= 1}>
        {words[0]}
      </Button>
      <span>
        Page {formatNumber(page)} of {formatNumber(pages)}
      </span>
      <Button component={Link} to={address(page + 1)} disabled={page >= pages}>
        {words[1]}
      </Button>
    </div>
  )
}
