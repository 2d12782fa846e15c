import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { PathSide, PathStep } from '../../../core/analyses/paths/finish.js'
import { layStream, linesOf, ribbonId, throughOf } from './layout.js'

const WORDS = [
  'Card',
  'refused',
  'Ride',
  'completed',
  'everything',
  'else',
  'Antidisestablishmentarianism',
  'x',
  '“/tariffs”',
]
const name = fc.array(fc.constantFrom(...WORDS), { minLength: 1, maxLength: 5 }).map((words) => words.join(' '))

/** A stream of so many steps: each node's flow goes on to random nodes of the next step, or ends. */
const streams = fc
  .array(fc.array(fc.array(fc.nat(40), { minLength: 10, maxLength: 10 }), { minLength: 1, maxLength: 9 }), {
    minLength: 1,
    maxLength: 6,
  })
  .chain((sizes) =>
    fc.tuple(
      fc.constant(sizes),
      fc.array(fc.array(name, { minLength: 11, maxLength: 11 }), { minLength: 7, maxLength: 7 }),
    ),
  )
  .map(([sizes, names]) => {
    let before = [1000]
    const steps: PathStep[] = []
    for (const weights of sizes) {
      const many = weights.length + 1
      const counts = Array<number>(many).fill(0)
      const ribbons = before.flatMap((count, from) => {
        if (count === 0) return []
        const share = weights.map((row) => row[from % row.length] + 1)
        const sum = share.reduce((a, b) => a + b, 0) + 5
        return [...share, 5].flatMap((part, to) => {
          const flow = Math.floor((count * part) / sum)
          counts[to] += flow
          return flow > 0 ? [{ from, to, count: flow, median: 1 }] : []
        })
      })
      const nodes = counts.map((count, i) => ({
        place: i === many - 1 ? ({ ends: true } as const) : { event: `e${i}` },
        ...{ count, median: 1, sources: [] },
      }))
      steps.push({ nodes, ribbons, before: before.reduce((a, b) => a + b, 0) })
      before = counts.map((count, i) => (i === many - 1 ? 0 : count))
    }
    const side: PathSide = {
      ...{ key: null, ways: 1000, people: 1000, reached: null, took: null, cut: 0, open: 0 },
      steps,
    }
    return { side, names: [[names[0][0]], ...steps.map(({ nodes }, s) => nodes.map((_, i) => names[s + 1][i]))] }
  })

const numbersOf = (side: PathSide) => [
  [['1,000', '100 %']],
  ...side.steps.map(({ nodes }) => nodes.map(() => ['1,000', '100 %', 'station kiosk'])),
]

describe('a stream', () => {
  test('has room for every label: none lies on another, on a bar, or beyond the edge, however wide and whichever way', () => {
    fc.assert(
      fc.property(streams, fc.integer({ min: 300, max: 1200 }), fc.boolean(), ({ side, names }, space, backward) => {
        const stream = layStream(side, names, numbersOf(side), { backward, space })
        const boxes = stream.nodes.map((node) => ({
          left: node.x,
          top: node.y,
          bottom: node.y + Math.max(node.height, 15 * (node.lines.length + node.numbers.length)),
          right:
            node.x + node.width + 6 + 6.2 * Math.max(...[...node.lines, ...node.numbers].map((line) => line.length)),
        }))
        for (const [i, a] of boxes.entries()) {
          expect(a.right).toBeLessThanOrEqual(stream.width + 1)
          expect(a.bottom).toBeLessThanOrEqual(stream.height)
          for (const b of boxes.slice(i + 1)) {
            const apart = a.right <= b.left || b.right <= a.left || a.bottom <= b.top + 0.5 || b.bottom <= a.top + 0.5
            expect(apart).toBe(true)
          }
        }
      }),
      { numRuns: 150 },
    )
  })

  test('goes from left to right, and back from the right', () => {
    fc.assert(
      fc.property(streams, fc.boolean(), ({ side, names }, backward) => {
        const { nodes } = layStream(side, names, numbersOf(side), { backward, space: 900 })
        for (const a of nodes)
          for (const b of nodes) if (a.step < b.step) expect(backward ? a.x > b.x : a.x < b.x).toBe(true)
      }),
      { numRuns: 40 },
    )
  })

  test('lights exactly the ways through what is pointed at', () => {
    const ribbon = (step: number, from: number, to: number) => ({ step, from, to, count: 1, path: '', width: 1 })
    const ribbons = [
      ribbon(1, 0, 0),
      ribbon(1, 0, 1),
      ribbon(2, 0, 0),
      ribbon(2, 1, 0),
      ribbon(2, 1, 1),
      ribbon(3, 0, 0),
    ]
    const lit = throughOf({ ribbons }, { step: 2, index: 0 })
    expect([...lit.ribbons].sort()).toEqual(['1 0 0', '1 0 1', '2 0 0', '2 1 0', '3 0 0'])
    const one = throughOf({ ribbons }, { step: 2, from: 1, to: 0 })
    expect([...one.ribbons].sort()).toEqual([ribbonId(ribbons[1]), '2 1 0', '3 0 0'].sort())
    expect([...one.nodes].sort()).toEqual(['0 0', '1 1', '2 0', '3 0'])
  })

  test('of very many ribbons the largest are drawn, and it is told how many are not', () => {
    const wide = (from: number) =>
      Array.from({ length: 30 }, (_, to) => ({ from, to, count: from === 3 ? 9 : 1, median: 1 }))
    const nodes = (count: number) =>
      Array.from({ length: 30 }, (_, i) => ({ place: { event: `e${i}` }, count, median: 1, sources: [] }))
    const side: PathSide = {
      ...{ key: null, ways: 900, people: 900, reached: null, took: null, cut: 0, open: 0 },
      steps: [
        {
          nodes: nodes(30),
          ribbons: Array.from({ length: 30 }, (_, to) => ({ from: 0, to, count: 30, median: 1 })),
          before: 900,
        },
        { nodes: nodes(38), ribbons: Array.from({ length: 30 }, (_, from) => wide(from)).flat(), before: 900 },
      ],
    }
    const names = [['a'], ...side.steps.map((step) => step.nodes.map(() => 'b'))]
    const stream = layStream(side, names, numbersOf(side), { backward: false, space: 900 })
    expect(stream.ribbons).toHaveLength(400)
    expect(stream.left).toBe(530)
    expect(stream.ribbons.filter(({ step, from }) => step === 2 && from === 3)).toHaveLength(30)
  })
})

test('names are put in lines that fit, and nothing of them is lost', () => {
  expect(linesOf('Ride completed', 20)).toEqual(['Ride completed'])
  expect(linesOf('Ride completed', 10)).toEqual(['Ride', 'completed'])
  expect(linesOf('Ridecompleted', 8)).toEqual(['Ridecomp', 'leted'])
})
