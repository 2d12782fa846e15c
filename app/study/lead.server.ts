import type { AnalysisKind, Question, Result } from '../../core/analyses/registry.js'
import type { Words } from '../../core/words/words.js'
import { shownKinds, viewOf } from '../analyses/registry.js'
import type { Cell, Look, Near } from '../analyses/leads.js'
import type { Unit } from '../../core/time/range.js'
import { commonEvents } from './common.js'
import { fitted } from './fitted.js'

/** A study's numbers as rows of cells, heads first: unrounded, times in seconds. */
export async function tableOf(question: Question, result: Result, words: Words): Promise<Cell[][]> {
  const leads = await viewOf(question.kind).leads()
  return leads.table(question, result, words)
}

/** *Where to look next*: two to four follow-up questions, in the order an analyst works. */
export async function whereNext(question: Question, result: Result, near: Near): Promise<Look[]> {
  const leads = await viewOf(question.kind).leads()
  return leads.next(question, result, near)
}

/** A first study of a kind that already shows a result. */
export async function startingQuestion(kind: AnalysisKind, near: Near): Promise<Question> {
  const leads = await viewOf(kind).leads()
  return fitted(leads.start(commonEvents(near.catalog), near), near, MOST[kind] ?? 'year')
}

/** One of the questions an analyst comes with, and finished first studies that answer it. */
export interface HomeCard {
  title: string
  kind: AnalysisKind
  looks: Look[]
}

/** The largest unit that a kind counts by, where that is not the year. */
const MOST: Partial<Record<AnalysisKind, Unit>> = { retention: 'month', habit: 'month', growth: 'month' }

const MOST_LOOKS = 3

/** In the order an analyst asks. A kind without a heading of its own stands on the card before it. */
export async function homeCards(near: Near): Promise<HomeCard[]> {
  const events = commonEvents(near.catalog)
  const cards: HomeCard[] = []
  const most: number[] = []
  for (const kind of Object.keys(shownKinds) as AnalysisKind[]) {
    const { asks: title, home, leads } = viewOf(kind)
    const usual = (await leads()).home?.(events, near) ?? []
    const looks = usual.map((look) => ({
      ...look,
      question: fitted(look.question, near, MOST[look.question.kind as AnalysisKind] ?? 'year'),
    }))
    if (home) {
      cards.push({ title, kind, looks })
      most.push(home === true ? MOST_LOOKS : home.looks)
    } else cards.at(-1)?.looks.push(...looks)
  }
  return cards.map((card, at) => ({ ...card, looks: card.looks.slice(0, most[at]) }))
}
