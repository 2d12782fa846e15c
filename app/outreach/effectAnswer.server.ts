import type { EffectQuestion } from '../../core/analyses/effect/question.js'
import { faultWords } from '../../core/questions/faults.js'
import { dowser } from '../door/dowser.server.js'
import { whereNext } from '../study/lead.server.js'
import { near } from '../study/near.server.js'
import { readingOf } from '../study/reading.server.js'
import type { MessageData } from './message.js'

/** What a message brings, and what that says; or why it cannot be told, in words. */
export async function effectAnswer(
  question: EffectQuestion,
  signal: AbortSignal,
): Promise<NonNullable<MessageData['effect']> | { problem: string }> {
  const reply = await dowser().run(question, signal)
  const { result, now } = reply
  if (result?.kind !== 'effect') return { problem: reply.faults.map((fault) => faultWords(fault)).join(' ') }
  const around = await near({ ready: true, now })
  const reading = readingOf(question, result, reply, around.words)
  return { question, result, reading, next: await whereNext(question, result, around) }
}
