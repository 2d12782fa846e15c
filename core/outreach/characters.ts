import { SegmentedMessage } from 'sms-segments-calculator'
import type { Channel } from './destination.js'

/** So many parts of a text message are sent as one at most. */
export const MOST_PARTS = 6

export interface Counted {
  /** characters as people see them; of text messages as the network counts them */
  characters: number
  /** of text messages: how many parts it is sent in, and in which alphabet */
  parts: number
  alphabet: 'plain' | 'wide'
}

/**
 * How long a text is, as its channel counts it: push and mail count what people see as one character; a text message
 * counts in the alphabet of GSM 03.38 (160 in one part, 153 in each of several, `€ [ ] { } ~ ^ | \` twice), or, where a
 * character is not in it, in units of UTF-16 (70 and 67).
 */
export function counted(channel: Channel, text: string): Counted {
  if (channel !== 'text') {
    let characters = 0
    for (const _each of new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)) characters++
    return { characters, parts: 1, alphabet: 'plain' }
  }
  const message = new SegmentedMessage(text)
  const plain = message.encodingName === 'GSM-7'
  const bits = message.segments.reduce((sum, segment) => sum + segment.messageSizeInBits(), 0)
  return {
    characters: bits / (plain ? 7 : 16),
    parts: text === '' ? 0 : message.segmentsCount,
    alphabet: plain ? 'plain' : 'wide',
  }
}
