import type { GroupKey } from '../../questions/parts.js'
import type { Clustered } from '../../stats/clustered.js'
import { rankedValues } from '../../stats/select.js'
import type { Bucket } from '../../time/buckets.js'
import type { QueryContext } from '../analysis.js'
import {
  CLUSTERED,
  FIGURE_COUNT,
  FIGURES,
  type SessionCounts,
  type SessionPeriod,
  type SessionsPart,
  type SessionsPlan,
} from './plan.js'
import { LENGTHS, type SessionsQuestion } from './question.js'
import type { SessionSums } from './value.js'

export interface SessionsRow {
  /** null = all together */
  key: GroupKey | null
  /** by bucket */
  values: SessionSums[]
  total: SessionSums
  /** by range of length */
  lengths: number[]
  /** sessions longer than asked about */
  over: number
  /** its people, their sessions that are over, and the seconds of those */
  clusters: Clustered
}

/** How sessions begin or end with an event. */
export interface SessionEnd {
  event: string
  sessions: number
  /** of those that are over; null where none is */
  averageMs: number | null
  /** what most often comes next, or came before; null where nothing did */
  beside: { event: string | null; sessions: number } | null
}

/** What is counted of a time. */
export interface SessionsOf {
  buckets: Bucket[]
  all: SessionsRow
  groups: SessionsRow[]
}

export interface SessionsResult extends SessionsOf {
  kind: 'sessions'
  rest: number
  /** the time it is compared with, groups in the same order */
  before: SessionsOf | null
  /** the commonest first */
  entries: SessionEnd[]
  exits: SessionEnd[]
}

export function finishSessions(
  part: SessionsPart,
  plan: SessionsPlan,
  _question: SessionsQuestion,
  _context: QueryContext,
): SessionsResult {
  if (part.pass !== 'count') throw new RangeError('the sessions were not counted')
  const [own, before] = plan.periods.map((period, at) => periodOf(part.counts[at], plan, period))
  const [{ entries, entryMs, entryOver, exits, exitMs, exitOver }] = part.counts
  return {
    ...{ kind: 'sessions', ...own, rest: plan.rest, before: before ?? null },
    entries: ends(entries, entryMs, entryOver, plan.names),
    exits: ends(exits, exitMs, exitOver, plan.names),
  }
}

function periodOf(part: SessionCounts, plan: SessionsPlan, { buckets }: SessionPeriod): SessionsOf {
  const many = buckets.length
  const all = plan.keys.length
  const lists = lengthLists(part, (all + 1) * many)
  const wide = LENGTHS.length + 1
  const sums = (group: number, bucket: number): SessionSums => {
    const place = (group * (many + 1) + bucket) * FIGURE_COUNT
    const figure = (name: keyof typeof FIGURES) => part.figures[place + FIGURES[name]]
    const own = bucket < many ? lists.of(group * many + bucket, 1) : lists.of(group * many, many)
    return {
      ...{ sessions: figure('sessions'), people: figure('people'), open: figure('open') },
      ...{ ms: figure('ms'), single: figure('single'), events: figure('events') },
      // Added up in whole milliseconds, so in any order the same.
      average: own.length > 0 ? own.reduce((sum, ms) => sum + ms, 0) / own.length : null,
      median: own.length > 0 ? rankedValues(own.slice(), (own.length - 1) / 2) : null,
    }
  }
  const row = (group: number, key: GroupKey | null): SessionsRow => ({
    key,
    values: buckets.map((_bucket, bucket) => sums(group, bucket)),
    total: sums(group, many),
    lengths: [...part.lengths.subarray(group * wide, (group + 1) * wide)],
    over: part.over[group],
    clusters: Object.fromEntries(
      CLUSTERED.map((name, i) => [name, part.clusters[group * CLUSTERED.length + i]]),
    ) as unknown as Clustered,
  })
  return {
    ...{ buckets, all: row(all, null) },
    groups: plan.keys.map((key, group) => row(group, key)),
  }
}

/** The lengths of each place put behind each other. */
function lengthLists({ lengthOf, length }: SessionCounts, places: number) {
  const starts = new Uint32Array(places + 1)
  for (const piece of lengthOf) for (let i = 0; i < piece.length; i++) starts[piece[i] + 1]++
  for (let place = 0; place < places; place++) starts[place + 1] += starts[place]
  const filled = starts.slice(0, places)
  const values = new Float64Array(starts[places])
  lengthOf.forEach((piece, at) => {
    const own = length[at]
    for (let i = 0; i < piece.length; i++) values[filled[piece[i]]++] = own[i]
  })
  return { of: (place: number, many: number) => values.subarray(starts[place], starts[place + many]) }
}

function ends(pairs: Float64Array, ms: Float64Array, over: Float64Array, names: readonly string[]): SessionEnd[] {
  const width = names.length + 1
  const found = names.flatMap((event, type): SessionEnd[] => {
    const own = pairs.subarray(type * width, (type + 1) * width)
    const sessions = own.reduce((sum, n) => sum + n, 0)
    if (sessions === 0) return []
    let most = 0
    for (let other = 1; other < width; other++) if (own[other] > own[most]) most = other
    return [
      {
        ...{ event, sessions, averageMs: over[type] > 0 ? ms[type] / over[type] : null },
        beside: { event: most < names.length ? names[most] : null, sessions: own[most] },
      },
    ]
  })
  return found.sort((a, b) => b.sessions - a.sessions || (a.event < b.event ? -1 : 1))
}
