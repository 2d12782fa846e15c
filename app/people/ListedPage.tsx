import Button from '@mui/material/Button'
import type { ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import type { StudyPeople } from '../../core/analyses/people.js'
import { countOf } from '../../core/words/format.js'
import { peopleParams, studyAddress } from '../address/address.js'
import { saidPeopleWords } from '../analyses/words.js'
import { useWorkspace } from '../page/workspace.js'
import { Pager } from '../ui/Pager.js'
import { PeopleTabs } from './PeopleTabs.js'

export const LISTED_PAGE = 50

/** A page of what a selection counts beside people: sessions, or conversions. */
export function ListedPage(props: {
  reference: StudyPeople
  /** one of them, and several */
  one: string
  several: string
  count: number
  people: number
  page: number
  /** of the file, without the address of the selection */
  download: string
  /** stands after who they are */
  said?: string
  children: ReactNode
}) {
  const { reference: ref, one, several, count, people, page, download, said, children } = props
  const { words } = useWorkspace()
  const [search] = useSearchParams()
  const pages = Math.max(1, Math.ceil(count / LISTED_PAGE))
  const address = (to: number) => {
    const next = new URLSearchParams(search)
    next.set('page', String(to))
    return `?${next.toString()}`
  }
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/people">People</Link>
          <span aria-hidden="true">›</span>
          <Link to={studyAddress(asQuestion(ref.study))}>from a study</Link>
          <span aria-hidden="true">›</span>
          <strong>{several}</strong>
        </nav>
        <div className="page-actions">
          <Button component={Link} to={`/people?${peopleParams(ref)}`}>
            See the people
          </Button>
          <Button variant="outlined" component="a" href={download} download>
            Download list
          </Button>
        </div>
      </div>
      <PeopleTabs />
      <h1 className="people-count">
        <strong>{countOf(count, one, several)}</strong> of {countOf(people, 'person', 'people')}{' '}
        {saidPeopleWords(ref, words)}
        {said && <span className="soft"> · {said}</span>}
      </h1>
      <section className="sheet">
        {page > pages || count === 0 ? (
          <p className="pad soft">
            {count === 0 ? `No ${one} is counted there.` : `There are no more ${several}: go back to an earlier page.`}
          </p>
        ) : (
          children
        )}
        <Pager page={page} pages={pages} address={address} />
      </section>
    </main>
  )
}

/** The page that an address asks for, from 1. */
export const pageOf = (search: URLSearchParams): number =>
  Math.max(1, Math.floor(Number(search.get('page') ?? '1')) || 1)
