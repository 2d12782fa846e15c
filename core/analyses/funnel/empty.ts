import type { FunnelResult } from './finish.js'

/** The result where nothing could be asked, so that the steps can be mended in their place. */
export function emptyFunnel(steps: number): FunnelResult {
  const times = { median: null, mean: null, p10: null, p90: null }
  const none = { ofStart: null, ofStartInterval: null, ofPrevious: null, ofPreviousInterval: null }
  const step = { people: 0, ...none, lost: 0, open: 0, fromPrevious: times, fromEntry: times, optional: false }
  const all = { key: null, steps: Array.from({ length: steps }, () => step), open: 0, difference: null }
  const nothing = { before: null, over: null, time: null, repeats: null, look: null, jump: null }
  return { kind: 'funnel', counts: 'people', all, groups: [], rest: 0, comparedFrom: 0, ...nothing }
}
