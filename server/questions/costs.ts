import type { Question } from '../../core/analyses/registry.js'

/** ms for each million events, before a kind has been asked often enough to know. */
const AT_FIRST = 30
/** So much a new measurement weighs. */
const NEWEST = 0.3

/** What questions cost, learnt from those that were answered: each kind's time for a million events and one of its parts. */
export class Costs {
  private readonly rates = new Map<string, number>()

  /** @param spentMs what it took to work out, waiting not counted */
  learn(question: Question, events: number, spentMs: number): void {
    if (events < 10_000) return
    const rate = spentMs / amountOf(question, events)
    const before = this.rates.get(question.kind)
    this.rates.set(question.kind, before === undefined ? rate : before + NEWEST * (rate - before))
  }

  /** About how long a question will take, ms. */
  estimateMs(question: Question, events: number): number {
    return (this.rates.get(question.kind) ?? AT_FIRST) * amountOf(question, events)
  }
}

/** Millions of events, times the parts of the question that each have to look at them. */
function amountOf(question: Question, events: number): number {
  const { series, steps, breakdowns, rows } = question as {
    series?: unknown[]
    steps?: unknown[]
    breakdowns?: unknown[]
    rows?: unknown[]
  }
  const parts = series?.length ?? steps?.length ?? 1
  return (events / 1e6) * Math.max(1, parts) * (1 + (breakdowns?.length ?? rows?.length ?? 0))
}
