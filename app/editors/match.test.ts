import { expect, test } from 'vitest'
import { matchScore } from './match.js'

test('what is typed finds the name itself first, then its parts, then meanings; scattered letters find nothing', () => {
  const score = (typed: string, ...texts: string[]) => matchScore(typed, texts)
  const falling = [
    score('rider kind', 'Rider kind', 'What the person rides for'),
    score('rider', 'Rider kind'),
    score('kind', 'Rider kind'),
    score('ide', 'Rider kind'),
    score('kind rider', 'Rider kind'),
    score('rides person', 'Rider kind', 'What the person rides for'),
    score('rider kind', 'From district', 'District where the ride began'),
  ]
  expect(falling).toEqual([...falling].sort((a, b) => b - a))
  expect(new Set(falling).size).toBe(falling.length)
  expect(falling.at(-1)).toBe(0)
  expect(score('', 'anything')).toBeGreaterThan(0)
})
