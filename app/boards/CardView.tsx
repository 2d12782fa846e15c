import { wordsFor, type Words } from '../../core/words/words.js'
import { Suspense, useMemo } from 'react'
import { Link } from 'react-router'
import type { AnyMark } from '../../core/questions/study.js'
import { studyAddress } from '../address/address.js'
import { viewOf } from '../analyses/registry.js'
import { printedOf } from '../analyses/words.js'
import type { CardData } from './board.server.js'
import { NoteText } from './note.js'

const NONE: readonly AnyMark[] = []

/** A card as it is read: a note, or a study headed by its question. */
export function CardView({ card, words: all, linked }: { card: CardData; words: Words; linked: boolean }) {
  const id = card.study?.id ?? null
  // The chart is drawn anew when its words are: they must stay the same object.
  const words = useMemo(() => wordsFor(all, id), [all, id])
  if (!card.study) return <NoteText note={card.note} />
  const { study } = card
  const { Body } = viewOf(study.question.kind)
  const caption = printedOf(study.question, words)
  return (
    <>
      <h2 className="card-head" title={study.name}>
        {linked ? <Link to={studyAddress(study.question)}>{caption}</Link> : caption}
      </h2>
      <div className="card-body" data-kind={study.question.kind} tabIndex={0} role="group" aria-label={study.name}>
        {study.result ? (
          <Suspense>
            <Body question={study.question} result={study.result} words={words} selected={NONE} />
          </Suspense>
        ) : (
          <p className="caution">{study.problem}</p>
        )}
      </div>
    </>
  )
}
