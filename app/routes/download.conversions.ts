import { createReadableStreamFromReadable } from '@react-router/node'
import { stringify } from 'csv-stringify/sync'
import { Readable } from 'node:stream'
import type { StudyPeople } from '../../core/analyses/people.js'
import type { TouchKey } from '../../core/analyses/attribution/marks.js'
import { keyWords } from '../../core/words/exact.js'
import { safeCell } from '../../core/words/safeCell.js'
import { readPeople } from '../address/readAddress.server.js'
import { dowser } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import { listsOf } from '../people/listAddress.js'
import type { Route } from './+types/download.conversions'

const PAGE = 2000

/** The conversions of a selection as CSV, a line for each touch of each, with what it earned; one without a touch has a line as well. */
export function loader({ request }: Route.LoaderArgs) {
  const ref = readPeople(new URL(request.url).searchParams)
  if (!ref || !('study' in ref) || listsOf(ref) !== 'conversions')
    return new Response('The address does not say which conversions.', { status: 400 })
  const body = createReadableStreamFromReadable(Readable.from(lines(ref, request.signal)))
  return new Response(body, { headers: fileHeaders('conversions', 'csv', 'text/csv') })
}

const HEADS = ['person', 'conversion', 'converted', 'worth', 'touches', 'touch', 'touch_value', 'touched', 'credit']

async function* lines(ref: StudyPeople, signal: AbortSignal): AsyncGenerator<string> {
  yield stringify([HEADS])
  for (let offset = 0; ; offset += PAGE) {
    const found = await dowser().conversionsOf(ref, { offset, limit: PAGE }, signal)
    if ('faults' in found || found.conversions.length === 0) return
    yield stringify(
      found.conversions.flatMap(({ person, event, at, worth, touches }) => {
        const head = [safeCell(person.id), safeCell(event), iso(at), worth, touches.length]
        if (touches.length === 0) return [[...head, '', '', '', '']]
        return touches.map((touch, i) => [...head, i + 1, safeCell(valueOf(touch.key)), iso(touch.at), touch.credit])
      }),
    )
  }
}

const iso = (ms: number) => new Date(ms).toISOString()
const valueOf = (key: TouchKey) =>
  'value' in key && typeof key.value === 'string' ? key.value : 'rest' in key ? 'everything else' : keyWords(key)
