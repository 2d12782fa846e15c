import { useMemo } from 'react'
import { Link } from 'react-router'
import { ask } from '../../core/ask/ask.js'
import { askExamples } from '../../core/ask/examples.js'
import { segmentAddress, studyAddress } from '../address/address.js'
import { vocabularyOf } from '../ask/vocabulary.js'
import { dayIn } from '../catalog/days.js'
import { useWorkspace } from '../page/workspace.js'

export const meta = () => [{ title: 'What can be asked · Dowser' }]

/** What the question field understands, with this workspace's own names. */
export default function Asking() {
  const { catalog, words, status, zone, segments, firstDayOfWeek } = useWorkspace()
  const groups = useMemo(() => {
    const vocabulary = vocabularyOf(catalog, words, dayIn(status.now, zone), segments)
    const found = new Map<string, { text: string; to: string }[]>()
    for (const { asks, text } of askExamples(vocabulary, firstDayOfWeek)) {
      const { question, rule } = ask(text, vocabulary, firstDayOfWeek)[0]!
      const to = question ? studyAddress(question) : segmentAddress(rule)
      found.set(asks, [...(found.get(asks) ?? []), { text, to }])
    }
    return [...found]
  }, [catalog, words, status.now, zone, segments, firstDayOfWeek])
  return (
    <main className="page narrow">
      <h1 className="question">What can be asked</h1>
      <p className="soft">
        Press <kbd>/</kbd> on any page and type a question in plain English, over the names that are recorded here. What
        was understood stands under each reading; what was not used is marked. Nothing of it is sent anywhere.
      </p>
      {groups.length === 0 ? (
        <section className="sheet pad empty">
          <p>Questions over the names of this workspace would be here. No event has arrived yet.</p>
          <Link to="/import">Bring in a file</Link>
        </section>
      ) : (
        <section className="sheet">
          <dl className="asking">
            {groups.map(([asks, examples]) => (
              <div key={asks}>
                <dt>{asks}</dt>
                <dd>
                  {examples.map(({ text, to }) => (
                    <Link key={text} to={to}>
                      {text}
                    </Link>
                  ))}
                </dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      <h2 className="overline">How it reads</h2>
      <section className="sheet pad">
        <p>
          An event answers to its name, its label, what the catalog says people call it, and to forms of those words. A
          value stands for its property, and a segment for its people. Times are said as <i>last month</i>,{' '}
          <i>in September</i>, <i>since June</i>, <i>in summer</i>, <i>the last 90 days</i>, <i>each week</i>.
        </p>
        <p>
          What a study has no place for is marked as not used, and where something near is given instead, it says so.
          How a name is found can be helped: <Link to="/catalog">the catalog</Link> keeps what people call an event or a
          property.
        </p>
      </section>
    </main>
  )
}
