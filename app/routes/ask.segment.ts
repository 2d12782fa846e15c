import { readJson } from '../../core/questions/readJson.js'
import { z } from 'zod'
import { faultWords } from '../../core/questions/faults.js'
import { propertySchema } from '../../core/questions/parts.js'
import { dowser } from '../door/dowser.server.js'
import { readBeside, readPeople, readRule } from '../address/readAddress.server.js'
import type { Route } from './+types/ask.segment'

const units = z.enum(['day', 'week', 'month']).catch('week')

/** What a segment's page asks beside the count: its size over time, why one person is in it, who its members are. */
export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const own = search.get('own') ?? undefined
  const { segments } = dowser()
  switch (search.get('what')) {
    case 'size': {
      const read = readRule(search)
      if (!read) return { problem: 'The rule could not be read.' }
      const size = await segments.size(
        read.rule,
        units.parse(search.get('every')),
        propertyOf(search.get('split')),
        own,
        request.signal,
      )
      return 'faults' in size ? { problem: size.faults.map(faultWords).join(' ') } : { size }
    }
    case 'count': {
      const read = readRule(search)
      if (!read) return { problem: 'The rule could not be read.' }
      const count = await segments.count(read.rule, own, request.signal)
      return 'faults' in count ? { problem: count.faults.map(faultWords).join(' ') } : { count }
    }
    case 'why': {
      const id = (search.get('person') ?? '').trim()
      const read = readRule(search)
      if (!read) return { problem: 'The rule could not be read.' }
      if (id === '') return { problem: 'Type the id of a person.' }
      const why = await segments.why(read.rule, id, own)
      if (why === null) return { problem: `Nobody has the id “${id}”. Ids are compared letter by letter.` }
      return 'faults' in why ? { problem: why.faults.map(faultWords).join(' ') } : { why }
    }
    default: {
      const ref = readPeople(search)
      if (!ref) return { problem: 'Which people are meant could not be read.' }
      const beside = readBeside(search)
      const composition = await segments.composition(ref, beside, propertyOf(search.get('property')), request.signal)
      return 'faults' in composition ? { problem: composition.faults.map(faultWords).join(' ') } : { composition }
    }
  }
}

function propertyOf(text: string | null) {
  if (text === null) return null
  try {
    const read = propertySchema.safeParse(readJson(text))
    return read.success && read.data.of === 'person' ? read.data : null
  } catch {
    return null
  }
}
