import Button from '@mui/material/Button'
import { useEffect, useMemo, useState } from 'react'
import { useFetcher } from 'react-router'
import type { RuleGroup } from '../../core/segments/rule.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { propertyWords } from '../../core/words/words.js'
import type { SegmentSize, SizeUnit } from '../../server/engine/segments.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useLasting } from '../study/Waiting.js'
import { Segmented } from '../ui/Segmented.js'
import { Mounted } from '../ui/Mounted.js'
import { useWorkspace } from '../page/workspace.js'
import type { Selected } from './selected.js'
import { LazySizeChart } from './LazySizeChart.js'

/** The size at the end of every day, week or month, back to the first event; split by a profile property. */
export function SizeSheet(props: { rule: string; own: string | null; onSelect: (selected: Selected) => void }) {
  const { rule, own, onSelect } = props
  const { words } = useWorkspace()
  const [every, setEvery] = useState<SizeUnit>('week')
  const [split, setSplit] = useState<PropertyRef | null>(null)
  const [choosing, setChoosing] = useState<{ left: number; top: number } | null>(null)
  const fetcher = useFetcher<{ size: SegmentSize } | { problem: string }>({ key: 'segment size' })
  const { load } = fetcher
  useEffect(() => {
    const params = new URLSearchParams({
      ...{ what: 'size', rule, every },
      ...(split ? { split: JSON.stringify(split) } : {}),
      ...(own ? { own } : {}),
    })
    void load(`/ask/segment?${params.toString()}`)
  }, [load, rule, own, every, split])
  const slow = useLasting(fetcher.state === 'loading', 150)
  const { data } = fetcher
  const group = useMemo<RuleGroup>(() => JSON.parse(rule) as RuleGroup, [rule])
  return (
    <section className={`sheet pad size-sheet${slow ? ' dimmed' : ''}`} aria-label="Size over time">
      <div className="row between wrap">
        <h2>Size over time</h2>
        <div className="row wrap">
          {split ? (
            <Button variant="outlined" onClick={() => setSplit(null)} title="Show all together">
              for each {propertyWords(split, words)} ×
            </Button>
          ) : (
            <button
              type="button"
              className="addition"
              onClick={(event) => setChoosing(placeUnder(event.currentTarget))}
            >
              + for each…
            </button>
          )}
          <Segmented
            label="How often"
            value={every}
            options={[
              { value: 'day', label: 'Days' },
              { value: 'week', label: 'Weeks' },
              { value: 'month', label: 'Months' },
            ]}
            onChange={setEvery}
          />
        </div>
      </div>
      <div className="size-chart">
        {data && 'size' in data && data.size.points.length > 0 && (
          <Mounted>
            <LazySizeChart size={data.size} rule={group} onSelect={onSelect} />
          </Mounted>
        )}
        {data && 'size' in data && data.size.points.length === 0 && <p className="soft">No event has arrived yet.</p>}
        {data && 'problem' in data && <p className="soft">{data.problem}</p>}
      </div>
      <p className="hint">
        At the end of each {every}, as the events were by then. Press a point for the people, and for who came in or
        went out since the one before.
      </p>
      <TokenPopover at={choosing} label="For each" onClose={() => setChoosing(null)}>
        <PropertyPicker
          events={[]}
          only="person"
          value={split}
          onChoose={({ property }) => {
            setSplit(property)
            setChoosing(null)
          }}
        />
      </TokenPopover>
    </section>
  )
}
