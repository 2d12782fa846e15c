import type { Fault } from '../../core/questions/faults.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import type { SegmentCount } from '../../server/engine/segments.js'
import type { PersonRow } from '../../server/index.js'
import type { SegmentUses } from '../../server/doors/segments.js'

/** In how many places a segment is used. */
export const placesOf = ({ studies, dashboards, segments, kept }: SegmentUses): number =>
  studies.length + dashboards.length + segments.length + kept.length
import type { Segment } from '../../server/store/segments.js'

/** What a segment's page shows. */
export interface SegmentData {
  /** null = not saved yet */
  saved: Segment | null
  /** of a frozen list: that one is on it */
  rule: RuleGroup
  /** differs from what is saved */
  edited: boolean
  faults: Fault[]
  /** null where the rule has faults, or the data is still being read */
  count: SegmentCount | null
  /** a few of the members, those seen last first */
  some: PersonRow[]
  uses: SegmentUses
  history: { savedMs: number; name: string; rule: RuleGroup }[]
  /** of an uploaded list: ids that nobody has */
  unknown: { count: number; first: { line: number; value: string }[] } | null
  /** events read so far while the data is being read; null afterwards */
  loading: number | null
}
