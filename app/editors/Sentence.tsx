import type { SentencePart } from '../../core/words/sentence.js'
import { Fragment, type MouseEvent, type ReactNode } from 'react'
import { seriesVar } from '../look/palette.js'
import { faultWords, type Fault } from '../../core/questions/faults.js'

/** The question as a sentence. Its tokens are buttons; a token that a fault points to is marked. */
export function Sentence(props: {
  parts: readonly SentencePart[]
  faults?: readonly Fault[]
  /** left out: the sentence is only read */
  onToken?: (token: string, anchor: HTMLElement) => void
  open?: string | null
  as?: 'h1' | 'h2'
  children?: ReactNode
}) {
  const { parts, faults = [], onToken, open, as: Tag = 'h1', children } = props
  return (
    <Tag className="question">
      {parts.map((part, index) => {
        const begin = part.line && (
          <Fragment key={`line ${index}`}>
            <br />
            <i className="line-swatch" style={{ background: seriesVar(lineAt(parts, index)) }} />
          </Fragment>
        )
        if (begin)
          return (
            <Fragment key={index}>
              {begin}
              {piece(part, index)}
            </Fragment>
          )
        return piece(part, index)
      })}
      {children}
    </Tag>
  )

  /** A word that can be changed keeps the comma or question mark after it on its line. */
  function piece(part: SentencePart, index: number): ReactNode {
    if (!part.token) return <span key={index}>{parts[index - 1]?.token ? afterSign(part.text) : part.text}</span>
    const sign = signAfter(parts[index + 1])
    if (!sign) return word(part, index)
    return (
      <span key={index} className="glued">
        {word(part, index)}
        {sign}
      </span>
    )
  }

  function word(part: SentencePart, index: number): ReactNode {
    if (!onToken)
      return (
        <span key={index} className={`token still ${part.tone}`}>
          {part.text}
        </span>
      )
    const fault = faults.find(({ path }) => part.path && startsWith(path.join('.'), part.path))
    return (
      <button
        key={index}
        type="button"
        className={`token ${part.tone ?? 'water'}${fault ? ' faulty' : ''}`}
        aria-haspopup="dialog"
        aria-expanded={open === part.token}
        title={fault ? faultWords(fault) : undefined}
        data-token={part.token}
        onClick={(event: MouseEvent<HTMLButtonElement>) => onToken(part.token!, event.currentTarget)}
      >
        {part.text}
      </button>
    )
  }
}

/** Which line of the question begins at a part: the first one is 0. */
function lineAt(parts: readonly SentencePart[], index: number): number {
  return parts.slice(0, index).filter(({ line }) => line).length
}

const SIGN = /^[,?.:;]/

const signAfter = (next: SentencePart | undefined): string =>
  next && !next.token && !next.line ? (SIGN.exec(next.text)?.[0] ?? '') : ''
const afterSign = (text: string): string => text.replace(SIGN, '')

function startsWith(path: string, place: string): boolean {
  return path === place || path.startsWith(`${place}.`) || place.startsWith(`${path}.`)
}
