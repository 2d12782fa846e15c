import type { ReactNode } from 'react'
import { z } from 'zod'

/** A text note: paragraphs, headings and lists with bold, italic and links; nothing else is ever kept or shown. */
interface NoteNode {
  type: string
  text?: string | undefined
  attrs?: { level?: number | undefined } | undefined
  marks?: { type: string; attrs?: { href?: string | undefined } | undefined }[] | undefined
  content?: NoteNode[] | undefined
}

const BLOCKS = ['doc', 'paragraph', 'heading', 'bulletList', 'orderedList', 'listItem', 'text', 'hardBreak'] as const

const node: z.ZodType<NoteNode> = z.object({
  type: z.enum(BLOCKS),
  text: z.string().max(10_000).optional(),
  attrs: z.object({ level: z.int().min(1).max(6).optional() }).optional(),
  marks: z
    .array(
      z.object({
        type: z.enum(['bold', 'italic', 'link']),
        attrs: z
          .object({
            href: z
              .string()
              .regex(/^(https?:\/\/|\/|mailto:)/)
              .max(2000)
              .optional(),
          })
          .optional(),
      }),
    )
    .optional(),
  get content() {
    return z.array(node).max(500).optional()
  },
})

export const noteSchema = node
export const EMPTY_NOTE: NoteNode = { type: 'doc', content: [{ type: 'paragraph' }] }

/** A note as it is read. */
export function NoteText({ note }: { note: unknown }) {
  const parsed = noteSchema.safeParse(note)
  if (!parsed.success) return <p className="soft">This note cannot be shown.</p>
  return <div className="note-text">{render(parsed.data, 0)}</div>
}

function render(item: NoteNode, key: number): ReactNode {
  const children = item.content?.map(render)
  switch (item.type) {
    case 'paragraph':
      return <p key={key}>{children}</p>
    case 'heading':
      return <h3 key={key}>{children}</h3>
    case 'bulletList':
      return <ul key={key}>{children}</ul>
    case 'orderedList':
      return <ol key={key}>{children}</ol>
    case 'listItem':
      return <li key={key}>{children}</li>
    case 'hardBreak':
      return <br key={key} />
    case 'text':
      return (item.marks ?? []).reduce<ReactNode>(
        (inner, mark) =>
          mark.type === 'bold' ? (
            <strong key={key}>{inner}</strong>
          ) : mark.type === 'italic' ? (
            <em key={key}>{inner}</em>
          ) : (
            <a key={key} href={mark.attrs?.href} rel="noopener noreferrer">
              {inner}
            </a>
          ),
        <span key={key}>{item.text}</span>,
      )
    default:
      return children
  }
}
