import { describe, expect, test } from 'vitest'
import type { OverlapRegion } from '../../../core/analyses/overlap/finish.js'
import { eulerOf, partAt } from './euler.js'

const region = (people: number, ...inside: number[]): OverlapRegion => ({ in: inside, people, figure: null })
const lay = (...regions: OverlapRegion[]) => {
  const many = Math.max(...regions.flatMap((each) => each.in)) + 1
  const segments = Array.from({ length: many }, (_, place) => ({
    people: regions.reduce((sum, each) => (each.in.includes(place) ? sum + each.people : sum), 0),
  }))
  return eulerOf(segments, regions, 600, 400)
}

describe('circles', () => {
  test('have areas in proportion to the people, and so has their overlap', () => {
    const { circles, off } = lay(region(700, 0), region(100, 1), region(300, 0, 1))
    expect((circles[0]!.radius / circles[1]!.radius) ** 2).toBeCloseTo(1000 / 400, 2)
    expect(off).toBeLessThan(0.01)
  })
  test('of segments without anybody in common lie apart', () => {
    const { circles, off } = lay(region(500, 0), region(500, 1), region(0, 0, 1))
    const [a, b] = circles
    expect(Math.hypot(a!.x - b!.x, a!.y - b!.y)).toBeGreaterThanOrEqual(a!.radius + b!.radius - 0.5)
    expect(off).toBeLessThan(0.01)
  })
  test('one within the other', () => {
    const { circles, off } = lay(region(900, 0), region(0, 1), region(100, 0, 1))
    const [a, b] = circles
    expect(Math.hypot(a!.x - b!.x, a!.y - b!.y)).toBeLessThanOrEqual(a!.radius - b!.radius + 0.5)
    expect(off).toBeLessThan(0.01)
  })
  test('of three say how far off they are where circles cannot show it', () => {
    const fair = lay(
      region(400, 0),
      region(400, 1),
      region(400, 2),
      region(100, 0, 1),
      region(100, 0, 2),
      region(100, 1, 2),
      region(40, 0, 1, 2),
    )
    expect(fair.off).toBeLessThan(0.05)
    // All of each pair's overlap is outside of the third, which circles of this size do not allow.
    const odd = lay(
      region(10, 0),
      region(10, 1),
      region(10, 2),
      region(300, 0, 1),
      region(300, 0, 2),
      region(300, 1, 2),
      region(0, 0, 1, 2),
    )
    expect(odd.off).toBeGreaterThan(0.05)
  })
  test('a segment that holds nobody has none', () => {
    const { circles, parts } = lay(region(50, 0), region(0, 1), region(0, 0, 1))
    expect(circles[1]).toBeNull()
    expect(parts).toHaveLength(1)
  })
  test('each number stands in its own part', () => {
    const euler = lay(region(700, 0), region(500, 1), region(300, 0, 1))
    for (const part of euler.parts) expect(partAt(euler, part.at.x, part.at.y)).toEqual(part.in)
  })
})
