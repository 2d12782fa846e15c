import Button from '@mui/material/Button'
import { Link } from 'react-router'
import { usualTrend } from '../../core/analyses/trend/question.js'
import { formatNumber } from '../../core/words/format.js'
import { fullFilterWords } from '../../core/words/words.js'
import { studyAddress } from '../address/address.js'
import { useMend } from '../catalog/useMend.js'
import { dowser } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.channels'

export async function loader() {
  const sets = dowser()
    .mending.get()
    .derived.filter(({ channels }) => channels)
  return {
    sets: await Promise.all(
      sets.map(async (definition) => ({ definition, counts: (await dowser().countRules(definition)).rows })),
    ),
  }
}

export default function CatalogChannels({ loaderData }: Route.ComponentProps) {
  const { sets } = loaderData
  const { words } = useWorkspace()
  const { mend } = useMend()
  return (
    <div className="stack">
      <div className="row between wrap">
        <p className="soft">
          A rule set sorts events into channels: the first row that holds wins. Each set is a property that filters and
          breakdowns take. As a breakdown each event counts under its own channel; <em>What brought people</em> shares
          each conversion among the channels that came before it, by a model.
        </p>
        <Button variant="contained" component={Link} to="/catalog/derived?channels">
          New rule set
        </Button>
      </div>
      {sets.length === 0 && (
        <section className="sheet pad empty">
          <p>Rule sets would be here: which campaign tags and referrers make search, advertising, or a direct visit.</p>
        </section>
      )}
      {sets.map(({ definition, counts }) => {
        const { name, description, recipe } = definition
        if (recipe.kind !== 'rules') return null
        const rows = [
          ...recipe.rows.map((row) => ({
            where: fullFilterWords(row.where, words) || 'any event',
            gives: 'text' in row.gives ? row.gives.text : '…',
          })),
          {
            where: 'Everything else',
            gives: recipe.otherwise && 'text' in recipe.otherwise ? recipe.otherwise.text : 'no value',
          },
        ]
        return (
          <section className="sheet" key={name}>
            <div className="row between wrap pad-head">
              <h2 className="panel-title">
                {name} <small className="soft">{description}</small>
              </h2>
              <div className="row">
                <Button
                  component={Link}
                  to={studyAddress({
                    ...usualTrend('…'),
                    series: [{ event: { activity: true }, measure: 'people' }],
                    breakdowns: [{ by: { of: 'event', name }, keep: 10 }],
                  })}
                >
                  People by channel
                </Button>
                <Button
                  variant="outlined"
                  component={Link}
                  to={`/catalog/derived?of=event&name=${encodeURIComponent(name)}`}
                >
                  Change
                </Button>
                <Button
                  color="error"
                  aria-label={`Remove ${name}`}
                  onClick={() => void mend({ do: 'remove derived', of: 'event', name })}
                >
                  Remove
                </Button>
              </div>
            </div>
            <div className="table-scroll" tabIndex={0} role="region" aria-label={`Rows of ${name}`}>
              <table className="catalog-table">
                <thead>
                  <tr>
                    <th scope="col">Where</th>
                    <th scope="col">Channel</th>
                    <th scope="col" className="number">
                      Events
                    </th>
                    <th scope="col" className="number">
                      People
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row, i) => (
                    <tr key={i}>
                      <td className={i === rows.length - 1 ? 'soft' : ''}>{row.where}</td>
                      <td>
                        <strong>{row.gives}</strong>
                      </td>
                      <td className="number">{formatNumber(counts[i]?.events ?? 0)}</td>
                      <td className="number">{formatNumber(counts[i]?.people ?? 0)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </section>
        )
      })}
    </div>
  )
}
