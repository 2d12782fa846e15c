import { isGoal, peopleAhead, visibleEffect, AHEAD_DAYS } from '../../core/outreach/ahead.js'
import type { Message } from '../../core/outreach/message.js'
import { countOf, formatNumber, formatPercent } from '../../core/words/format.js'
import type { Checked } from './message.js'

interface Line {
  tone: 'fine' | 'mind' | 'stop'
  text: string
}

/** What to know before it starts: how many, who not, what could be seen, and what is still missing. */
export function CheckList({ message, checked }: { message: Message; checked: Checked | null }) {
  return (
    <section className="sheet pad" aria-label="Before it starts">
      <h2 className="overline">Before it starts</h2>
      {checked === null ? (
        <p className="soft">Being looked at…</p>
      ) : (
        <ul className="check-list">
          {linesOf(message, checked).map(({ tone, text }) => (
            <li key={text} className={tone}>
              {text}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function linesOf(message: Message, { faults, ahead, problem }: Checked): Line[] {
  const lines: Line[] = faults.map((text) => ({ tone: 'stop', text }))
  if (problem !== null) lines.push({ tone: 'stop', text: problem })
  if (ahead === null) return lines
  const { now, perDay, notAmong, optedOut, goalShare, fields, of } = ahead
  const people = peopleAhead(ahead)
  const isEvent = message.trigger.kind === 'event'
  if (!isEvent)
    lines.push(
      now === 0
        ? { tone: 'mind', text: 'The segment is empty now: nobody comes in at the start.' }
        : { tone: 'fine', text: `${countOf(now, 'person is', 'people are')} in the segment now.` },
    )
  if (perDay > 0)
    lines.push({
      tone: 'fine',
      text: `About ${perDay >= 10 ? formatNumber(Math.round(perDay)) : perDay.toFixed(1)} more come each day.`,
    })
  else if (isEvent) lines.push({ tone: 'mind', text: 'Nobody did that in the last 28 days.' })
  if (optedOut > 0)
    lines.push({
      tone: 'fine',
      text: `${countOf(optedOut, 'person wants', 'people want')} no messages, and never come in.`,
    })
  if (notAmong > 0)
    lines.push({
      tone: 'fine',
      text: `${countOf(notAmong, 'person is', 'people are')} in the segment that is left out.`,
    })
  for (const { field, property, missing } of fields) {
    if (property === null) lines.push({ tone: 'stop', text: `No profile property is called “${field}”.` })
    else if (missing > 0)
      lines.push({
        tone: 'mind',
        text: `${formatNumber(missing)} of ${formatNumber(of)} have no ${field}: they see what is given after “or”, or are not sent it.`,
      })
  }
  if (message.holdOut === 0)
    lines.push({ tone: 'mind', text: 'Nobody is left alone, so what it brings cannot be told.' })
  else if (isGoal(message) && goalShare !== null) {
    const visible = visibleEffect(people, goalShare, message.holdOut)
    lines.push({
      tone: 'fine',
      text: `${formatPercent(goalShare)} of them did what it is for in as long a time before now.`,
    })
    lines.push(
      visible === null
        ? {
            tone: 'mind',
            text: `With about ${formatNumber(people)} people in ${AHEAD_DAYS} days no effect could be seen.`,
          }
        : {
            tone: visible > 0.1 ? 'mind' : 'fine',
            text: `With about ${formatNumber(people)} people in ${AHEAD_DAYS} days an effect of ${formatNumber(Math.round(visible * 1000) / 10)} points or more would be seen four times of five.`,
          },
    )
  }
  return lines
}
