import { drawnResult, readingOf } from '../study/reading.server.js'
import { Suspense } from 'react'
import { analysisOf, type Result, type Mark } from '../../core/analyses/registry.js'
import { eventsIn, propertiesIn } from '../../core/questions/named.js'
import { faultWords } from '../../core/questions/faults.js'
import { segmentsNamed } from '../../core/segments/resolve.js'
import { formatMoment } from '../../core/words/format.js'
import type { Words } from '../../core/words/words.js'
import { viewOf } from '../analyses/registry.js'
import { readBoard } from '../boards/board.server.js'
import { BoardView } from '../boards/BoardView.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { Sentence } from '../editors/Sentence.js'
import { Reading } from '../study/Reading.js'
import { sentenceOf } from '../analyses/words.js'
import { Mark as Logo } from '../ui/Mark.js'
import type { Route } from './+types/shared'

export async function loader({ params, request }: Route.LoaderArgs) {
  const link = orMissing(() => dowser().links.open(params.token, Date.now()))
  const { name, zone } = dowser().settings.get()
  if (link.kind === 'dashboard') {
    const board = await readBoard(link.target, null, request.signal)
    const shown = board.cards.flatMap(({ study }) => (study ? [{ id: study.id, result: study.result }] : []))
    const words = onlyShown(namesIn([board.cards, board.among], board.words), board.words, shown)
    return { kind: 'dashboard' as const, workspace: name, ...board, words }
  }
  const study = dowser().studies.get(link.target)
  const reply = await dowser().run(study.question, request.signal)
  const all = dowser().wordsAt(reply.now)
  const words = onlyShown(namesIn(study.question, all), all, [{ id: study.id, result: reply.result }])
  return {
    kind: 'study' as const,
    workspace: name,
    zone,
    words,
    now: reply.now,
    version: reply.version,
    name: study.name,
    description: study.description,
    question: study.question,
    result: reply.result && drawnResult(reply.result, reply),
    reading: reply.result && readingOf(study.question, reply.result, reply, { ...words, zone }),
    problem: reply.faults.map(faultWords).join(' '),
  }
}

/** Of what things are called, only what the shared definitions name. */
function namesIn(definition: unknown, { thisYear, labels, currency, leftOut, segments = {} }: Words): Words {
  const { names } = eventsIn(definition)
  const keys = new Set(propertiesIn(definition).map((ref) => (ref.of === 'source' ? '' : `${ref.of} ${ref.name}`)))
  const segmentIds = new Set(segmentsNamed(definition).map(({ segment }) => segment))
  const only = (all: Readonly<Record<string, string>>, wanted: (name: string) => boolean) =>
    Object.fromEntries(Object.entries(all).filter(([name]) => wanted(name)))
  return {
    thisYear,
    ...(currency ? { currency } : {}),
    ...(leftOut === undefined ? {} : { leftOut: '' }),
    segments: only(segments, (id) => segmentIds.has(id)),
    labels: {
      events: only(labels?.events ?? {}, (name) => names.includes(name)),
      properties: only(labels?.properties ?? {}, (name) => keys.has(name)),
    },
  }
}

/** Of the dated notes, only those that stand on a shown chart. */
function onlyShown(
  words: Words,
  { annotations = [] }: Words,
  studies: readonly { id: string; result: Result | null }[],
): Words {
  const ids = new Set(
    studies.flatMap(
      ({ id, result }) =>
        (result && analysisOf(result.kind).notesOn?.(result, annotations))
          ?.filter(({ study }) => study === null || study === id)
          .map((note) => note.id) ?? [],
    ),
  )
  return { ...words, annotations: annotations.filter(({ id }) => ids.has(id)) }
}

export function meta({ loaderData }: Route.MetaArgs) {
  const title = !loaderData ? 'Dowser' : loaderData.kind === 'study' ? loaderData.name : loaderData.board.name
  return [{ title: `${title} · Dowser` }, { name: 'robots', content: 'noindex' }]
}

/** No search engine, and no page that is linked from here, learns the address. */
export const headers = () => ({ 'Referrer-Policy': 'no-referrer', 'Cache-Control': 'private, no-store' })

const NONE: readonly Mark[] = []

export default function Shared({ loaderData }: Route.ComponentProps) {
  const { zone, words, now, workspace } = loaderData
  return (
    <>
      <header className="top-bar shared-bar">
        <span className="brand">
          <Logo />
          <span>Dowser</span>
        </span>
        <span className="soft">{workspace}, shared read-only</span>
      </header>
      <main className="page">
        <div className="page-head">
          <div className="crumbs">
            <strong>{loaderData.kind === 'study' ? loaderData.name : loaderData.board.name}</strong>
            <span className="soft">
              as of {formatMoment(now, zone, words.thisYear)} · {zone}
              {words.leftOut !== undefined && ' · without people whom the workspace leaves out of its studies'}
            </span>
          </div>
        </div>
        {loaderData.kind === 'dashboard' ? (
          <BoardView cards={loaderData.cards} words={words} linked={false} />
        ) : (
          <SharedStudy data={loaderData} />
        )}
      </main>
    </>
  )
}

function SharedStudy({ data }: { data: Extract<Route.ComponentProps['loaderData'], { kind: 'study' }> }) {
  const { question, result, reading, words, problem } = data
  const { Body, Numbers } = viewOf(question.kind)
  return (
    <>
      <div className="question-block">
        <Sentence parts={sentenceOf(question, words)} />
        {data.description && <p className="soft">{data.description}</p>}
      </div>
      <div className={Numbers ? 'study-grid' : 'study-grid wide'} data-kind={question.kind}>
        <section className="sheet result">
          {result ? (
            <Suspense>
              <Body question={question} result={result} words={words} selected={NONE} />
            </Suspense>
          ) : (
            <p className="caution">{problem}</p>
          )}
        </section>
        {reading && <Reading reading={reading} next={[]} />}
        {result && Numbers && (
          <section className="sheet numbers-sheet">
            <Suspense>
              <Numbers question={question} result={result} words={words} selected={NONE} />
            </Suspense>
          </section>
        )}
      </div>
    </>
  )
}
