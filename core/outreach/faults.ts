import type { Channel } from './destination.js'
import { counted } from './characters.js'
import { isGoal } from './ahead.js'
import { readText } from './fields.js'
import { CHANNEL_LIMITS, type Message } from './message.js'

/** What stands in the way of starting a message, in words, each with what to do. @param channel null = none is chosen */
export function messageFaults(definition: Message, channel: Channel | null): string[] {
  const faults: string[] = []
  if (definition.segment === '' && definition.trigger.kind !== 'event') faults.push('Choose the segment first.')
  if (channel === null) faults.push('Choose the channel it goes through: push notices, mail or text messages.')
  if (!isGoal(definition)) faults.push('Choose what it is for: the event that it is to bring about.')
  for (const { name, title, text } of definition.variants) {
    if (text.trim() === '') faults.push(`“${name}” says nothing yet. Write its text.`)
    for (const each of [title, text])
      for (const { from, to, message } of readText(each).faults)
        faults.push(`“${name}”, at “${each.slice(from, to)}”: ${message}`)
    if (channel !== null) faults.push(...tooLong(name, title, text, channel))
  }
  return faults
}

function tooLong(name: string, title: string, text: string, channel: Channel): string[] {
  const limits = CHANNEL_LIMITS[channel]
  if (channel === 'text') {
    const { parts } = counted('text', text)
    return parts > limits.text
      ? [`“${name}” would go in ${parts} parts; a text message may have ${limits.text}. Make it shorter.`]
      : []
  }
  const faults: string[] = []
  const heading = channel === 'mail' ? 'subject' : 'heading'
  const [long, most] = [counted(channel, title).characters, limits.title]
  if (long > most) faults.push(`The ${heading} of “${name}” has ${long} characters, at most ${most} are shown.`)
  if (channel === 'mail' && title.trim() === '') faults.push(`“${name}” has no subject. Write one.`)
  const whole = counted(channel, text).characters
  if (whole > limits.text) faults.push(`“${name}” has ${whole} characters, at most ${limits.text} are shown.`)
  return faults
}
