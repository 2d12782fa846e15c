/** The events that messages give rise to: none of them is use of the product. */
export const MESSAGE_EVENTS = {
  entered: 'Message entered',
  sent: 'Message sent',
  delivered: 'Message delivered',
  opened: 'Message opened',
  pressed: 'Message pressed',
  optedOut: 'Messages declined',
} as const
export type MessageStep = keyof typeof MESSAGE_EVENTS

export const MESSAGE_EVENT_WORDS: Readonly<Record<MessageStep, { description: string; passive: boolean }>> = {
  entered: { description: 'Came into a message: to be sent a variant of it, or left alone.', passive: true },
  sent: { description: 'The channel took a message for this person.', passive: true },
  delivered: { description: 'A message arrived.', passive: true },
  opened: { description: 'Opened a message.', passive: true },
  pressed: { description: 'Pressed the link in a message.', passive: true },
  optedOut: { description: 'Wanted no further messages.', passive: true },
}

/** Properties of these events. */
export const MESSAGE_PROPERTIES = {
  message: 'message',
  variant: 'variant',
  channel: 'channel',
  entry: 'entry',
} as const
/** Set on every event that simulated people give rise to. */
export const SIMULATED = 'simulated'
