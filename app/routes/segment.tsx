import { parseRule } from '../../core/segments/ruleSchema.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { readRule } from '../address/readAddress.server.js'
import { SegmentPage } from '../segments/SegmentPage.js'
import type { SegmentData } from '../segments/segment.js'
import type { Route } from './+types/segment'

const SHOWN = 5

export async function loader({ params, request }: Route.LoaderArgs): Promise<SegmentData> {
  const search = new URL(request.url).searchParams
  const { segments } = dowser()
  const saved = params.segmentId ? orMissing(() => segments.get(params.segmentId!)) : null
  const frozen = saved !== null && saved.frozenMs !== null
  const read = frozen ? null : readRule(search)
  const rule: RuleGroup = frozen
    ? { hold: 'all', of: [{ kind: 'segment', segment: saved.id }] }
    : (read?.rule ?? saved?.rule ?? parseRule({ hold: 'all', of: [] }).rule)
  const status = await dowser().status()
  const own = saved && !frozen ? saved.id : undefined
  const counted = status.ready ? await segments.count(rule, own, request.signal) : null
  const count = counted && 'members' in counted ? counted : null
  const some = count
    ? await dowser().people({ rule }, { offset: 0, limit: SHOWN, sort: { by: 'last seen' } }, request.signal)
    : null
  return {
    saved,
    rule,
    edited:
      read !== null &&
      (saved === null ? read.rule.of.length > 0 : JSON.stringify(saved.rule) !== JSON.stringify(read.rule)),
    faults: [...(read?.faults ?? []), ...(counted && 'faults' in counted ? counted.faults : [])],
    count,
    some: some && 'people' in some ? some.people : [],
    uses: saved ? segments.usesOf(saved.id) : { studies: [], dashboards: [], segments: [], kept: [], messages: [] },
    history: saved ? segments.history(saved.id) : [],
    unknown:
      saved && frozen ? { count: segments.unknownCount(saved.id), first: segments.unknown(saved.id, 200) } : null,
    loading: status.ready ? null : status.loaded,
  }
}

export const meta = ({ loaderData }: Route.MetaArgs) => [
  { title: `${loaderData?.saved?.name ?? 'New segment'} · Dowser` },
]

export default function SegmentRoute({ loaderData }: Route.ComponentProps) {
  return <SegmentPage data={loaderData} key={loaderData.saved?.id ?? 'new'} />
}
