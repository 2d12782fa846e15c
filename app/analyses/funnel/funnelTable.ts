import type { FunnelResult, FunnelRow } from '../../../core/analyses/funnel/finish.js'
import { showOf, SHARE_BY, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { rowName, stepName } from '../../../core/analyses/funnel/sentence.js'
import { limitWords } from '../../../core/words/limitWords.js'
import { eventWords, groupWords, splitsHead, type Words } from '../../../core/words/words.js'
import { featureWords } from './featureWords.js'

type Cell = string | number | null

/** A funnel's numbers as rows of cells, heads first, as its form shows them: unrounded, times in seconds. */
export function funnelTable(question: FunnelQuestion, result: FunnelResult, words: Words): Cell[][] {
  const { over, time, repeats, look } = result
  const counted = question.count === 'attempts' ? 'Attempts' : 'People'
  const event = (name: string) => eventWords({ names: [name] }, words)
  const step = (at: number) => `${at + 1} ${stepName(question, at, words)}`
  if (over)
    return [
      [...groupHead(question, words), 'Begun', ...question.steps.map((_each, at) => step(at)), 'Still open'],
      ...over.lines.flatMap(({ key, reached, open }) =>
        over.buckets.map((bucket, b) => [
          ...(question.breakdowns ? [rowName(key, result.rest)] : []),
          ...[bucket.key, ...reached[b], open[b].reduce((sum, x) => sum + x, 0)],
        ]),
      ),
    ]
  if (time) {
    const show = showOf(question)
    const by = (show.form === 'time' && show.by) || SHARE_BY
    return [
      [`From ${step(time.from)} to ${step(time.to)}, at least seconds`, 'Under seconds', counted],
      ...time.lines[0].bars.map(({ least, under, count }) => [seconds(least), seconds(under), count]),
      [],
      ['Group', counted, 'Median seconds', 'Mean seconds', '90th percentile seconds', `Within ${limitWords(by)}`],
      ...time.lines.map((line) => [
        ...[rowName(line.key, result.rest), line.count, seconds(line.median), seconds(line.mean)],
        ...[seconds(line.p90), line.by],
      ]),
    ]
  }
  if (repeats)
    return [
      ['Step', 'Times before going on', counted, 'Share'],
      ...repeats.flatMap(({ step: at, people, bars }) =>
        bars.map(({ times, more, people: own }) => [step(at), more ? `${times} or more` : times, own, own / people]),
      ),
    ]
  if (look?.form === 'after')
    return [
      [`After ${step(look.step)}`, 'People', 'Share', 'Commonest way'],
      ['Did nothing more', look.nothing, share(look.nothing, look.people), ''],
      ...look.events.map(({ event: name, people, way }) => [
        ...[event(name), people, share(people, look.people)],
        way ? `${way.cut ? '… › ' : ''}${way.events.map(event).join(' › ')}` : '',
      ]),
    ]
  if (look?.form === 'apart')
    return [
      [
        ...['On the way they did', 'Got through', 'Of those who got through', 'Lost', 'Of the lost', 'Phi'],
        ...['Odds ratio', 'Difference, low', 'Difference, high', 'p, adjusted'],
      ],
      ...look.features.map(({ feature, through, lost, phi, odds, interval, p }) => [
        ...[featureWords(feature, words), through, share(through, look.through), lost, share(lost, look.lost), phi],
        ...[odds, interval?.low ?? null, interval?.high ?? null, p],
      ]),
    ]
  if (look?.form === 'between')
    return [
      ['On the way they did', 'People', 'Share'],
      ...look.events.map(({ event: name, people }) => [event(name), people, share(people, look.people)]),
      [],
      ['Way', 'People', 'Share'],
      ...look.sequences.map(({ events, people }) => [
        ...[events.length === 0 ? 'straight away' : events.map(event).join(' › '), people, share(people, look.people)],
      ]),
    ]
  return stepsTable(question, result, words)
}

function stepsTable(question: FunnelQuestion, result: FunnelResult, words: Words): Cell[][] {
  const { before } = result
  const grouped = result.groups.length > 0
  const compared = grouped || before !== null
  const head = [
    ...(grouped ? groupHead(question, words) : []),
    ...(before ? ['Time'] : []),
    ...['Step', 'Event', question.count === 'attempts' ? 'Attempts' : 'People'],
    ...['Of the start', 'Of the start, low', 'Of the start, high', 'Of the step before', 'Lost here', 'Still open'],
    ...['Median seconds', 'Mean seconds', '10th percentile seconds', '90th percentile seconds'],
    'Median seconds from the start',
    ...(compared ? ['Difference', 'Difference, low', 'Difference, high', 'p, adjusted'] : []),
  ]
  const rowsOf = (row: FunnelRow, time: string) =>
    row.steps.map((step, i): Cell[] => {
      const { fromPrevious, fromEntry, ofStartInterval } = step
      const difference = i === row.steps.length - 1 ? row.difference : null
      return [
        ...(grouped ? [row.key ? groupWords(row.key, result.rest) : 'All together'] : []),
        ...(before ? [time] : []),
        ...[i + 1, eventWords(question.steps[i].event, words), step.people],
        ...[step.ofStart, ofStartInterval?.low ?? null, ofStartInterval?.high ?? null],
        ...[i === 0 ? null : step.ofPrevious, step.lost, step.open],
        ...[fromPrevious.median, fromPrevious.mean, fromPrevious.p10, fromPrevious.p90, fromEntry.median].map(seconds),
        ...(compared
          ? [difference?.by, difference?.interval?.low, difference?.interval?.high, difference?.p].map((x) => x ?? null)
          : []),
      ]
    })
  return [
    head,
    ...[...result.groups, result.all].flatMap((row) => rowsOf(row, 'asked about')),
    ...(before ? [...before.groups, before.all].flatMap((row) => rowsOf(row, 'compared with')) : []),
  ]
}

function groupHead({ breakdowns }: FunnelQuestion, words: Words): string[] {
  return breakdowns ? [splitsHead(breakdowns, words)] : []
}

function seconds(ms: number | null): number | null {
  return ms === null ? null : ms / 1000
}

function share(part: number, whole: number): number | null {
  return whole > 0 ? part / whole : null
}
