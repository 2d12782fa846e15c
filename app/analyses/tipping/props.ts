import type { TippingResult } from '../../../core/analyses/tipping/finish.js'
import type { TippingMark } from '../../../core/analyses/tipping/marks.js'
import type { TippingQuestion } from '../../../core/analyses/tipping/question.js'
import type { BodyProps } from '../view.js'

export type Props = BodyProps<TippingQuestion, TippingResult, TippingMark>
