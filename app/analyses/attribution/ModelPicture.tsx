import { sharesOf } from '../../../core/analyses/attribution/credit.js'
import type { AttributionResult } from '../../../core/analyses/attribution/finish.js'
import {
  USUAL_HALF_LIFE,
  isOfAll,
  type AttributionQuestion,
  type Model,
} from '../../../core/analyses/attribution/question.js'

const DAY = 86_400_000
/** Where the data has no path of several touches. */
const USUAL_AGES = [9 * DAY, 2 * DAY, DAY / 24]

/** How a model shares one path, in little: a bar for each touch, oldest first. */
export function ModelPicture(props: {
  model: Model
  question: Pick<AttributionQuestion, 'halfLife'>
  result: Pick<AttributionResult, 'example' | 'direct'> | null
}) {
  const { model, question, result } = props
  const example = result?.example
  const ages = example?.ages ?? USUAL_AGES
  const direct = ages.map((_, at) => (example ? (result.direct[example.values[at]] ?? false) : false))
  // What is worked out from all ways shares no single one.
  if (isOfAll(model))
    return (
      <svg className="model-picture" viewBox="0 0 44 20" aria-hidden="true">
        {[
          [4, 10, 22, 4],
          [4, 10, 22, 16],
          [22, 4, 40, 10],
          [22, 16, 40, 10],
        ].map(([x1, y1, x2, y2], i) => (
          <line key={i} {...{ x1, y1, x2, y2 }} stroke="var(--soft)" strokeWidth="1" />
        ))}
        {[
          [4, 10],
          [22, 4],
          [22, 16],
          [40, 10],
        ].map(([cx, cy], i) => (
          <circle key={i} {...{ cx, cy }} r="3" fill="var(--water)" />
        ))}
      </svg>
    )
  const shares = sharesOf(model, ages, direct, (question.halfLife ?? USUAL_HALF_LIFE) * DAY)
  const width = 44 / shares.length
  return (
    <svg className="model-picture" viewBox="0 0 44 20" aria-hidden="true">
      {shares.map((share, at) => (
        <rect
          key={at}
          x={at * width + 1}
          y={19 - Math.max(1, share * 18)}
          width={width - 2}
          height={Math.max(1, share * 18)}
          rx="1"
          fill={share > 0 ? 'var(--water)' : 'var(--soft)'}
        />
      ))}
    </svg>
  )
}
