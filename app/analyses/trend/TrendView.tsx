import { READINGS } from './readings.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import { memo, Suspense } from 'react'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import type { TrendForm, TrendQuestion } from '../../../core/analyses/trend/question.js'
import { readingOf, readingsFor } from '../../../core/analyses/trend/shown.js'
import { LazyTrendChart } from '../../charts/LazyTrendChart.js'
import { deferred } from '../../page/deferred.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'
import { TrendFigure } from './TrendFigure.js'
import { TrendTable } from './TrendTable.js'
import { formsFor, zoomRange } from './forms.js'

const TrendRanked = deferred(async () => (await import('./TrendRanked.js')).TrendRanked)
const TrendRing = deferred(async () => (await import('./TrendRing.js')).TrendRing)
const TrendWeek = deferred(async () => (await import('./TrendWeek.js')).TrendWeek)
const NoteFilter = deferred(async () => (await import('./NoteFilter.js')).NoteFilter)

const FORMS: Record<TrendForm, string> = {
  lines: 'Lines',
  stacked: 'Stacked',
  bars: 'Bars',
  'side by side': 'Side by side',
  ranked: 'Ranked',
  ring: 'Ring',
  week: 'Hours of the week',
  figure: 'Figure',
}

function TrendBody(props: BodyProps<TrendQuestion, TrendResult, TrendMark>) {
  const { question, result, words, edit, selected, onSelect, onAnnotate } = props
  const { show } = question
  const forms = formsFor(question, result)
  const form = forms.includes(show.form) ? show.form : forms[0]
  const shown = form === show.form ? question : { ...question, show: { ...show, form } }
  const readings = readingsFor(question)
  const onTime = !['ranked', 'ring', 'figure', 'week'].includes(form)
  const press = onSelect ? { onSelect } : {}
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented
            label="Chart"
            value={form}
            options={forms.map((value) => ({ value, label: FORMS[value] }))}
            onChange={(next) => edit({ ...question, show: { ...show, form: next } })}
          />
          {onTime && readings.length > 1 && (
            <Segmented
              label="How the numbers are read"
              value={readingOf(question)}
              options={readings.map((value) => ({ value, label: READINGS[value] }))}
              onChange={(as) => edit({ ...question, show: { ...show, as } })}
            />
          )}
          {form === 'lines' && (
            <FormControlLabel
              className="log-switch"
              control={
                <Checkbox
                  size="small"
                  checked={show.log === true}
                  onChange={(_event, on) => {
                    const { log: _log, ...rest } = show
                    edit({ ...question, show: on ? { ...rest, log: true } : rest })
                  }}
                />
              }
              label="Log axis"
            />
          )}
          {onTime && (
            <Suspense>
              <NoteFilter question={question} words={words} edit={edit} />
            </Suspense>
          )}
        </div>
      )}
      <Suspense>
        {form === 'week' ? (
          <TrendWeek result={result} question={shown} words={words} selected={selected} {...press} />
        ) : form === 'figure' ? (
          <TrendFigure result={result} question={shown} words={words} />
        ) : form === 'ranked' ? (
          <TrendRanked result={result} question={shown} words={words} selected={selected} {...press} />
        ) : form === 'ring' ? (
          <TrendRing result={result} question={shown} words={words} selected={selected} {...press} />
        ) : (
          <LazyTrendChart
            result={result}
            question={shown}
            words={words}
            selected={selected}
            {...press}
            {...(onAnnotate ? { onAnnotate } : {})}
            {...(edit
              ? {
                  onZoom: (first: number, last: number) => {
                    const range = zoomRange(result.buckets, first, last)
                    if (range) edit({ ...question, range })
                  },
                }
              : {})}
          />
        )}
      </Suspense>
    </>
  )
}

function TrendNumbers({
  question,
  result,
  words,
  edit,
  selected,
  onSelect,
}: BodyProps<TrendQuestion, TrendResult, TrendMark>) {
  return (
    <TrendTable
      result={result}
      question={question}
      words={words}
      selected={selected}
      {...(edit ? { edit } : {})}
      {...(onSelect ? { onSelect } : {})}
    />
  )
}

export const view: KindView<TrendQuestion, TrendResult, TrendMark> = {
  Body: memo(TrendBody),
  Numbers: memo(TrendNumbers),
}
