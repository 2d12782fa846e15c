import { sessionProperties } from '../../core/sessions/properties.js'
import Button from '@mui/material/Button'
import { Link } from 'react-router'
import { countOf, joinWords } from '../../core/words/format.js'
import { RECIPES, recipeWords } from '../catalog/recipes.js'
import { useMend } from '../catalog/useMend.js'
import { dowser } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.made'

export function loader() {
  const { derived, combined, mergedEvents, mergedProperties } = dowser().mending.get()
  return {
    derived: derived
      .filter(({ channels }) => !channels)
      .map((definition) => ({ definition, uses: dowser().usesOfProperty(definition).studies.length })),
    combined: combined.map((definition) => ({
      definition,
      uses: dowser().usesOfEvent(definition.name).studies.length,
    })),
    mergedEvents,
    mergedProperties,
  }
}

export default function CatalogMade({ loaderData }: Route.ComponentProps) {
  const { derived, combined, mergedEvents, mergedProperties } = loaderData
  const { mend } = useMend()
  const { words } = useWorkspace()
  return (
    <div className="stack made-lists">
      <section className="sheet list">
        <div className="row between pad-head">
          <h2 className="overline">Derived properties</h2>
        </div>
        {derived.length === 0 && <p className="pad soft">Properties worked out from others would be listed here.</p>}
        <ul>
          {derived.map(({ definition, uses }) => (
            <li key={`${definition.of} ${definition.name}`}>
              <div className="list-main">
                <Link
                  className="list-name"
                  to={`/catalog/derived?of=${definition.of}&name=${encodeURIComponent(definition.name)}`}
                >
                  {definition.name}
                </Link>
                <span className="list-question">
                  {definition.description && `${definition.description} · `}
                  <code>{recipeWords(definition, words)}</code>
                </span>
              </div>
              <span className="soft">of {definition.of === 'event' ? 'events' : 'people'}</span>
              <span className="soft list-when">{countOf(uses, 'study', 'studies')}</span>
              <Button
                color="error"
                aria-label={`Remove ${definition.name}`}
                onClick={() => void mend({ do: 'remove derived', of: definition.of, name: definition.name })}
              >
                Remove
              </Button>
            </li>
          ))}
        </ul>
        <div className="pad additions">
          {RECIPES.map(({ kind, label, example }) => (
            <Link
              key={kind}
              className="addition"
              to={`/catalog/derived?kind=${encodeURIComponent(kind)}`}
              title={example}
            >
              + {label.toLowerCase()}
            </Link>
          ))}
        </div>
      </section>
      <section className="sheet list">
        <h2 className="overline pad-head">Combined events</h2>
        {combined.length === 0 && <p className="pad soft">Several events counted as one would be listed here.</p>}
        <ul>
          {combined.map(({ definition, uses }) => (
            <li key={definition.name}>
              <div className="list-main">
                <Link className="list-name" to={`/catalog/combined?name=${encodeURIComponent(definition.name)}`}>
                  {definition.name}
                </Link>
                <span className="list-question">
                  {definition.description && `${definition.description} · `}
                  {joinWords(definition.events, 'or')}
                </span>
              </div>
              <span className="soft list-when">{countOf(uses, 'study', 'studies')}</span>
              <Button
                color="error"
                aria-label={`Remove ${definition.name}`}
                onClick={() => void mend({ do: 'remove combined', name: definition.name })}
              >
                Remove
              </Button>
            </li>
          ))}
        </ul>
        <div className="pad additions">
          <Link className="addition" to="/catalog/combined">
            + combined event
          </Link>
        </div>
      </section>
      <section className="sheet list">
        <h2 className="overline pad-head">Of sessions</h2>
        <p className="pad soft">
          Every event has these, worked out from the events around it. How sessions are cut is set on the page{' '}
          <Link to="/workspace/sessions">Sessions</Link>.
        </p>
        <ul>
          {sessionProperties.map(({ name, kind, description }) => (
            <li key={name}>
              <div className="list-main">
                <span className="list-name">{name}</span>
                <span className="list-question">{description}</span>
              </div>
              <span className="soft">{kind === 'boolean' ? 'yes or no' : kind}</span>
            </li>
          ))}
        </ul>
      </section>
      <section className="sheet list">
        <h2 className="overline pad-head">Merged names</h2>
        {Object.keys(mergedEvents).length + mergedProperties.length === 0 && (
          <p className="pad soft">
            Old names and misspellings that are read as the right one would be listed here. Merge one on its page, or
            from <Link to="/catalog/quality">Quality</Link>.
          </p>
        )}
        <ul>
          {Object.entries(mergedEvents).map(([from, into]) => (
            <li key={`event ${from}`}>
              <div className="list-main">
                <span>
                  <Link className="list-name" to={`/catalog/events/${encodeURIComponent(from)}`}>
                    {from}
                  </Link>{' '}
                  counts as <strong>{into}</strong>
                </span>
              </div>
              <span className="soft">event</span>
              <Button onClick={() => void mend({ do: 'merge event', from, into: null })}>Take it back</Button>
            </li>
          ))}
          {mergedProperties.map(({ of, from, into }) => (
            <li key={`${of} ${from}`}>
              <div className="list-main">
                <span>
                  <strong>{from}</strong> is read as <strong>{into}</strong>
                </span>
              </div>
              <span className="soft">{of === 'event' ? 'event property' : 'profile property'}</span>
              <Button onClick={() => void mend({ do: 'merge property', of, from, into: null })}>Take it back</Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  )
}
