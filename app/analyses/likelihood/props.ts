import type { LikelihoodResult } from '../../../core/analyses/likelihood/finish.js'
import type { LikelihoodMark } from '../../../core/analyses/likelihood/marks.js'
import type { LikelihoodQuestion } from '../../../core/analyses/likelihood/question.js'
import type { BodyProps } from '../view.js'

export type Props = BodyProps<LikelihoodQuestion, LikelihoodResult, LikelihoodMark>
