import { drawnResult, readingOf } from '../study/reading.server.js'
import type { Range } from '../../core/time/range.js'
import type { Reading } from '../../core/words/sentence.js'
import { wordsFor } from '../../core/words/words.js'
import type { Question, Result } from '../../core/analyses/registry.js'
import { boardWide } from '../../core/analyses/boardWide.js'
import { faultWords } from '../../core/questions/faults.js'
import type { Among } from '../../core/analyses/people.js'
import { dowser } from '../door/dowser.server.js'

export interface CardData {
  id: string
  x: number
  y: number
  w: number
  h: number
  note: unknown
  study: {
    id: string
    name: string
    question: Question
    result: Result | null
    reading: Reading | null
    problem: string | null
  } | null
}

const OWN_PEOPLE =
  'This study asks among people as of a moment of its own, so the people of the dashboard cannot be asked as well.'

/** A dashboard's cards with their results, all worked out on the same state of the data where that is possible. */
export async function readBoard(
  id: string,
  set: { range: Range | null; among: Among | null } | null,
  signal: AbortSignal,
) {
  const board = dowser().dashboards.get(id)
  const status = await dowser().status()
  const { zone } = dowser().settings.get()
  const range = set ? set.range : board.range
  const among = set ? set.among : board.among
  const words = dowser().wordsAt(status.now)
  let version = -1
  const cards = await Promise.all(
    board.cards.map(async ({ study: studyId, ...card }): Promise<CardData> => {
      if (!studyId) return { ...card, study: null }
      const study = dowser().studies.get(studyId)
      const wide = boardWide(study.question, range, among)
      const question = wide ?? study.question
      const reply = status.ready && wide ? await dowser().run(question, signal) : null
      version = Math.max(version, reply?.version ?? -1)
      const result = reply?.result ?? null
      return {
        ...card,
        study: {
          id: study.id,
          name: study.name,
          question,
          result: result && drawnResult(result, reply),
          reading: result && readingOf(question, result, reply, wordsFor(words, study.id)),
          problem: !wide
            ? OWN_PEOPLE
            : !reply
              ? 'The events are being read …'
              : reply.faults.map(faultWords).join(' ') || null,
        },
      }
    }),
  )
  return { board: { ...board, cards: undefined }, cards, range, among, version, now: status.now, zone, words }
}
