import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import type { Ahead } from '../../core/outreach/ahead.js'
import { counted } from '../../core/outreach/characters.js'
import type { Channel } from '../../core/outreach/destination.js'
import { fillText, readText } from '../../core/outreach/fields.js'
import { CHANNEL_LIMITS, MOST_VARIANTS, type Message, type Variant } from '../../core/outreach/message.js'
import { formatNumber } from '../../core/words/format.js'

/** What each variant says, beside how it looks to people of the segment. */
export function VariantTexts(props: {
  message: Message
  channel: Channel | null
  ahead: Ahead | null
  /** left out: it has been started, and is only read */
  onEdit?: ((next: Message, how?: 'choose' | 'type') => void) | undefined
  onDone: () => void
  onTest: (variant: number, person: string) => void
}) {
  const { message, channel, ahead, onEdit, onDone, onTest } = props
  const { variants } = message
  const put = (place: number, variant: Variant, how?: 'choose' | 'type') =>
    onEdit?.({ ...message, variants: variants.with(place, variant) }, how)
  return (
    <div className="stack">
      {variants.map((variant, place) => (
        <OneVariant
          key={place}
          {...{ variant, place, channel, ahead, onDone, onTest }}
          onEdit={onEdit && ((next, how) => put(place, next, how))}
          onRemove={
            onEdit && variants.length > 1
              ? () =>
                  onEdit({
                    ...message,
                    variants: variants.toSpliced(place, 1),
                    ...(message.split.kind === 'fixed' ? { split: { kind: 'fixed', weights: [] } } : {}),
                  })
              : undefined
          }
        />
      ))}
      {onEdit && variants.length < MOST_VARIANTS && (
        <div>
          <button
            type="button"
            className="addition"
            onClick={() =>
              onEdit({
                ...message,
                variants: [...variants, { name: freeName(variants), title: '', text: '', link: '', picture: '' }],
                ...(message.split.kind === 'fixed' ? { split: { kind: 'fixed', weights: [] } } : {}),
              })
            }
          >
            + another variant
          </button>
        </div>
      )}
    </div>
  )
}

function freeName(variants: readonly Variant[]): string {
  const taken = new Set(variants.map(({ name }) => name))
  return ['A', 'B', 'C', 'D', 'E', 'F'].find((name) => !taken.has(name)) ?? 'Another'
}

function OneVariant(props: {
  variant: Variant
  place: number
  channel: Channel | null
  ahead: Ahead | null
  onEdit: ((next: Variant, how?: 'choose' | 'type') => void) | undefined
  onRemove: (() => void) | undefined
  onDone: () => void
  onTest: (variant: number, person: string) => void
}) {
  const { variant, place, channel, ahead, onEdit, onRemove, onDone, onTest } = props
  const [person, setPerson] = useState('')
  const limits = channel && CHANNEL_LIMITS[channel]
  const size = channel ? counted(channel, variant.text) : null
  const faults = [variant.title, variant.text].flatMap((text) =>
    readText(text).faults.map(({ from, to, message }) => `“${text.slice(from, to)}”: ${message}`),
  )
  const isLong = limits && size && (channel === 'text' ? size.parts : size.characters) > limits.text
  const field = (name: keyof Variant, label: string, most: number, lines?: number) => (
    <TextField
      label={label}
      value={variant[name]}
      disabled={!onEdit}
      multiline={lines !== undefined}
      {...(lines !== undefined && { minRows: lines })}
      onChange={({ target: { value } }) => onEdit?.({ ...variant, [name]: value }, 'type')}
      onBlur={onDone}
      slotProps={{ htmlInput: { maxLength: most } }}
    />
  )
  return (
    <section className="variant" aria-label={`Variant ${variant.name}`}>
      <div className="stack">
        <div className="row between">
          {field('name', 'Variant', 60)}
          {onRemove && (
            <Button color="error" onClick={onRemove}>
              Leave it out
            </Button>
          )}
        </div>
        {channel !== 'text' && field('title', channel === 'mail' ? 'Subject' : 'Heading', 300)}
        {field('text', 'Text', 20_000, 3)}
        <p className={isLong ? 'hint loss' : 'hint'}>
          {size && limits
            ? channel === 'text'
              ? `${formatNumber(size.characters)} characters${size.alphabet === 'wide' ? ' of the wide alphabet' : ''}, ${size.parts} of at most ${limits.text} parts.`
              : `${formatNumber(size.characters)} of ${formatNumber(limits.text)} characters.`
            : 'Choose the channel, and its limits are told here.'}{' '}
          Fields are written as {'{first name, or "there"}'}.
        </p>
        {faults.map((fault) => (
          <p key={fault} className="hint loss">
            {fault}
          </p>
        ))}
        <div className="row">
          {field('link', 'Link', 2000)}
          {channel === 'push' && field('picture', 'Picture', 2000)}
        </div>
      </div>
      <div className="stack">
        <Preview variant={variant} channel={channel} ahead={ahead} />
        {onEdit && channel && (
          <form
            className="row"
            onSubmit={(event) => {
              event.preventDefault()
              onTest(place, person)
            }}
          >
            <TextField
              size="small"
              label="A test copy to"
              placeholder="an id"
              value={person}
              onChange={(event) => setPerson(event.target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
            <Button type="submit" disabled={person.trim() === '' || variant.text.trim() === ''}>
              Send it
            </Button>
          </form>
        )}
      </div>
    </section>
  )
}

/** As people of the segment would see it, one after another. */
function Preview({ variant, channel, ahead }: { variant: Variant; channel: Channel | null; ahead: Ahead | null }) {
  const [at, setAt] = useState(0)
  const some = ahead?.some ?? []
  const one = some[at % Math.max(1, some.length)]
  const fields = ahead?.fields.map(({ field }) => field) ?? []
  const valueOf = (name: string) => one?.values[fields.indexOf(name)] ?? null
  const title = fillText(readText(variant.title).parts, valueOf, '▢')
  const text = fillText(readText(variant.text).parts, valueOf, '▢')
  const missing = [...title.missing, ...text.missing]
  return (
    <figure className={`bubble ${channel ?? ''}`}>
      <div className="bubble-body">
        {variant.picture !== '' && channel === 'push' && <span className="soft">[picture]</span>}
        {title.text !== '' && channel !== 'text' && <strong>{title.text}</strong>}
        <p>{text.text === '' ? <span className="soft">Nothing yet</span> : text.text}</p>
        {variant.link !== '' && <span className="bubble-link">{variant.link}</span>}
      </div>
      <figcaption>
        {one ? (
          <>
            as {one.id} sees it
            {missing.length > 0 && <span className="loss">: has no {missing.join(', ')}, and is not sent it</span>}
            {some.length > 1 && (
              <button type="button" className="addition" onClick={() => setAt(at + 1)}>
                somebody else
              </button>
            )}
          </>
        ) : (
          'Here it is shown as people of the segment see it.'
        )}
      </figcaption>
    </figure>
  )
}
