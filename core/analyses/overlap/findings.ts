import { SMALL } from '../../stats/small.js'
import type { Reading } from '../../words/sentence.js'
import { twoSidedP, wilson } from '../../stats/proportion.js'
import { countOf, formatPercent, joinWords } from '../../words/format.js'
import { plain, strong, type Finding } from '../../words/words.js'
import type { OverlapRegion, OverlapResult } from './finish.js'

/** What an overlap says: how many are in several, and which two go together more, or less, than by chance. */
export function overlapFindings(result: OverlapResult): Reading {
  const { any, several, segments, regions } = result
  if (any === 0) return { findings: [[strong('Nobody'), plain(' is in any of them.')]], cautions: [] }
  const findings: Finding[] = []
  const share = wilson(several, any)
  findings.push([
    strong(countOf(several, 'person', 'people')),
    plain(` of the ${countOf(any, 'person', 'people')} in any of them are in more than one: `),
    strong(formatPercent(several / any)),
    plain(share ? ` (${formatPercent(share.low)} to ${formatPercent(share.high)}).` : '.'),
  ])
  const pair = surestPair(result)
  if (pair) findings.push(pair)
  const shared = regions.filter((region) => region.in.length > 1).sort((a, b) => b.people - a.people)[0]
  if (shared && shared.people > 0 && segments.length > 2)
    findings.push([
      plain('The largest shared part is '),
      strong(partName(shared, result)),
      plain(', with '),
      strong(countOf(shared.people, 'person', 'people')),
      plain('.'),
    ])
  const cautions: Finding[] = []
  for (const [inner, { name, people }] of segments.entries())
    for (const [outer, other] of segments.entries())
      if (inner !== outer && people > 0 && people === bothOf(regions, inner, outer) && people < other.people)
        cautions.push([plain(`${name} lies wholly in ${other.name}.`)])
  const small = segments.filter(({ people }) => people > 0 && people < SMALL)
  if (small.length > 0)
    cautions.push([
      plain(
        `${joinWords(
          small.map(({ name }) => name),
          'and',
        )} ${small.length === 1 ? 'holds' : 'hold'} under ${SMALL} people: read ${small.length === 1 ? 'it' : 'them'} with care.`,
      ),
    ])
  return { findings, cautions }
}

/**
 * Of the pairs, the one whose overlap differs most from what chance would give, where that is more than noise: by the
 * two-proportion test, adjusted for all pairs that are looked at (Bonferroni).
 */
function surestPair({ segments, regions, everyone }: OverlapResult): Finding | null {
  let best: { a: number; b: number; rate: number; base: number; z: number } | null = null
  for (let a = 0; a < segments.length; a++)
    for (let b = 0; b < segments.length; b++) {
      const [x, y] = [segments[a].people, segments[b].people]
      if (a === b || x < SMALL || everyone - x < SMALL) continue
      const both = bothOf(regions, a, b)
      const rate = both / x
      const base = (y - both) / (everyone - x)
      const pooled = y / everyone
      const spread = Math.sqrt(pooled * (1 - pooled) * (1 / x + 1 / (everyone - x)))
      if (!(spread > 0)) continue
      const z = (rate - base) / spread
      // The test is the same both ways round: it is said of the smaller one.
      const surer = Math.abs(z) - Math.abs(best?.z ?? 0)
      if (surer > 1e-9 || (best && Math.abs(surer) <= 1e-9 && x < segments[best.a].people))
        best = { a, b, rate, base, z }
    }
  const pairs = (segments.length * (segments.length - 1)) / 2
  if (!best || twoSidedP(best.z) * pairs >= 0.05) return null
  const { a, b, rate, base, z } = best
  const times = base > 0 && rate > 0 ? `${(rate / base).toFixed(1)}×` : null
  return [
    strong(segments[a].name),
    plain(': '),
    strong(formatPercent(rate)),
    plain(` of them are in ${segments[b].name} as well, against ${formatPercent(base)} of the others`),
    ...(times ? [plain(', '), strong(`${times} as often`, z > 0 ? 'gain' : 'loss')] : []),
    plain('.'),
  ]
}

/** People in both of two segments, whatever else they are in. */
export function bothOf(regions: readonly OverlapRegion[], a: number, b: number): number {
  return regions.reduce((sum, each) => (each.in.includes(a) && each.in.includes(b) ? sum + each.people : sum), 0)
}

/** "App buyers and Kiosk buyers", with "only" where there are others. */
export function partName(
  { in: inside }: Pick<OverlapRegion, 'in'>,
  { segments }: Pick<OverlapResult, 'segments'>,
): string {
  const names = joinWords(
    inside.map((side) => segments[side].name),
    'and',
  )
  if (inside.length === segments.length) return segments.length === 2 ? `both ${names}` : `all of ${names}`
  return `${names} only`
}
