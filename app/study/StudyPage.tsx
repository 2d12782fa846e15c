import { deferred } from '../page/deferred.js'
import { readSoFar } from '../ui/readSoFar.js'
import { Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { countedPart } from '../../core/analyses/countedPart.js'
import { isEverybody, kindOf, sentenceOf } from '../analyses/words.js'
import type { Question } from '../../core/analyses/registry.js'
import type { AnyMark } from '../../core/questions/study.js'
import { withEdited } from '../../core/analyses/rest.js'
import { faultWords } from '../../core/questions/faults.js'
import { pressMark } from '../../core/questions/marks.js'
import { wordsFor } from '../../core/words/words.js'
import { formatMoment } from '../../core/words/format.js'
import { viewOf } from '../analyses/registry.js'
import { LeftOut } from './LeftOut.js'
import { Sentence } from '../editors/Sentence.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useEditing } from '../editors/useEditing.js'
import { isTyping } from '../ui/Shortcuts.js'
import { useWorkspace } from '../page/workspace.js'
import type { AnnotationDraft } from './AnnotationDialog.js'
import { Explain } from './Explain.js'
import { Reading } from './Reading.js'
import type { StudyData } from './study.js'
import { StudyHead } from './StudyHead.js'
import { Tray } from './Tray.js'
import { useKeptFocus } from './useKeptFocus.js'
import { useLasting, Waiting } from './Waiting.js'

const AnnotationDialog = deferred(async () => (await import('./AnnotationDialog.js')).AnnotationDialog)
const OtherKinds = deferred(async () => (await import('./OtherKinds.js')).OtherKinds)
const AmongEditor = deferred(async () => (await import('../segments/AmongEditor.js')).AmongEditor)

/** A study: its question, its result, what that says, and what can be done with it. */
export function StudyPage({ data }: { data: StudyData }) {
  const { zone, sessions, thisYear, words: everywhere, status } = useWorkspace()
  const study = data.study?.id ?? null
  const words = useMemo(() => wordsFor(everywhere, study), [everywhere, study])
  const editing = useEditing<Question>()
  const { edit, endTyping, pending, busy } = editing
  const waiting = busy && pending !== null
  const dimmed = useLasting(waiting, 150)
  // A study of another kind that is on its way has a page of its own.
  const question = useMemo(() => {
    const coming = pendingQuestion(pending)
    return coming?.kind === data.question.kind ? coming : data.question
  }, [pending, data.question])
  // The result belongs to the question it was worked out for, not to the one on its way.
  const { result, reading, faults } = data
  const answered = data.answered ?? data.question
  const view = viewOf(data.question.kind)
  // The chart and the table are drawn anew only when what they show changes, not while an answer is on its way.
  const show = JSON.stringify(showOf(question))
  const shown = useMemo(
    () => data.answered ?? ({ ...data.question, ...(JSON.parse(show) as object) } as Question),
    [data.question, data.answered, show],
  )
  // An edit in the chart or the table leaves alone what could not be answered, and what is on its way.
  const asked = useRef(question)
  asked.current = question
  const partly = data.answered !== null
  const editShown = useCallback<typeof edit>(
    (next, how) => edit(withEdited(asked.current, shown, next, partly), how),
    [edit, shown, partly],
  )
  const [token, setToken] = useState<{ name: string; at: { left: number; top: number } } | null>(null)
  const [marks, setMarks] = useState<readonly AnyMark[]>([])
  const [note, setNote] = useState<AnnotationDraft | null>(null)
  const [everNoted, setEverNoted] = useState(false)
  const openNote = useCallback((draft: AnnotationDraft) => {
    setEverNoted(true)
    setNote(draft)
  }, [])
  const sheet = useRef<HTMLDivElement>(null)
  const page = useRef<HTMLElement>(null)
  useKeptFocus(page)

  const counted = JSON.stringify(countedPart(data.question))
  useEffect(() => setMarks([]), [counted])
  const onSelect = useCallback((mark: AnyMark, add: boolean) => {
    setMarks((had) => pressMark(had, mark, add))
  }, [])
  const letGo = useCallback(() => setMarks([]), [])
  const closeNote = useCallback(() => setNote(null), [])
  const closeToken = () => {
    setToken(null)
    endTyping()
  }
  useTableKey()
  // What the next press will need is fetched before it comes.
  useEffect(() => {
    for (const part of [view.Editor, AmongEditor]) part.ready().catch(() => {})
  }, [view])

  const openToken = (name: string, anchor: HTMLElement) => setToken({ name, at: placeUnder(anchor) })
  const among = question.among
  const drawn = { question: shown, words, edit: editShown, selected: marks, onSelect }
  return (
    <main className="page study" data-kind={data.question.kind} data-edited="" ref={page}>
      <StudyHead data={data} question={question} sheet={sheet} editing={editing} />
      <div className="question-block">
        <Sentence parts={sentenceOf(question, words)} faults={faults} open={token?.name ?? null} onToken={openToken} />
        <div className="additions">
          {[
            ...view.additions(question),
            ...(among && !isEverybody(among) ? [] : [{ token: 'among', label: '+ among…' }]),
          ].map(({ token: name, label }) => (
            <button
              key={name}
              type="button"
              className="addition"
              onClick={(event) => openToken(name, event.currentTarget)}
            >
              {label}
              {aboutOf(name) && <small> {aboutOf(name)}</small>}
            </button>
          ))}
          {!view.apart && (
            <button
              type="button"
              className="addition plain"
              onClick={(event) => openToken('kind', event.currentTarget)}
            >
              as another kind…
            </button>
          )}
        </div>
        {faults.length > 0 && (
          <ul className="faults" role="alert">
            {faults.map((fault, i) => (
              <li key={i}>{faultWords(fault)}</li>
            ))}
          </ul>
        )}
      </div>
      <TokenPopover
        at={token?.at ?? null}
        label={`Change: ${token?.name ?? ''}`}
        width={editorWidth(token?.name)}
        onClose={closeToken}
      >
        {token?.name === 'kind' ? (
          <Suspense>
            <OtherKinds question={question} close={closeToken} />
          </Suspense>
        ) : token?.name === 'among' ? (
          <Suspense>
            <AmongEditor
              value={among}
              endTyping={endTyping}
              close={closeToken}
              onChange={(next, how) => {
                const { among: _before, ...rest } = question
                // Whom the workspace leaves out is said at the foot, and stays as it is.
                const all = among?.everybody ? { everybody: true as const } : {}
                edit((next ? { ...rest, among: { ...next, ...all } } : rest) as Question, how)
              }}
            />
          </Suspense>
        ) : (
          token && (
            <Suspense>
              <view.Editor
                token={token.name}
                question={question}
                result={result}
                edit={edit}
                close={closeToken}
                open={(name) => setToken({ ...token, name })}
              />
            </Suspense>
          )
        )}
      </TokenPopover>

      {!status.ready ? (
        <section className="sheet pad">
          <p>The events are being read: {readSoFar(status)}. The answer comes by itself.</p>
        </section>
      ) : (
        <div className={`study-grid${view.wide ? ' wide' : ''}${view.compact ? ' compact' : ''}`}>
          <Waiting busy={waiting} pending={pending} />
          <section className={`sheet result${dimmed ? ' dimmed' : ''}`} aria-label="Result" ref={sheet}>
            {result && data.answered && (
              <p className="part-answer">
                Shown without what is marked above and what is made of it; all else is as asked.
              </p>
            )}
            {result ? (
              <Suspense fallback={<p className="no-result soft">Fetching the picture …</p>}>
                <view.Body {...drawn} result={result} onAnnotate={openNote} />
              </Suspense>
            ) : (
              <div className="no-result">
                <p>There is no answer yet: something in the question is not known. What is marked above says what.</p>
                <Suspense>
                  <view.Empty question={data.question} words={words} edit={edit} />
                </Suspense>
              </div>
            )}
          </section>
          {/* After an edit the new result is told; what stands on the page when it opens is read with it. */}
          <p className="sr-only" aria-live="polite">
            {dimmed ? '' : reading?.findings[0]?.map(({ text }) => text).join('')}
          </p>
          {result && reading && <Reading reading={reading} next={data.next} />}
          {result && view.Numbers && (
            <section className={`sheet numbers-sheet${dimmed ? ' dimmed' : ''}`} aria-label="The numbers">
              <Suspense>
                <view.Numbers {...drawn} result={result} />
              </Suspense>
            </section>
          )}
          <footer className="study-foot">
            <span>
              As of {formatMoment(data.now, zone, thisYear)} · {zone}
            </span>
            <Link to="/workspace/sessions">{sessions}</Link>
            <LeftOut question={question} onChange={(next) => edit(next, 'choose')} />
            <Explain question={question} zone={zone} />
          </footer>
        </div>
      )}
      {everNoted && (
        <Suspense>
          <AnnotationDialog draft={note} study={data.study} onClose={closeNote} />
        </Suspense>
      )}
      <Tray
        question={answered}
        marks={marks}
        words={words}
        onMarks={setMarks}
        onAsk={edit}
        onToken={(name) => {
          const anchor = page.current?.querySelector<HTMLElement>('.question')
          if (anchor) openToken(name, anchor)
        }}
        onClose={letGo}
      />
    </main>
  )
}

/** What an addition is about, where two might be taken for each other. */
function aboutOf(token: string): string | undefined {
  if (token.startsWith('where')) return '(events)'
  return token === 'among' ? '(people)' : undefined
}

/** px, by the editor of a token. */
function editorWidth(token: string | undefined): number {
  if (token?.startsWith('where')) return 430
  if (token === 'among') return 560
  return token === 'range' ? 400 : 340
}

/** What can be drawn before a new answer has come: how it is drawn changes no number, save in a funnel's forms. */
function showOf(question: Question): object {
  return 'show' in question && !kindOf(question.kind).counted ? { show: question.show } : {}
}

function pendingQuestion(pending: string | null): Question | null {
  if (!pending) return null
  try {
    return JSON.parse(pending) as Question
  } catch {
    return null
  }
}

function useTableKey(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || event.key !== 't') return
      const table = document.querySelector<HTMLElement>('[data-table]')
      const chart = document.querySelector<HTMLElement>('.chart-canvas, .funnel .step-number')
      const inTable = table?.contains(document.activeElement)
      const target = inTable ? chart : (table?.querySelector<HTMLElement>('[data-cell]') ?? table)
      target?.focus()
      target?.scrollIntoView({ block: 'nearest' })
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
}
