import { drawnResult, readingOf } from '../study/reading.server.js'
import { analyses, type AnalysisKind, type Question } from '../../core/analyses/registry.js'
import { turnedInto } from '../../core/analyses/turned.js'
import { redirect } from 'react-router'
import { studyAddress } from '../address/address.js'
import { wordsFor } from '../../core/words/words.js'
import type { EngineStatus } from '../../server/engine/engine.worker.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { readPeople, readQuestion } from '../address/readAddress.server.js'
import { startingQuestion, whereNext } from '../study/lead.server.js'
import { near } from '../study/near.server.js'
import { printedOf } from '../analyses/words.js'
import type { StudyData } from '../study/study.js'
import { StudyPage } from '../study/StudyPage.js'
import type { Route } from './+types/study'

export async function loader({ params, request }: Route.LoaderArgs): Promise<StudyData | Response> {
  const search = new URL(request.url).searchParams
  const other = asOther(search)
  if (other) return redirect(studyAddress(other))
  const saved = params.studyId ? orMissing(() => dowser().studies.get(params.studyId!)) : null
  const read = readQuestion(search)
  const status = await dowser().status()
  const question: Question = read?.question ?? saved?.question ?? (await startOf(search, status))
  // What there is to look at next is asked for beside the answer, in the same time.
  const [reply, around] = await Promise.all([
    status.ready ? dowser().run(question, request.signal) : null,
    near(status),
  ])
  const words = wordsFor(around.words, saved?.id ?? null)
  const rest = reply?.result === null ? await dowser().runRest(question, reply.faults, request.signal) : null
  const result = rest?.result ?? reply?.result ?? null
  const answered = rest?.question ?? question
  return {
    study: saved && { id: saved.id, name: saved.name, description: saved.description, savedMs: saved.savedMs },
    question,
    edited: saved !== null && JSON.stringify(saved.question) !== JSON.stringify(question),
    faults: [...(read?.faults ?? []), ...(reply?.faults ?? [])],
    ...{ answered: rest?.question ?? null, result: result && drawnResult(result, reply) },
    reading: result && readingOf(answered, result, reply, words),
    next: result ? await whereNext(answered, result, { ...around, words }) : [],
    version: reply?.version ?? -1,
    now: reply?.now ?? status.now,
    words,
    history: saved ? dowser().studies.history(saved.id) : [],
  }
}

/** The question of an address as one of another kind, where it asks for that. */
function asOther(search: URLSearchParams): Question | null {
  const into = search.get('as') ?? ''
  const read = readQuestion(search)
  if (!read || !Object.hasOwn(analyses, into)) return null
  return turnedInto(into as AnalysisKind, read.question) ?? read.question
}

async function startOf(search: URLSearchParams, status: EngineStatus): Promise<Question> {
  const kind = search.get('kind') ?? ''
  const known = Object.hasOwn(analyses, kind) ? (kind as AnalysisKind) : 'trend'
  const start = await startingQuestion(known, await near(status))
  const among = search.has('people') ? readPeople(search) : null
  return among ? { ...start, among } : start
}

export function meta({ loaderData }: Route.MetaArgs) {
  if (!loaderData) return [{ title: 'Dowser' }]
  const { study, question, words } = loaderData
  const title = study?.name ?? printedOf(question, words)
  return [{ title: `${title} · Dowser` }]
}

export default function StudyRoute({ loaderData }: Route.ComponentProps) {
  return <StudyPage data={loaderData} />
}
