import { describe, expect, test } from 'vitest'
import type { SegmentSize } from '../../server/engine/segments.js'
import { drawnBy } from '../../tests/canvas.js'
import { light } from '../look/palette.js'
import { sizeConfig, sizeLines } from './sizeConfig.js'

/** How many were in a segment, as it is drawn. */
const point = (key: string, members: number, open = false) => ({ key, at: 0, open, members, everyone: 100 })
const size: SegmentSize = {
  ...{ every: 'week', groups: [], rest: 0 },
  points: [point('2026-10-05', 20), point('2026-10-12', 30), point('2026-10-19', 25, true)],
}
const grouped: SegmentSize = {
  ...size,
  groups: [
    { key: { value: 'Annual' }, members: [12, 20, 15] },
    { key: { value: null }, members: [5, 6, 7] },
    { key: { rest: true }, members: [3, 4, 3] },
  ],
  rest: 2,
}
function draw(of: SegmentSize, selected: number | null = null) {
  const found = drawnBy(sizeConfig(of, { palette: light, words: { thisYear: 2026 }, selected, wide: true }))
  const texts = found.drawn.flatMap((each) => (each.did === 'text' ? [each.text] : []))
  const strokes = found.drawn.flatMap((each) => (each.did === 'stroke' ? [each] : []))
  return { ...found, texts, strokes }
}

describe('lines', () => {
  test('one of all members, or one for each group, everything else with its number of groups', () => {
    expect(sizeLines(size).map(({ label, values }) => [label, values])).toEqual([['Members', [20, 30, 25]]])
    expect(sizeLines(grouped).map(({ label }) => label)).toEqual(['Annual', 'no value', 'Everything else (2 groups)'])
  })
  test('who is in no group now may have been a member before; where nobody was, nothing is drawn', () => {
    const [annual, none] = grouped.groups
    const rest = (members: number[]) => ({
      ...grouped,
      groups: [annual, none, { key: { rest: true as const }, members }],
      rest: 0,
    })
    expect(sizeLines(rest([3, 0, 0])).map(({ label }) => label)).toEqual(['Annual', 'no value', 'Others before'])
    expect(sizeLines(rest([0, 0, 0])).map(({ label }) => label)).toEqual(['Annual', 'no value'])
  })
})

describe('the chart', () => {
  test('leads to the open week by a dashed piece, and has whole people on its axis', () => {
    const { strokes, texts, places } = draw(size)
    const [dashed, ...more] = strokes.filter((each) => each.dashed)
    expect(more).toEqual([])
    expect(dashed.points).toEqual(places[0].slice(1).map(({ x, y }) => [x, y]))
    expect(texts).toEqual(expect.arrayContaining(['5 Oct', '12 Oct', '19 Oct', '0', '30']))
    expect(texts.filter((text) => /\./.test(text))).toEqual([])
  })
  test('is drawn to its end where the last week is over', () => {
    const over = { ...size, points: size.points.map((each) => ({ ...each, open: false })) }
    expect(draw(over).strokes.filter((each) => each.dashed)).toEqual([])
  })
  test('marks the selected week on each line', () => {
    const { drawn, places } = draw(grouped, 1)
    const marked = drawn.flatMap((each) => (each.did === 'fill' && each.points.length === 1 ? [each.points[0]] : []))
    expect(marked).toEqual(places.map((line) => [line[1].x, line[1].y]))
    expect(draw(grouped).drawn.filter((each) => each.did === 'fill' && each.points.length === 1)).toEqual([])
  })
  test('names several lines at their ends, and one not at all', () => {
    expect(draw(grouped).texts).toEqual(expect.arrayContaining(['Annual', 'no value']))
    expect(draw(size).texts).not.toContain('Members')
  })
})
