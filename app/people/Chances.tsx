import { Link } from 'react-router'
import type { Speaks } from '../../core/analyses/likelihood/onePerson.js'
import { chanceWords, goalWords, speaksWords } from '../../core/analyses/likelihood/words.js'
import { formatMoment, joinWords } from '../../core/words/format.js'
import type { Words } from '../../core/words/words.js'
import type { StudyChance } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'

/** What a person is likely to do, by saved studies of it, with what speaks for it and against. */
export function Chances({ chances }: { chances: readonly StudyChance[] }) {
  const { words, zone, thisYear } = useWorkspace()
  if (chances.length === 0) return null
  return (
    <section className="sheet pad stack">
      <h2 className="overline">Likely to</h2>
      {chances.map(({ study, found, rate, trainedAt }) => (
        <div key={study.id}>
          <Link to={`/studies/${study.id}`}>{goalWords(study.question, words)}</Link>
          {found ? (
            <>
              <p>
                <strong>{chanceWords(found.chance)}</strong>
                {rate > 0 && ` where ${chanceWords(rate)} of all did it`}
              </p>
              <Side name="For it" list={found.speaksFor} words={words} />
              <Side name="Against it" list={found.against} words={words} />
              <p className="hint">By the model of {formatMoment(trainedAt, zone, thisYear)}.</p>
            </>
          ) : (
            <p className="soft">Is not asked about: has done it before, or was not seen in the days looked at.</p>
          )}
        </div>
      ))}
    </section>
  )
}

function Side({ name, list, words }: { name: string; list: readonly Speaks[]; words: Words }) {
  if (list.length === 0) return null
  const said = joinWords(
    list.map(({ feature, more }) => speaksWords(feature, more, words)),
    'and',
  )
  return (
    <p className="hint">
      {name}: {said}.
    </p>
  )
}
