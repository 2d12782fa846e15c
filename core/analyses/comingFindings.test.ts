import { describe, expect, test } from 'vitest'
import { answer, days, logOf, MONDAY, type TestEvent, type TestLog } from '../../tests/eventLog.js'
import { said } from '../../tests/said.js'
import type { Value } from '../log/values.js'
import { analysisOf, type Question } from './registry.js'
import type { GapsQuestion } from './gaps/question.js'
import type { GrowthQuestion } from './growth/question.js'
import type { HabitQuestion } from './habit/question.js'
import type { RetentionQuestion } from './retention/question.js'

/** What is read out of the studies about coming back, from figures that are made to say it. */
function read(log: TestLog, question: Question, now: number) {
  const result = answer(log, question, { now })
  return said(
    analysisOf(question.kind).findings(result as never, question as never, {
      thisYear: 2026,
    }),
  )
}
const week = (n: number) => MONDAY + days(7 * n)
const ride = { event: { names: ['ride'] } }

describe('retention', () => {
  const question: RetentionQuestion = {
    ...{ kind: 'retention', start: { event: { names: ['join'] } }, first: true, back: ride, every: 'week', upTo: 6 },
    ...{ range: { from: '2026-01-05', to: '2026-03-01' }, show: { form: 'curve' } },
  }
  /** Cohorts of people who join on a Monday; of each so many of a hundred ride in the weeks after. */
  function cohorts(
    shares: number[][],
    size = 100,
    profile: (c: number, i: number) => Record<string, Value> = () => ({}),
  ) {
    return logOf(
      shares.flatMap((later, c) =>
        Array.from({ length: size }, (_, i) => [
          { person: `c${c}-${i}`, event: 'join', time: week(c), properties: profile(c, i) },
          ...later.flatMap((share, k): TestEvent[] =>
            (i * 37) % size < (share * size) / 100
              ? [{ person: `c${c}-${i}`, event: 'ride', time: week(c + k + 1) + 1, properties: {} }]
              : [],
          ),
        ]).flat(),
      ),
    )
  }
  const alike = (shares: number[]) => Array.from({ length: 8 }, () => shares)
  const of = (log: TestLog, more: Partial<RetentionQuestion> = {}, now = week(16)) =>
    read(log, { ...question, ...more }, now)
  const level = [60, 41, 40, 40, 40, 40]

  test('where the curve levels off, and at what share', () => {
    expect(of(cohorts(alike(level))).findings).toEqual([
      '60 % of 800 people did ride in week 1; the curve levels off near 40 % from week 2 on.',
      'No cohort differs clearly from the others in week 1.',
      'Between earlier and later starters there is no clear change in week 1.',
    ])
  })
  test('where one week is looked at over time, it is that week that is spoken of', () => {
    const shares = alike(level).map((shares, c) => (c === 3 ? [60, 41, 40, 5, 40, 40] : shares))
    expect(of(cohorts(shares), { show: { form: 'over time', at: 4 } }).findings).toEqual([
      '36 % of 800 people did ride in week 4.',
      'Those who started in the week of 26 Jan came back less often: 5 % in week 4, against 40 % of the others.',
      'Between earlier and later starters there is no clear change in week 4.',
    ])
  })
  test('or that it does not', () => {
    expect(of(cohorts(alike([80, 65, 50, 35, 20, 10]))).findings.slice(0, 2)).toEqual([
      '80 % of 800 people did ride in week 1, 10 % in week 6.',
      'The curve does not level off up to week 6: it still falls.',
    ])
  })
  test('the cohort that differs, and the change from the earlier half to the later', () => {
    const { findings } = of(cohorts([...alike(level).slice(0, 7), [10, 10, 10, 10, 10, 10]]))
    expect(findings.slice(1)).toEqual([
      'Those who started in the week of 23 Feb came back less often: 10 % in week 1, against 60 % of the others.',
      'Of the later half of the cohorts 48 % come back in week 1, against 60 % of the earlier half.',
    ])
  })
  test('where people count by their first in the time asked about, cohorts are not compared, and it says why', () => {
    const shares = [...alike(level).slice(0, 7), [10, 10, 10, 10, 10, 10]]
    const { findings, cautions } = of(cohorts(shares), { first: undefined })
    expect(findings).toEqual(['54 % of 800 people did ride in week 1; the curve levels off near 36 % from week 2 on.'])
    expect(cautions.join(' ')).toContain('cohorts are not compared')
  })
  test('cohorts that are too young for a period are not in its share', () => {
    // As of the end of the last week, 100 people have no week 1 behind them.
    const { findings, cautions } = of(cohorts(alike(level)), {}, week(8) + 1)
    expect(findings[0]).toMatch(/^60 % of 700 people/)
    expect(cautions[0]).toBe('Hatched cells are not over yet for all of their people, and are left out of the line.')
    expect(of(cohorts(alike(level)), { range: { from: '2026-01-05', to: '2026-01-11' } }, week(1)).findings).toEqual([
      '100 people started, and no cohort is old enough to tell how many came back. Ask for a longer time, or shorter units.',
    ])
  })
  test('what a week means for who started on its last day', () => {
    expect(of(cohorts(alike(level))).cautions).toContain(
      'Week 1 is the calendar week after the one of the start: for someone who started on a Sunday it begins the next day.',
    )
  })
  test('from the period on, small cohorts and spans of days are told of', () => {
    const onward = of(cohorts(alike(level), 20), { count: 'from' })
    expect(onward.findings[0]).toBe('60 % of 160 people did ride in week 1 or later, 40 % in week 6.')
    expect(onward.cautions).toEqual(
      expect.arrayContaining([
        '“Or after it” looks up to now: these shares may still grow, those of late cohorts most.',
        '8 cohorts have under 30 people: their shares jump by chance.',
      ]),
    )
    const brackets: [number, number][] = [
      [1, 6],
      [7, 13],
      [14, 27],
    ]
    expect(of(cohorts(alike(level)), { brackets, every: 'day' }).findings.slice(0, 2)).toEqual([
      '0 % of 800 people did ride on days 1 to 6, 41 % on days 14 to 27.',
      'No cohort differs clearly from the others on days 1 to 6.',
    ])
  })
  describe('for each plan', () => {
    const breakdowns = [{ by: { of: 'event' as const, name: 'plan' }, keep: 5 }]
    const byPlan = (planOf: (i: number) => string) =>
      of(
        cohorts(alike(level), 100, (_c, i) => ({ plan: planOf(i) })),
        { breakdowns },
      ).findings.slice(1, -1)
    test('of two that differ it is said once, of the one with more', () => {
      expect(byPlan((i) => ((i * 37) % 100 < 50 ? 'Annual' : 'Day'))).toEqual([
        'Annual: 80 % come back in week 4, against 0 % of Day (+80.0 points).',
      ])
    })
    test('of three the two that differ most, each against all others', () => {
      expect(byPlan((i) => ((i * 37) % 100 < 30 ? 'Annual' : (i * 37) % 100 < 60 ? 'Month' : 'Day'))).toEqual([
        'Annual: 100 % come back in week 4, against 14.3 % of the others (+85.7 points).',
        'Day: 0 % come back in week 4, against 67 % of the others (−66.7 points).',
      ])
    })
    test('of two that do not hold everybody each is told against all others, not against the other', () => {
      const planOf = (i: number): Record<string, Value> =>
        (i * 37) % 100 < 40 ? { plan: 'Annual' } : (i * 37) % 100 < 80 ? { plan: 'Day' } : {}
      const asked = { breakdowns: [{ ...breakdowns[0], hideNone: true as const }] }
      const { findings } = of(
        cohorts(alike(level), 100, (_c, i) => planOf(i)),
        asked,
      )
      expect(findings.slice(1, 3)).toEqual([
        expect.stringMatching(/^Annual: 100 % come back in week 4, against 0 % of the others/),
        expect.stringMatching(/^Day: 0 % come back in week 4, against 67 % of the others/),
      ])
    })
    test('where none differs, the largest difference is told as noise', () => {
      expect(byPlan((i) => (i % 2 ? 'Annual' : 'Day'))).toEqual([
        expect.stringMatching(/^In week 4 no group differs clearly from the others; .*: no more than noise\.$/),
      ])
    })
  })
  test('nobody for the first time', () => {
    const later = { from: '2026-05-04', to: '2026-05-10' }
    expect(of(cohorts(alike(level)), { first: true, range: later }, week(20)).findings).toEqual([
      'Nobody did join for the first time ever in this time, as asked.',
    ])
  })
})

describe('growth accounting', () => {
  const growth: GrowthQuestion = {
    ...{ kind: 'growth', start: ride, interval: { unit: 'week' }, show: { form: 'states' } },
    range: { from: '2026-01-12', to: '2026-03-01' },
  }
  const crowd = (name: string, many: number, weeks: number[]): TestEvent[] =>
    Array.from({ length: many }, (_, i) =>
      weeks.map((w): TestEvent => ({ person: `${name}${i}`, event: 'ride', time: week(w) + 1, properties: {} })),
    ).flat()
  const of = (events: TestEvent[], more: Partial<GrowthQuestion> = {}, now = week(8)) =>
    read(logOf(events), { ...growth, ...more }, now)

  test('who came and went in the last full week, and what the quick ratio says of all of them', () => {
    const kept = crowd('a', 50, [0, 1, 2, 3, 4, 5, 6, 7])
    expect(of([...kept, ...crowd('b', 10, [0, 1]), ...crowd('c', 5, [3, 4])]).findings).toEqual([
      'In the last full week 50 people were active: 0 came or came back and 0 lapsed, as many as the week before.',
      // 5 new, and 10 and 5 who lapsed.
      'Over the 7 full weeks the quick ratio is 0.33: too few came or lapsed to tell which are more.',
      'Most active people are kept from the one before: 99 % retained, 1.4 % new, 0 % revived.',
      'The retention rate shows no clear change: 97 % in the later half, 94 % in the earlier.',
    ])
  })
  test('more than before, while the open week is left out and told of', () => {
    const { findings, cautions } = of(
      [...crowd('a', 20, [0, 1, 2, 3, 4, 5, 6, 7]), ...crowd('b', 40, [0, 3, 6]), ...crowd('d', 50, [7])],
      {},
      week(7) + days(2),
    )
    expect(findings[0]).toBe(
      'In the last full week 60 people were active: 40 came or came back and 0 lapsed, 40 more than the week before.',
    )
    expect(cautions[0]).toBe('The week of 23 Feb is not over: who counts as lapsed in it may still come.')
  })
  test('months are called by their names', () => {
    const { cautions } = of(crowd('a', 20, [0, 2, 4, 6, 8]), {
      ...{ interval: { unit: 'month' }, range: { from: '2026-01-01', to: '2026-03-01' } },
    })
    expect(cautions[0]).toBe('March is not over: who counts as lapsed in it may still come.')
  })
  test('intervals of days by their first; the one in which most lapsed', () => {
    const events = [...crowd('a', 40, [0, 1, 2, 3, 4, 5, 6, 7]), ...crowd('b', 40, [0, 1, 2])]
    expect(of(events, { interval: { days: 14 } }).findings).toEqual([
      'In the last full interval of 14 days 40 people were active: 0 came or came back and 0 lapsed, as many as the one before.',
      'Over the 3 full intervals the quick ratio is 0.00: more people lapse than come or come back.',
      'Most active people are kept from the one before: 100 % retained, 0 % new, 0 % revived.',
      'Most people lapsed in the interval of 14 days from 2 Feb: 40.',
    ])
  })
  test('half of them is not most', () => {
    expect(of(crowd('a', 2, [1, 2])).findings[2]).toMatch(/^The largest part of active people is /)
  })
  test('a retention rate that clearly went up', () => {
    const come = Array.from({ length: 8 }, (_, w) => crowd(`w${w}-`, 40, w < 4 ? [w] : [w, w + 1])).flat()
    const { findings } = of(come)
    // Nobody of 120 in the first three weeks, and 40 each of 40, 80 and 80 in the last three.
    expect(findings.at(-1)).toBe(
      'The retention rate went from 0 % in the earlier half to 60 % in the later (+60.0 points).',
    )
  })
  test('nobody up to that time', () => {
    expect(of(crowd('a', 2, [9]))).toEqual({
      findings: ['Nobody has done ride up to this time, as asked.'],
      cautions: [],
    })
  })
})

/** Whose name begins with an a has the one plan, all others the other. */
const plansOf = (events: readonly TestEvent[]) =>
  Object.fromEntries(events.map(({ person }) => [person, { plan: person.startsWith('a') ? 'Annual' : 'Day' }]))

/** Every week on these days, counted from Monday. */
const everyWeek = (name: string, many: number, daysOf: (week: number) => number[]) =>
  Array.from({ length: many }, (_, i) =>
    Array.from({ length: 8 }, (_w, w) =>
      daysOf(w).map((d): TestEvent => ({
        person: `${name}${i}`,
        event: 'ride',
        time: week(w) + days(d) + 1,
      })),
    ).flat(),
  ).flat()

describe('habit', () => {
  const habit: HabitQuestion = {
    ...{ kind: 'habit', start: ride, period: 'week', range: { from: '2026-01-05', to: '2026-03-01' } },
    show: { form: 'at least' },
  }
  const of = (events: TestEvent[], more: Partial<HabitQuestion> = {}, now = week(8)) =>
    read(logOf(events, { profiles: plansOf(events) }), { ...habit, ...more }, now)

  test('on how many days, how many on so many or more, and on which weekday most', () => {
    expect(of([...everyWeek('a', 30, () => [0, 2, 4]), ...everyWeek('b', 30, () => [0])]).findings).toEqual([
      'People who turn up do so on 2 days in a week on average; 50 % on one day only.',
      '50 % turn up on 3 days or more.',
      'The share of those with 3 days or more shows no clear change from the earlier half of the time to the later.',
      'Most people turn up on Mondays: 60 on average; 0 on each of 4 weekdays.',
    ])
  })
  test('a threshold of one’s own is told by its name, also how it changed', () => {
    const events = [...everyWeek('a', 60, (w) => (w < 4 ? [0, 2, 4] : [0])), ...everyWeek('b', 30, () => [5])]
    expect(of(events, { core: { name: 'Core', days: 3 } }).findings.slice(1, 3)).toEqual([
      'Core: 33 % turn up on 3 days or more.',
      'The share of Core went from 67 % in the earlier half of the time to 0 % in the later (−66.7 points).',
    ])
  })
  test('over time it is the looked at number of days that is told, beside the one with a name', () => {
    const events = [...everyWeek('a', 60, () => [0, 2, 4]), ...everyWeek('b', 30, () => [5])]
    const core = { name: 'Core', days: 3 }
    const second = (show: HabitQuestion['show']) => of(events, { core, show }).findings[1]
    expect(second({ form: 'at least', days: 2 })).toMatch(/^Core: \d+ % turn up on 3 days or more\.$/)
    expect(second({ form: 'over time', days: 2 })).toMatch(
      /^\d+ % turn up on 2 days or more; Core, on 3 days or more: \d+ %\.$/,
    )
    expect(second({ form: 'over time', days: 3, exactly: true })).toMatch(/^\d+ % turn up on exactly 3 days; Core/)
    expect(second({ form: 'over time' })).toMatch(/^Core: \d+ % turn up on 3 days or more\.$/)
  })
  test('no weekday is ahead where they differ by chance only', () => {
    const spread = everyWeek('a', 40, (w) => [w % 7, (w + 3) % 7])
    expect(of(spread).findings.join(' ')).not.toContain('Most people turn up')
  })
  test('the group that differs, small groups, and few periods', () => {
    const breakdowns = [{ by: { of: 'person' as const, name: 'plan' }, keep: 5 }]
    const events = (many: number) => [...everyWeek('a', many, () => [0, 2, 4]), ...everyWeek('b', 40, () => [1])]
    expect(of(events(40), { breakdowns }).findings.at(-1)).toBe(
      'Annual: 100 % turn up on 3 days or more, against 0 % of the others.',
    )
    const few = of(events(2), { breakdowns }, week(2))
    expect(few.findings.at(-1)).toBe('No group differs clearly in the share with 3 days or more.')
    expect(few.cautions).toEqual([
      '1 group has under 30 person-periods: read with care.',
      'Only 2 periods are over and whole in this time.',
    ])
  })
})

describe('the usage interval', () => {
  const gaps: GapsQuestion = {
    ...{ kind: 'gaps', start: ride, show: { form: 'gaps' } },
    range: { from: '2026-01-05', to: '2026-03-01' },
  }
  const of = (daysOf: (week: number) => number[]) => read(logOf(everyWeek('a', 10, daysOf)), gaps, week(8)).findings
  const suggestion = (unit: string, interval: string) =>
    `For retention and habit that suggests ${unit}; for growth accounting intervals of ${interval}.`

  test('of who comes on Mondays and Thursdays', () => {
    expect(of(() => [0, 3])).toEqual([
      '80 % of returns happen within 4 days; half of them within 3 days.',
      'A typical person comes back after 3 days: the median of each person’s own median gap.',
      suggestion('weeks', '4 days'),
    ])
  })
  test('of who comes every week, or every four', () => {
    expect(of(() => [0]).at(-1)).toBe(suggestion('weeks', '7 days'))
    expect(of((w) => (w % 4 === 0 ? [0] : [])).at(-1)).toBe(suggestion('months', '28 days'))
  })
  test('who came once has no gap: some are told of, and all leave nothing to tell', () => {
    const once: TestEvent = { person: 'once', event: 'ride', time: week(1), properties: {} }
    expect(read(logOf([...everyWeek('a', 3, () => [0]), once]), gaps, week(8)).findings[2]).toBe(
      '1 person of 4 did it on one day only, and has no gap.',
    )
    expect(of((w) => (w === 0 ? [0] : []))).toEqual([
      'Nobody did it on two different days: there are no gaps to tell of.',
    ])
  })
})
