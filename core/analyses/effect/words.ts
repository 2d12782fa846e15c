import { quoted } from '../../words/exact.js'
import { limitWords } from '../../words/limitWords.js'
import { eventWords, type Words } from '../../words/words.js'
import { exactDetails, exactGroup, ofGroup } from '../markWords.js'
import type { EffectMark, EffectStep } from './marks.js'
import type { EffectQuestion } from './question.js'

/** How marks are written so that they can be read back. */
export const STEP_WORDS: Readonly<Record<EffectStep, string>> = {
  entered: 'who came in',
  open: 'whose time is not over',
  counted: 'whose time is over',
  goal: 'who did what it is for',
  'no goal': 'who did not do what it is for',
  sent: 'who were sent it',
  delivered: 'whom it reached',
  opened: 'who opened it',
  pressed: 'who pressed it',
  'opted out': 'who declined further ones',
}
export const ANY_VARIANT = 'any variant'
export const ALONE = 'left alone'

/** Who a mark's people are, after "who". */
export function effectMarkWords(question: EffectQuestion, mark: EffectMark, words: Words): string {
  const { message, goal, within } = question
  const event = eventWords(goal.event, words)
  const said: Record<EffectStep, string> = {
    entered: `came into “${message}”`,
    open: `came into “${message}”, and whose time is not over yet`,
    counted: `came into “${message}”, and whose time is over`,
    goal: `came into “${message}” and did ${event} within ${limitWords(within)}`,
    'no goal': `came into “${message}” and did not do ${event} within ${limitWords(within)}`,
    sent: `were sent “${message}”`,
    delivered: `got “${message}”`,
    opened: `opened “${message}”`,
    pressed: `pressed “${message}”`,
    'opted out': `declined further messages after “${message}”`,
  }
  const variant = mark.alone ? ', left alone' : mark.variant === undefined ? '' : `, “${mark.variant}”`
  return `${said[mark.step]}${variant}${ofGroup(mark.group)}`
}

/** The same, so that it can be read back: `who opened it, of “One ride to go”`. */
export function exactEffect({ step, variant, alone, group }: EffectMark): string {
  const of = alone ? ALONE : variant === undefined ? ANY_VARIANT : `of ${quoted(variant)}`
  return `${STEP_WORDS[step]}, ${of}${exactDetails(group && exactGroup(group))}`
}
