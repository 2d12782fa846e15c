import { asQuestion } from '../../core/analyses/asQuestion.js'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { useEffect, useMemo, useState } from 'react'
import { Link, useFetcher } from 'react-router'
import type { Among } from '../../core/analyses/people.js'
import { loneSegment, peopleWords } from '../analyses/words.js'
import { asGroup, type RuleGroup } from '../../core/segments/rule.js'
import { countOf } from '../../core/words/format.js'
import type { SegmentCount } from '../../server/engine/segments.js'
import { segmentAddress, studyAddress } from '../address/address.js'
import { Segmented } from '../ui/Segmented.js'
import { useWorkspace } from '../page/workspace.js'
import { RuleBuilder } from './RuleBuilder.js'
import { SegmentChoice } from './SegmentChoice.js'

/** Among whom a study is asked: a saved segment or all others, people of another study, or own conditions. */
export function AmongEditor(props: {
  value: Among | undefined
  /** what the button says that takes it back */
  everyone?: string
  onChange: (among: Among | undefined, how?: 'choose' | 'type') => void
  endTyping: () => void
  close: () => void
}) {
  const { value, everyone = 'Ask among everyone', onChange, endTyping, close } = props
  const { words } = useWorkspace()
  const alone = value ? loneSegment(value) : null
  const [way, setWay] = useState<'segment' | 'own'>(value && !alone && 'rule' in value ? 'own' : 'segment')
  if (value && !alone && !('rule' in value && !value.came && value.at === undefined))
    return (
      <div className="stack">
        <p className="hint">
          {'study' in value
            ? 'These people are read from another study, worked out anew each time.'
            : `People ${peopleWords(value, words)}.`}
        </p>
        <div className="row wrap">
          {'study' in value && (
            <Button variant="outlined" component={Link} to={studyAddress(asQuestion(value.study))} onClick={close}>
              Open that study
            </Button>
          )}
          <Everyone label={everyone} onChange={onChange} close={close} />
        </div>
      </div>
    )
  const rule = value && 'rule' in value ? asGroup(value.rule) : null
  return (
    <div className="stack">
      <Segmented
        label="Among whom"
        value={way}
        options={[
          { value: 'segment', label: 'A segment' },
          { value: 'own', label: 'Own conditions' },
        ]}
        onChange={setWay}
      />
      {way === 'segment' ? (
        <>
          <SegmentChoice
            value={alone?.segment ?? null}
            onChoose={(segment) => {
              onChange({ rule: { kind: 'segment', segment, ...(alone?.not ? { not: true } : {}) } })
              if (!alone) close()
            }}
          />
          {alone && (
            <FormControlLabel
              control={
                <Switch
                  size="small"
                  checked={alone.not === true}
                  onChange={(_event, on) => {
                    const { not: _before, ...rest } = alone
                    onChange({ rule: on ? { ...rest, not: true } : rest })
                  }}
                />
              }
              label="Not among them: all others"
            />
          )}
        </>
      ) : (
        <OwnConditions rule={rule} onChange={(next, how) => onChange({ rule: next }, how)} endTyping={endTyping} />
      )}
      {value && (
        <div className="row wrap">
          {alone && (
            <Button variant="outlined" component={Link} to={`/people/segments/${alone.segment}`} onClick={close}>
              Open the segment
            </Button>
          )}
          {rule && way === 'own' && (
            <Button variant="outlined" component={Link} to={segmentAddress(rule)} onClick={close}>
              Save as a segment…
            </Button>
          )}
          <Everyone label={everyone} onChange={onChange} close={close} />
        </div>
      )}
    </div>
  )
}

function Everyone(props: { label: string; onChange: (among: undefined) => void; close: () => void }) {
  const { label, onChange, close } = props
  return (
    <Button
      color="error"
      onClick={() => {
        onChange(undefined)
        close()
      }}
    >
      {label}
    </Button>
  )
}

const NOTHING: RuleGroup = { hold: 'all', of: [] }

/** Conditions that are not saved, with how many people each holds for. */
function OwnConditions(props: {
  rule: RuleGroup | null
  onChange: (rule: RuleGroup, how?: 'choose' | 'type') => void
  endTyping: () => void
}) {
  const { rule, onChange, endTyping } = props
  const [own, setOwn] = useState(rule ?? NOTHING)
  const definition = JSON.stringify(own)
  const fetcher = useFetcher<{ count: SegmentCount } | { problem: string }>({ key: 'own conditions' })
  const { load, data } = fetcher
  useEffect(() => {
    void load(`/ask/segment?${new URLSearchParams({ what: 'count', rule: definition }).toString()}`)
  }, [load, definition])
  const count = data && 'count' in data ? data.count : null
  const counts = useMemo(
    () => new Map((count?.parts ?? []).map(({ path, people }) => [path.join('.'), people])),
    [count],
  )
  return (
    <div className="own-conditions">
      <RuleBuilder
        rule={own}
        counts={counts}
        faults={[]}
        own={null}
        edit={(next, how) => {
          setOwn(next)
          if (next.of.length > 0) onChange(next, how)
        }}
        endTyping={endTyping}
      />
      <p className="hint" aria-live="polite">
        {data && 'problem' in data ? data.problem : count ? countOf(count.members, 'person', 'people') : 'Counting …'}
      </p>
    </div>
  )
}
