import { describe, expect, test } from 'vitest'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendMark } from '../../core/analyses/trend/marks.js'
import { drawnBy, type Drawn } from '../../tests/canvas.js'
import { light } from '../look/palette.js'
import { barsConfig, type DrawnBars } from './barsConfig.js'
import { durationStep } from './look.js'
import { linesConfig, type ChartLine, type DrawnLines } from './linesConfig.js'
import { trendConfig } from './trendConfig.js'

/** The chart as it is drawn: what stands where, and how. */
const DAY = 86_400_000
const FIRST = Date.UTC(2026, 8, 7)
const keyOf = (at: number) => new Date(FIRST + at * DAY).toISOString().slice(0, 10)
function trend(rows: Record<string, (number | null)[]>, open = true): TrendResult {
  const names = Object.keys(rows)
  const length = rows[names[0]].length
  return {
    kind: 'trend',
    buckets: Array.from({ length }, (_, i) => ({
      ...{ key: keyOf(i), start: FIRST + i * DAY, end: FIRST + (i + 1) * DAY },
      ...{ open: open && i === length - 1, cut: false },
    })),
    beforeBuckets: null,
    lines: [
      {
        ...{ of: { series: 0 }, name: 'a', unit: 'people', hidden: false, before: null },
        groups: names.map((value) => ({ key: { value }, values: rows[value], total: 1, people: [], totalPeople: 1 })),
        all: { key: null, values: rows[names[0]], total: 1, people: [], totalPeople: 1 },
      },
    ],
    keys: names.map((value) => ({ value })),
    rest: 0,
    overlap: false,
  }
}
const question: TrendQuestion = {
  kind: 'trend',
  series: [{ event: { names: ['Ride'] }, measure: 'people' }],
  every: 'day',
  range: { last: 4, unit: 'day' },
  breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 50 }],
  show: { form: 'lines', as: 'number' },
}
function draw(
  rows: Record<string, (number | null)[]>,
  more: {
    open?: boolean
    selected?: TrendMark[]
    show?: Partial<TrendQuestion['show']>
    notes?: [string, string][]
  } = {},
) {
  const annotations = (more.notes ?? []).map(([day, text]) => ({ id: text, day, text, tags: [], study: null }))
  const config = trendConfig({
    ...{ result: trend(rows, more.open), palette: light, width: 900, selected: more.selected ?? [] },
    words: { thisYear: 2026, annotations },
    question: { ...question, show: { ...question.show, ...more.show } },
  })
  const { drawn, places, chartArea } = drawnBy(config)
  const strokes = drawn.flatMap((each) => (each.did === 'stroke' ? [each] : []))
  const texts = drawn.flatMap((each) => (each.did === 'text' ? [each] : []))
  return { strokes, texts, places, chartArea, drawn }
}
const plans = { Annual: [10, 20, 30, 5], Day: [3, 2, 1, 2] }

describe('a period that is still open', () => {
  test('is led to by a dashed piece, and nothing else is dashed', () => {
    const { strokes, places } = draw(plans)
    places.forEach((line, i) => {
      const own = strokes.filter(({ colour, points }) => colour === light.series[i] && points.length >= 2)
      const dashed = own.filter((each) => each.dashed)
      expect(dashed.map(({ points }) => points)).toEqual([line.slice(2).map(({ x, y }) => [x, y])])
      // The whole line ends where the dashed piece begins.
      for (const { clipped } of own.filter((each) => !each.dashed)) expect(clipped).toBeLessThanOrEqual(line[2].x)
    })
  })

  test('that has no figure yet is not led to', () => {
    const { strokes } = draw({ Annual: [10, 20, 30, null] })
    expect(strokes.filter(({ dashed }) => dashed)).toEqual([])
  })

  test('that is not there leaves the line whole', () => {
    const { strokes, places } = draw(plans, { open: false })
    expect(strokes.filter(({ dashed }) => dashed)).toEqual([])
    const [whole] = strokes.filter(({ colour }) => colour === light.series[0])
    expect(whole.clipped ?? Infinity).toBeGreaterThan(places[0][3].x)
  })
})

/** Where single points stand, as fills of the colour. */
const pointsAt = (drawn: ReturnType<typeof draw>['drawn'], colour: string) =>
  drawn.flatMap((each) => (each.did === 'fill' && each.colour === colour ? [each.points] : []))

test('a point stands where the last whole period ends, and on what is selected', () => {
  const { drawn, places } = draw(plans, {
    selected: [{ kind: 'point', bucket: keyOf(0), group: { value: 'Day' } }],
  })
  const centre = ({ x, y }: { x: number; y: number }) => [x, y]
  expect(pointsAt(drawn, light.series[0])).toEqual([[centre(places[0][2])]])
  expect(pointsAt(drawn, light.series[1])).toEqual([[centre(places[1][2])], [centre(places[1][0])]])
})

describe('names at the ends of lines', () => {
  const rows = (many: number) =>
    Object.fromEntries(Array.from({ length: many }, (_, i) => [`Plan ${i}`, [50, 50 + i / 9]]))

  test.each([2, 7, 12])('of %i lines that end at nearly one place never touch', (many) => {
    const { texts, chartArea } = draw(rows(many), { open: false })
    const names = texts.filter(({ text }) => text.startsWith('Plan'))
    expect(names).toHaveLength(many)
    const ys = names.map(({ y }) => y).sort((a, b) => a - b)
    for (let i = 1; i < many; i++) expect(ys[i] - ys[i - 1]).toBeGreaterThanOrEqual(14)
    expect(ys[0]).toBeGreaterThanOrEqual(chartArea.top)
    expect(ys.at(-1)).toBeLessThanOrEqual(chartArea.bottom)
    // They end on the canvas.
    for (const { x, text } of names) expect(x + text.length * 6).toBeLessThanOrEqual(900)
  })

  test('stand at the last figure where the last period has none', () => {
    const { texts, places } = draw({ Annual: [10, 20, 30, 40], Day: [30, 30, 20, null] })
    expect(texts.find(({ text }) => text === 'Day')!.y).toBeCloseTo(places[1][2].y)
  })

  test('of more lines than can be told apart are left to the table', () => {
    const { texts } = draw(rows(50), { open: false })
    expect(texts.filter(({ text }) => text.startsWith('Plan'))).toEqual([])
  })
})

describe('the time axis', () => {
  test.each([1, 7, 84, 400])('of %i days has names that do not touch', (days) => {
    const { texts } = draw({ Annual: Array.from({ length: days }, (_, i) => i) })
    const below = texts.filter(({ text }) => /^\d+ \w{3}/.test(text)).sort((a, b) => a.x - b.x)
    expect(below.length).toBeGreaterThan(0)
    // They are written around their middle.
    for (let i = 1; i < below.length; i++) {
      const [one, next] = [below[i - 1], below[i]]
      expect(next.x - (next.text.length * 6) / 2).toBeGreaterThan(one.x + (one.text.length * 6) / 2)
    }
  })
})

describe('what notes say', () => {
  test('stands above their days, and of two beside each other the second on the next row', () => {
    const { texts, strokes, places } = draw(
      { Annual: Array.from({ length: 30 }, (_, i) => i) },
      {
        notes: [
          [keyOf(3), 'New docks on the quay'],
          [keyOf(4), 'Prices went up'],
        ],
      },
    )
    const said = ['New docks on the quay', 'Prices went up'].map((text) => texts.find((each) => each.text === text)!)
    expect(said[1].y - said[0].y).toBe(15)
    const rules = strokes.filter(({ colour, dashed }) => dashed && colour === light.hazel)
    const verticals = rules.flatMap(({ points }) => points.map(([x]) => x))
    expect(new Set(verticals)).toEqual(new Set([places[0][3].x, places[0][4].x]))
  })

  test('stays on the canvas where their day is the last', () => {
    const { texts } = draw({ Annual: [1, 2, 3, 4] }, { notes: [[keyOf(3), 'A long note of the last day']] })
    const said = texts.find(({ text }) => text.startsWith('A long note'))!
    expect(said.x + said.text.length * 6).toBeLessThanOrEqual(900)
  })
})

const strokesOf = (drawn: readonly Drawn[], colour: string) =>
  drawn.flatMap((each) => (each.did === 'stroke' && each.colour === colour ? [each] : []))
const textsOf = (drawn: readonly Drawn[]) => drawn.flatMap((each) => (each.did === 'text' ? [each] : []))

describe('curves of who comes back', () => {
  const tells = (values: readonly (number | null)[]) => values.map(String)
  const line = (label: string, values: (number | null)[], more: Partial<ChartLine> = {}): ChartLine => ({
    ...{ label, values, tells: tells(values), rest: false },
    ...more,
  })
  const axis = ['start', 'week 0', 'week 1', 'week 2', 'week 3']
  const curve = (lines: ChartLine[], more: Partial<DrawnLines & { figures: boolean; wide: boolean }> = {}) =>
    drawnBy(
      linesConfig({
        ...{ axis, titles: axis, lines, target: null, unit: 'percent', currency: 'EUR', figures: true, palette: light },
        ...{ wide: true, ...more },
      }),
    )

  test('one alone has its figures above its points, small ones to a tenth, and none where there is a gap', () => {
    const { drawn, places } = curve([line('All', [1, 0.314, 0.094, 0.0002, null])])
    const above = textsOf(drawn).filter(({ colour }) => colour === light.ink)
    expect(above.map(({ text }) => text)).toEqual(['100', '31', '9.4', '<0.1'])
    above.forEach(({ y }, i) => expect(y).toBeLessThan(places[0][i].y))
  })

  test('several have their names at their ends instead', () => {
    const { drawn } = curve([line('Annual', [1, 0.5, 0.4, 0.3, 0.3]), line('Day', [1, 0.4, 0.2, 0.1, null])])
    const texts = textsOf(drawn).map(({ text }) => text)
    expect(texts).toEqual(expect.arrayContaining(['Annual', 'Day']))
    expect(texts).not.toContain('50')
  })

  test('the interval is ground between its two edges, behind the line', () => {
    const band = { low: [1, 0.4, 0.3, 0.2, 0.2], high: [1, 0.6, 0.5, 0.4, 0.4] }
    const { drawn, places } = curve([line('All', [1, 0.5, 0.4, 0.3, 0.3], { band })])
    const ground = drawn.findIndex((each) => each.did === 'fill' && each.colour === `${light.series[0]}26`)
    const stroke = drawn.findIndex((each) => each.did === 'stroke' && each.colour === light.series[0])
    expect(ground).toBeGreaterThanOrEqual(0)
    expect(ground).toBeLessThan(stroke)
    // The lines of the band come after the line itself.
    places[0].forEach(({ y }, i) => {
      expect(y).toBeLessThanOrEqual(places[1][i].y)
      expect(y).toBeGreaterThanOrEqual(places[2][i].y)
    })
  })

  test('of more than three the intervals would hide each other, and are left out', () => {
    const band = { low: [0, 0, 0, 0, 0], high: [1, 1, 1, 1, 1] }
    const { drawn } = curve(['a', 'b', 'c', 'd'].map((name) => line(name, [1, 0.5, 0.4, 0.3, 0.3], { band })))
    expect(drawn.some((each) => each.did === 'fill' && each.colour.endsWith('26'))).toBe(false)
  })

  test('a period that is not over is led to by a dashed piece', () => {
    const dashed = [false, false, false, true, false]
    const { drawn, places } = curve([line('All', [1, 0.5, 0.4, 0.3, 0.3], { dashed })], { figures: false })
    const [piece, ...more] = strokesOf(drawn, light.series[0]).filter((each) => each.dashed)
    expect(more).toEqual([])
    expect([...new Set(piece.points.map(([x]) => x))]).toEqual([places[0][2].x, places[0][3].x])
  })

  test('what is aimed at stands across, with its name', () => {
    const { drawn, chartArea } = curve([line('All', [1, 0.5, 0.4, 0.3, 0.3])], {
      target: { at: 0.25, text: 'Target 25 %' },
    })
    const across = strokesOf(drawn, light.hazel).map(({ points }) => points.map(([x]) => x))
    expect(across).toEqual([[chartArea.left, chartArea.right]])
    expect(textsOf(drawn).some(({ text }) => text === 'Target 25 %')).toBe(true)
  })
})

describe('bars', () => {
  const axis = ['Jun', 'Jul', 'Aug']
  const bars = (
    list: [string, number[], number][],
    more: Partial<DrawnBars & { stacked: boolean; figures: boolean }> = {},
  ) =>
    drawnBy(
      barsConfig({
        ...{
          axis,
          titles: axis,
          totals: [],
          stacked: false,
          unit: 'count',
          currency: 'EUR',
          figures: true,
          palette: light,
        },
        bars: list.map(([label, values, paint]) => ({ label, values, tells: values.map(String), paint })),
        ...more,
      }),
    )

  test('have their figures above them where there is one of each', () => {
    const { drawn, places } = bars([['Riders', [1200, 900, 0], 0]])
    const above = textsOf(drawn).filter(({ colour }) => colour === light.ink)
    expect(above.map(({ text }) => text)).toEqual(['1,200', '900', '0'])
    above.forEach(({ x, y }, i) => {
      expect(x).toBeCloseTo(places[0][i].x)
      expect(y).toBeLessThan(places[0][i].y)
    })
  })

  test('of many places leave out the figures that have no room', () => {
    const many = Array.from({ length: 80 }, (_, i) => String(i))
    const { drawn } = bars([['Riders', many.map(() => 12_345), 0]], { axis: many, titles: many })
    expect(textsOf(drawn).filter(({ text }) => text === '12,345')).toEqual([])
  })

  test('that are stacked stand on one another above the line, and hang below it where people went', () => {
    const { places, drawn } = bars(
      [
        ['Kept', [60, 50, 40], 0],
        ['New', [20, 30, 10], 2],
        ['Lapsed', [-25, -20, -30], 3],
      ],
      { stacked: true },
    )
    const [kept, fresh, lapsed] = places
    const zero = textsOf(drawn).find(({ text }) => text === '0')!.y
    axis.forEach((_name, i) => {
      expect(fresh[i].y).toBeLessThan(kept[i].y)
      expect(kept[i].y).toBeLessThan(zero)
      expect(lapsed[i].y).toBeGreaterThan(zero)
    })
    // Below the line stand people as well: no axis says −20 of them.
    expect(textsOf(drawn).filter(({ text }) => /^[-−]/.test(text))).toEqual([])
  })

  test('what stands above a stack is said of all of it', () => {
    const { drawn, places } = bars(
      [
        ['Kept', [60, 50, 40], 0],
        ['New', [20, 30, 10], 2],
      ],
      { stacked: true, totals: ['+5', '−3', ''] },
    )
    const said = textsOf(drawn).filter(({ colour, text }) => colour === light.ink && text !== '')
    expect(said.map(({ text }) => text)).toEqual(['+5', '−3'])
    said.forEach(({ y }, i) => expect(y).toBeLessThan(places[1][i].y))
  })
})

test('ticks of durations stand where a clock has them, five at most', () => {
  expect([0.2, 4, 61, 1400, 4000, 90_000, 3e6].map(durationStep)).toEqual([
    ...[undefined, 1, 15, 300, 900, 21_600],
    7 * 86_400,
  ])
})
