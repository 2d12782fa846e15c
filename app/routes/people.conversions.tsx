import { asQuestion } from '../../core/analyses/asQuestion.js'
import { creditedBy, creditedWords } from '../../core/analyses/attribution/listedWords.js'
import type { AttributionQuestion } from '../../core/analyses/attribution/question.js'
import { faultWords } from '../../core/questions/faults.js'
import { peopleParams } from '../address/address.js'
import { readPeople } from '../address/readAddress.server.js'
import { dowser, missing } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import { ConversionTable } from '../people/ConversionTable.js'
import { listsOf } from '../people/listAddress.js'
import { LISTED_PAGE, ListedPage, pageOf } from '../people/ListedPage.js'
import type { Route } from './+types/people.conversions'

export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const ref = readPeople(search)
  if (!ref || !('study' in ref) || listsOf(ref) !== 'conversions')
    missing(
      'The address does not say which conversions. Select a number in a study of what brought people, and choose “See their conversions”.',
    )
  const page = pageOf(search)
  const part = { offset: (page - 1) * LISTED_PAGE, limit: LISTED_PAGE }
  const found = await dowser().conversionsOf(ref, part, request.signal)
  if ('faults' in found) missing(found.faults.map(faultWords).join(' '))
  return { ref, page, ...found }
}

export const meta = () => [{ title: 'Conversions · Dowser' }]

export default function ConversionsOfPeople({ loaderData }: Route.ComponentProps) {
  const { ref, page, count, people, credit, conversions } = loaderData
  const { words } = useWorkspace()
  const study = asQuestion(ref.study) as AttributionQuestion
  const credited = credit === null ? null : creditedBy(ref, words)
  return (
    <ListedPage
      {...{ reference: ref, one: 'conversion', several: 'conversions', count, people, page }}
      {...(credited !== null && { said: creditedWords(ref, { count, credit }, words) })}
      download={`/download/conversions.csv?${peopleParams(ref)}`}
    >
      <ConversionTable {...{ conversions, study, credited }} />
    </ListedPage>
  )
}
