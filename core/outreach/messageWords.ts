import { pickParts } from '../analyses/pickParts.js'
import { eventWords, filterWords, propertyWords, type Words } from '../words/words.js'
import { joinWords } from '../words/format.js'
import { limitWords } from '../words/limitWords.js'
import type { SentencePart } from '../words/sentence.js'
import { isGoal } from './ahead.js'
import type { Channel } from './destination.js'
import { fixedShares, type Message } from './message.js'
import type { OutreachNames } from './words.js'

/** The words of a message that can be changed. */
export const messageTokens = [
  ...(['trigger', 'segment', 'notAmong', 'wait', 'hours', 'unless', 'again', 'cap'] as const),
  ...(['destination', 'split', 'holdOut', 'goal', 'goalWhere', 'within', 'cost'] as const),
] as const
export type MessageToken = (typeof messageTokens)[number]

/** One of the questions that a message answers. */
export interface MessageRow {
  head: 'Who' | 'When' | 'What' | 'What for'
  parts: SentencePart[]
}

export const CHANNEL_WORDS: Readonly<Record<Channel, string>> = {
  push: 'a push notice',
  mail: 'a mail',
  text: 'a text message',
}

/** "Each who comes into “Not yet there”, not among Staff"; "2 hours later, between 9 and 20 o’clock"; … */
export function messageRows(
  message: Message,
  channel: Channel | null,
  names: OutreachNames,
  words: Words,
): MessageRow[] {
  return [
    { head: 'Who', parts: who(message, names, words) },
    { head: 'When', parts: when(message, words) },
    { head: 'What', parts: what(message, channel, names) },
    { head: 'What for', parts: whatFor(message, words) },
  ]
}

const unset = (text: string, isSet: boolean): Pick<SentencePart, 'text' | 'tone'> =>
  isSet ? { text, tone: 'water' } : { text, tone: 'brick' }

function who({ segment, notAmong, trigger }: Message, names: OutreachNames, words: Words): SentencePart[] {
  const named = {
    ...unset(segment === '' ? 'a segment' : names.segment(segment), segment !== ''),
    token: 'segment',
    path: 'segment',
  }
  const token = { token: 'trigger', tone: 'water', path: 'trigger' } as const
  const left: SentencePart[] =
    notAmong === ''
      ? []
      : [
          { text: ', not among ' },
          { text: names.segment(notAmong), token: 'notAmong', tone: 'water', path: 'notAmong' },
        ]
  switch (trigger.kind) {
    case 'comes in':
      return [{ text: 'Each who ' }, { text: 'comes into', ...token }, { text: ' ' }, named, ...left]
    case 'once':
    case 'daily':
      return [{ text: 'All who ' }, { text: 'are in', ...token }, { text: ' ' }, named, ...left]
    case 'event': {
      const { event, where } = trigger.event
      const did = `${eventWords(event, words)}${where ? ` where ${filterWords(where, words)}` : ''}`
      return [
        { text: segment === '' ? 'Everybody who ' : 'Each in ' },
        ...(segment === '' ? [] : [named, { text: ' who ' }]),
        { text: `does ${did}`, ...token },
        ...left,
      ]
    }
  }
}

function when({ trigger, wait, hours, unless, again, cap }: Message, words: Words): SentencePart[] {
  const hazel = (text: string, token: MessageToken): SentencePart => ({ text, token, tone: 'hazel', path: token })
  const start =
    trigger.kind === 'once'
      ? trigger.at === undefined
        ? 'once, when it is started'
        : `once, on ${trigger.at.replace('T', ' at ')}`
      : trigger.kind === 'daily'
        ? `daily at ${trigger.at}`
        : null
  const later =
    wait === 0
      ? 'at once'
      : wait % 24 === 0
        ? `${wait / 24} day${wait === 24 ? '' : 's'} later`
        : `${wait} hour${wait === 1 ? '' : 's'} later`
  return [
    ...(start === null ? [] : [hazel(start, 'trigger'), { text: ', ' }]),
    hazel(later, 'wait'),
    ...(hours ? [{ text: ', between ' }, hazel(`${hours.from} and ${hours.to} o’clock`, 'hours')] : []),
    ...(hours?.zone
      ? [{ text: ` of their own time, by ${propertyWords({ of: 'person', name: hours.zone }, words)}` }]
      : []),
    ...(unless
      ? [
          { text: ', unless they ' },
          {
            text: `do ${eventWords(unless.event, words)}${unless.where ? ` where ${filterWords(unless.where, words)}` : ''}`,
            ...({ token: 'unless', tone: 'water', path: 'unless' } as const),
          },
        ]
      : []),
    ...(again === undefined
      ? []
      : [{ text: '; ' }, hazel(`again after ${again} day${again === 1 ? '' : 's'}`, 'again')]),
    ...(cap
      ? [
          { text: '; held back after ' },
          hazel(
            `${cap.most} message${cap.most === 1 ? '' : 's'} in ${cap.days} day${cap.days === 1 ? '' : 's'}`,
            'cap',
          ),
        ]
      : []),
  ]
}

function what(message: Message, channel: Channel | null, names: OutreachNames): SentencePart[] {
  const { destination, variants, holdOut } = message
  const many = variants.length
  return [
    { text: channel === null ? 'Through ' : `${capitalised(CHANNEL_WORDS[channel])} through ` },
    {
      ...unset(destination === '' ? 'a channel' : names.destination(destination), destination !== ''),
      ...{ token: 'destination', path: 'destination' },
    },
    { text: many === 1 ? ' in one variant; ' : ` in ${many} variants, split ` },
    ...(many === 1
      ? []
      : [{ text: splitWords(message), token: 'split', tone: 'hazel', path: 'split' } as const, { text: '; ' }]),
    {
      text: holdOut === 0 ? 'nobody' : `${holdOut}\u202f%`,
      token: 'holdOut',
      tone: holdOut === 0 ? 'brick' : 'hazel',
      path: 'holdOut',
    },
    { text: holdOut === 0 ? ' is left alone' : ' are left alone' },
  ]
}

const capitalised = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** `evenly`, `70 and 30 %`, `66.67 and 33.33 %`, `by what works`. */
export function splitWords({ split, variants }: Pick<Message, 'split' | 'variants'>): string {
  if (split.kind === 'adaptive') return 'by what works'
  const shares = fixedShares(split, variants.length)
  if (shares.every((share) => Math.abs(share - shares[0]) < 1e-9)) return 'evenly'
  return `${joinWords(
    shares.map((share) => String(Math.round(share * 10_000) / 100)),
    'and',
  )}\u202f%`
}

function whatFor(message: Message, words: Words): SentencePart[] {
  const { goal, within, cost } = message
  return [
    ...(isGoal(message)
      ? pickParts(goal, 'goal', 'goalWhere', 'goal', words)
      : [{ text: 'an event', token: 'goal', tone: 'brick', path: 'goal' } as const]),
    { text: ' within ' },
    { text: limitWords(within), token: 'within', tone: 'hazel', path: 'within' },
    ...(cost === undefined
      ? []
      : [
          { text: '; one costs ' },
          { text: `${cost} ${words.currency ?? 'EUR'}`, token: 'cost', tone: 'hazel', path: 'cost' } as const,
        ]),
  ]
}

/** The whole message as one text, which the question field reads back. */
export function messageText(message: Message, channel: Channel | null, names: OutreachNames, words: Words): string {
  return messageRows(message, channel, names, { ...words, full: true })
    .map(({ head, parts }, place) => {
      const text = parts.map((part) => part.text).join('')
      return head === 'What for' ? `for ${text}` : place === 0 ? text : text.charAt(0).toLowerCase() + text.slice(1)
    })
    .join('; ')
}
