import { formatNumber } from '../../core/words/format.js'

/**
 * What stands out in the last weeks of an event or property: it stopped, or its last four weeks hold twice (half) as
 * many as the four before. A rule of thumb for people who watch the data, no test.
 */
export function weeksWords(weeks: readonly number[]): { words: string | null; falls: boolean } {
  const half = weeks.length / 2
  const sum = (part: readonly number[]) => part.reduce((total, n) => total + n, 0)
  const [before, after] = [sum(weeks.slice(0, half)), sum(weeks.slice(half))]
  const total = before + after
  if (total < 40) return { words: null, falls: false }
  if (weeks.at(-1) === 0 && total > 0) {
    const quiet = [...weeks].reverse().findIndex((n) => n > 0)
    return { words: `None in the last ${quiet === 1 ? 'week' : `${quiet} weeks`}.`, falls: true }
  }
  if (before > 0 && after >= 2 * before)
    return { words: `Up ${formatNumber(Math.round(after / before))}-fold on the four weeks before.`, falls: false }
  if (after > 0 && before >= 2 * after)
    return {
      words: `Down to ${formatNumber(Math.round((100 * after) / before))} % of the four weeks before.`,
      falls: true,
    }
  return { words: null, falls: false }
}
