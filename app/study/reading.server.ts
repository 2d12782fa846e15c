import { analysisOf, type Question, type Result } from '../../core/analyses/registry.js'
import { formatMoment } from '../../core/words/format.js'
import type { Reading } from '../../core/words/sentence.js'
import { eventWords, plain, strong, type Words } from '../../core/words/words.js'
import type { RunReply } from '../../server/engine/engine.worker.js'

/**
 * What an answer says. Where what it asks about has stopped to arrive, that is said first, and the rest is of the time
 * before: nobody came because nothing was sent.
 */
export function readingOf(question: Question, result: Result, reply: RunReply | null, words: Words): Reading {
  const { findings } = analysisOf(question.kind)
  const stopped = reply?.result === result ? reply.stopped : null
  if (!stopped) return findings(result, question, words)
  const { sinceMs, event, before } = stopped
  const read = before && analysisOf(question.kind).findings(before.result, before.question, { ...words, stopped: true })
  const what = event === null ? 'Nothing' : `Nothing of ${eventWords({ names: [event] }, words)}`
  const since = formatMoment(sinceMs, words.zone ?? 'UTC', words.thisYear)
  return {
    findings: [
      [
        strong(`${what} has arrived since ${since}.`, 'loss'),
        plain(read ? ' What follows is about the time before.' : ' That is all of the time asked about.'),
      ],
      ...(read?.findings ?? []),
    ],
    cautions: read?.cautions ?? [],
    stopped: { sinceMs, event },
  }
}

/** A result to be drawn: what came after the last arrival is as good as open. */
export function drawnResult(result: Result, reply: RunReply | null): Result {
  const stopped = reply?.result === result ? reply.stopped : null
  if (!stopped || !('buckets' in result)) return result
  const buckets = result.buckets.map((bucket) => {
    if (bucket.end <= stopped.sinceMs) return bucket
    return { ...bucket, open: true, ...(bucket.start > stopped.sinceMs ? { silent: true as const } : {}) }
  })
  return { ...result, buckets } as Result
}
