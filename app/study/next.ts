import type { Question, Result, ResultOf } from '../../core/analyses/registry.js'
import { narrowest } from '../../core/analyses/funnel/findings.js'
import { showOf, usualFunnel, type FunnelQuestion } from '../../core/analyses/funnel/question.js'
import { stepName } from '../../core/analyses/funnel/sentence.js'
import { usualGaps, type GapsQuestion } from '../../core/analyses/gaps/question.js'
import { lastFull } from '../../core/analyses/growth/finish.js'
import { usualGrowth, type GrowthQuestion } from '../../core/analyses/growth/question.js'
import { withDays } from '../../core/analyses/habit/finish.js'
import { daysOf, usualHabit, type HabitQuestion } from '../../core/analyses/habit/question.js'
import { daysPhrase } from '../../core/analyses/habit/words.js'
import { periodAt } from '../../core/analyses/retention/compare.js'
import { backOf, usualRetention, type RetentionQuestion } from '../../core/analyses/retention/question.js'
import { duringWords, periodWords } from '../../core/analyses/retention/words.js'
import { partName } from '../../core/analyses/overlap/findings.js'
import type { OverlapQuestion } from '../../core/analyses/overlap/question.js'
import { asTrend, type CrosstabQuestion } from '../../core/analyses/crosstab/question.js'
import { isClock } from '../../core/groups/split.js'
import { usualTrend, type TrendQuestion } from '../../core/analyses/trend/question.js'
import type { Catalog } from '../../server/engine/catalog.js'
import { eventWords, groupWords, propertyWords, splitWords, type Words } from '../../core/words/words.js'
import { dayIn } from '../catalog/days.js'
import { goodBreakdown } from './breakdowns.js'
import { commonEvents } from './starting.js'

/** *Where to look next*: a finished study behind each line. */
export interface NextLook {
  label: string
  question: Question
}

/** Two to four follow-up questions, in the order an analyst works. */
export function whereNext(
  question: Question,
  result: Result,
  catalog: Catalog,
  words: Words,
  zone: string,
): NextLook[] {
  if (question.kind === 'trend' && result.kind === 'trend')
    return elsewhen(question, result, catalog, zone) ?? afterTrend(question, result, catalog, words)
  if (question.kind === 'funnel' && result.kind === 'funnel') return afterFunnel(question, result, catalog, words)
  if (question.kind === 'overlap' && result.kind === 'overlap') return afterOverlap(question, result, catalog)
  if (question.kind === 'crosstab' && result.kind === 'crosstab') return afterCrosstab(question, result, catalog, words)
  if (question.kind === 'retention' && result.kind === 'retention')
    return afterRetention(question, result, catalog, words)
  if (question.kind === 'habit' && result.kind === 'habit') return afterHabit(question, result, catalog, words)
  if (question.kind === 'growth' && result.kind === 'growth') return afterGrowth(question, result, words)
  if (question.kind === 'gaps' && result.kind === 'gaps') return afterGaps(question, result)
  return []
}

/** Where nobody did it in the time asked about: the time in which somebody did. */
function elsewhen(
  question: TrendQuestion,
  result: ResultOf<'trend'>,
  catalog: Catalog,
  zone: string,
): NextLook[] | null {
  const [{ event }] = question.series
  if (!('names' in event) || result.lines.some(({ all }) => all.totalPeople > 0)) return null
  const seen = catalog.events.filter(({ name, firstMs }) => event.names.includes(name) && firstMs !== null)
  if (seen.length === 0) return null
  const first = dayIn(Math.min(...seen.map(({ firstMs }) => firstMs!)), zone)
  const last = dayIn(Math.max(...seen.map(({ lastMs }) => lastMs!)), zone)
  const days = (Date.parse(last) - Date.parse(first)) / 86_400_000
  const every = days <= 45 ? 'day' : days <= 400 ? 'week' : 'month'
  return [{ label: 'When did anybody do it?', question: { ...question, every, range: { from: first, to: last } } }]
}

function afterTrend(question: TrendQuestion, result: ResultOf<'trend'>, catalog: Catalog, words: Words): NextLook[] {
  const [series] = question.series
  const looks: NextLook[] = []
  const full = result.buckets.filter((bucket) => !bucket.open && !bucket.cut)
  // The hours of the week are when, not who: nobody asks what else Monday did.
  const timely = question.breakdowns?.some(({ by }) => isClock(by)) ?? false
  const top = timely ? undefined : result.lines[0].groups.find((group) => group.key && !('rest' in group.key))
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property)
    looks.push({
      label: `Is it the same for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 10 }] },
    })
  if (top?.key && full.length > 1) {
    const last = full[full.length - 1]
    looks.push({
      label: `What else did ${groupWords(top.key)} do?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'events per person' }],
        every: question.every,
        range: question.range,
        among: { study: question, marks: [{ kind: 'point', bucket: last.key, group: top.key }] },
      },
    })
  }
  if (question.every !== 'day' && question.every !== 'hour')
    looks.push({
      label: 'How does it go day by day?',
      question: { ...question, every: 'day', range: { last: 28, unit: 'day' } },
    })
  if (question.series.length === 1 && !question.formulas && series.measure !== 'events per person')
    looks.push({
      label: 'How often does each person do it?',
      question: { ...question, series: [plainSeries(series, 'events per person')] },
    })
  const before = commonEvents(catalog).find(
    (event) => !isOf(event.name, series.event) && event.recent > countOf(catalog, series.event),
  )
  if (before && 'names' in series.event)
    looks.push({
      label: `How many get here from ${before.name}?`,
      question: {
        ...usualFunnel(before.name),
        range: question.range,
        steps: [
          { event: { names: [before.name] } },
          { event: series.event, ...(series.where ? { where: series.where } : {}) },
        ],
      },
    })
  return looks.slice(0, 4)
}

function afterCrosstab(
  question: CrosstabQuestion,
  { rows }: ResultOf<'crosstab'>,
  catalog: Catalog,
  words: Words,
): NextLook[] {
  const { column: _column, ...plain } = question
  const looks: NextLook[] = []
  const property = goodBreakdown(catalog, question)
  if (!question.column && question.series.length === 1 && property)
    looks.push({
      label: `How does it fall across ${propertyWords(property, words)}?`,
      question: { ...question, column: { by: property, keep: 10 } },
    })
  looks.push({
    label: `How does it go over time, for each ${splitWords(question.rows[0].by, words)}?`,
    question: { ...asTrend(plain), breakdowns: [question.rows[0]] },
  })
  const top = rows.find(({ path }) => path.length === 1 && !('rest' in path[0]))
  if (top && !isClock(question.rows[0].by))
    looks.push({
      label: `What else did ${groupWords(top.path[0])} do?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'events per person' }],
        every: question.every,
        range: question.range,
        among: { study: question, marks: [{ kind: 'cell', row: top.path }] },
      },
    })
  if (question.column && question.rows.length === 1)
    looks.push({
      label: 'And the other way round?',
      question: { ...question, rows: [question.column], column: question.rows[0] },
    })
  return looks.slice(0, 4)
}

/** As an analyst goes: since when, what else, what sets them apart, who, and how long. */
function afterFunnel(question: FunnelQuestion, result: ResultOf<'funnel'>, catalog: Catalog, words: Words): NextLook[] {
  const looks: NextLook[] = []
  const { form } = showOf(question)
  const { show: _show, ...plain } = question
  if (question.steps.length < 2) return looks
  const narrow = narrowest(result.all)
  const property = goodBreakdown(catalog, question)
  const { jump } = result
  if (jump?.value && jump.value.of !== 'source') {
    const { of, property: name, at } = jump.value
    looks.push({
      label: `How does each ${propertyWords({ of, name }, words)} fare?`,
      question: {
        ...plain,
        breakdowns: [{ by: { of, name }, keep: 10 }],
        ...(at > 0 ? { readAt: at } : {}),
      },
    })
  }
  if (form !== 'apart')
    looks.push({ label: 'What sets those who got through apart?', question: { ...plain, show: { form: 'apart' } } })
  if (narrow !== null && form !== 'after') {
    const lost = result.all.steps[narrow].lost
    const next = question.steps.findIndex((each, i) => i > narrow && !each.optional)
    looks.push({
      label: `What did the ${lost.toLocaleString('en-GB')} lost before ${stepName(question, next, words)} do instead?`,
      question: { ...plain, show: { form: 'after', step: narrow, within: { count: 1, unit: 'hour' } } },
    })
  }
  if (form !== 'over time')
    looks.push({
      label: 'Has it changed week by week?',
      question: { ...plain, show: { form: 'over time', every: 'week' } },
    })
  if (!question.breakdowns && property && !jump)
    looks.push({
      label: `Who gets through more often, for each ${propertyWords(property, words)}?`,
      question: { ...plain, breakdowns: [{ by: property, keep: 10 }] },
    })
  const wider = { count: question.window.count * 2, unit: question.window.unit }
  if (wider.count <= 1000)
    looks.push({
      label: `Do more get through in ${wider.count} ${wider.unit}s?`,
      question: { ...plain, window: wider },
    })
  return looks.slice(0, 4)
}

/** As an analyst goes: who, what sets those who stay apart, since when, and how much they bring. */
function afterRetention(
  question: RetentionQuestion,
  result: ResultOf<'retention'>,
  catalog: Catalog,
  words: Words,
): NextLook[] {
  const looks: NextLook[] = []
  const { show: _show, ...asked } = question
  const at = periodAt(question, result)
  const when = periodWords(question, result.periods[at])
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property)
    looks.push({
      label: `Who comes back more, for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 10 }], show: { form: 'curve' } },
    })
  if (question.show.form !== 'over time')
    looks.push({
      label: `Has ${when} changed from cohort to cohort?`,
      question: { ...asked, show: { form: 'over time', at } },
    })
  const back = backOf(question)
  if (question.back && JSON.stringify(question.back) !== JSON.stringify(question.start))
    looks.push({
      label: `How far do they get from ${eventWords(question.start.event, words)} to ${eventWords(back.event, words)}?`,
      question: {
        ...usualFunnel('…'),
        range: question.range,
        steps: [question.start, back],
        window: { count: 28, unit: 'day' },
        ...(question.among ? { among: question.among } : {}),
      },
    })
  const point = result.all.line[at]
  if (point && point.people > point.returned)
    looks.push({
      label: `What did those do who did not come back ${duringWords(question, result.periods[at])}?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' }],
        range: question.range,
        among: { study: question, marks: [{ kind: 'cohort', period: at, what: 'not' }] },
      },
    })
  if (!question.first)
    looks.push({
      label: 'And new people only: their first ever?',
      question: { ...question, first: true },
    })
  return looks.slice(0, 4)
}

/** Who does it more, since when, who are the core, and whether they stay. */
function afterHabit(question: HabitQuestion, result: ResultOf<'habit'>, catalog: Catalog, words: Words): NextLook[] {
  const looks: NextLook[] = []
  const days = daysOf(question)
  const said = daysPhrase(days, result.unit, true)
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property)
    looks.push({
      label: `Who turns up more, for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 10 }], show: { form: 'at least' } },
    })
  if (question.show.form !== 'over time')
    looks.push({
      label: `Has the share with ${said} changed?`,
      question: { ...question, show: { form: 'over time', days } },
    })
  const last = result.periods.at(-1)
  if (last !== undefined && withDays(result.all.periods.at(-1)!, days, true) > 0)
    looks.push({
      label: `What else do those with ${said} do?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'events per person' }],
        among: { study: question, marks: [{ kind: 'days', days, more: true, bucket: last }] },
      },
    })
  looks.push({
    label: 'Are we growing or leaking?',
    question: { ...usualGrowth('…'), start: question.start, ...withAmong(question) },
  })
  return looks.slice(0, 4)
}

/** Who lapsed and what they did, how long gaps are, and whether new people stay. */
function afterGrowth(question: GrowthQuestion, result: ResultOf<'growth'>, words: Words): NextLook[] {
  const looks: NextLook[] = []
  const last = lastFull(result)
  if (question.show.form !== 'flows' && result.steps.length > 1)
    looks.push({ label: 'From which state into which do they go?', question: { ...question, show: { form: 'flows' } } })
  if (last && last.people.lapsed > 0)
    looks.push({
      label: `What did the ${last.people.lapsed.toLocaleString('en-GB')} who lapsed last do before?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' }],
        range: question.range,
        among: { study: question, marks: [{ kind: 'state', states: ['lapsed'], interval: last.key }] },
      },
    })
  looks.push({
    label: 'How long are the gaps between uses?',
    question: { ...usualGaps('…'), start: question.start, ...withAmong(question) },
  })
  looks.push({
    label: `Do new people do ${eventWords(question.start.event, words)} again?`,
    question: {
      ...usualRetention('…'),
      start: question.start,
      first: true,
      range: question.range,
      ...withAmong(question),
    },
  })
  return looks.slice(0, 4)
}

/** The studies that the gaps suggest an interval for. */
function afterGaps(question: GapsQuestion, { suggested }: ResultOf<'gaps'>): NextLook[] {
  const shared = { start: question.start, ...withAmong(question) }
  if (!suggested) return []
  const { unit, days } = suggested
  return [
    {
      label: `Do they come back, ${unit} by ${unit}?`,
      question: { ...usualRetention('…'), ...shared, every: unit, range: { last: 12, unit } },
    },
    {
      label: 'How many days do they turn up?',
      question: {
        ...usualHabit('…'),
        ...shared,
        ...(days <= 3 ? { period: 'week' as const, range: { last: 12, unit: 'week' as const } } : {}),
      },
    },
    {
      label: `Are we growing or leaking, every ${days} days?`,
      question: {
        ...usualGrowth('…'),
        ...shared,
        interval: { days },
        range: { last: Math.min(366, Math.max(28, 12 * days)), unit: 'day' },
      },
    },
  ]
}

function withAmong({ among }: Question): Pick<Question, 'among'> {
  return among ? { among } : {}
}

function plainSeries({ event, where }: TrendQuestion['series'][number], measure: 'events per person') {
  return { event, ...(where ? { where } : {}), measure }
}

function isOf(name: string, event: TrendQuestion['series'][number]['event']): boolean {
  return 'activity' in event || event.names.includes(name)
}

function countOf(catalog: Catalog, event: TrendQuestion['series'][number]['event']): number {
  return catalog.events.filter(({ name }) => isOf(name, event)).reduce((sum, { recent }) => sum + recent, 0)
}

function afterOverlap(question: OverlapQuestion, result: ResultOf<'overlap'>, catalog: Catalog): NextLook[] {
  const [event] = commonEvents(catalog)
  const looks: NextLook[] = []
  const usual = event && usualTrend(event.name)
  if (usual)
    looks.push({
      label: `How do they compare, week by week?`,
      question: { ...usual, breakdowns: [{ by: { of: 'segments', sides: question.sides }, keep: 10 }] },
    })
  const shared = [...result.regions]
    .sort((a, b) => b.people - a.people)
    .find(({ in: inside, people }) => inside.length > 1 && people > 0)
  if (usual && shared)
    looks.push({
      label: `What do those in ${partName(shared, result)} do?`,
      question: {
        ...usual,
        series: [{ event: { activity: true }, measure: 'events per person' }],
        among: { study: question, marks: [{ kind: 'part', in: shared.in }] },
      },
    })
  if (!question.figure && event)
    looks.push({
      label: `How much of ${event.label} is done in each part?`,
      question: { ...question, figure: { event: { names: [event.name] }, measure: 'events' } },
    })
  return looks
}
