import Button from '@mui/material/Button'
import { useState } from 'react'
import { touchBySchema } from '../../core/analyses/attribution/schema.js'
import { costsKey, type CostsBy } from '../../core/costs/costs.js'
import { countOf, formatAs, formatDay } from '../../core/words/format.js'
import { exactTouchBy } from '../../core/analyses/attribution/words.js'
import { usualAttribution } from '../../core/analyses/attribution/question.js'
import { Link } from 'react-router'
import { studyAddress } from '../address/address.js'
import { BringCosts } from '../catalog/BringCosts.js'
import { CostRows, ROWS_SHOWN } from '../catalog/CostRows.js'
import { MOST_TEXT } from '../catalog/mend.server.js'
import { useMend } from '../catalog/useMend.js'
import { dowser } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { CostsPreview } from '../../server/index.js'
import { readJson } from '../../core/questions/readJson.js'
import type { Route } from './+types/catalog.costs'

export async function loader({ request }: Route.LoaderArgs) {
  const { costs } = dowser()
  const { searchParams } = new URL(request.url)
  const [find, most] = [searchParams.get('find') ?? '', Number(searchParams.get('rows')) || ROWS_SHOWN]
  const channels = dowser()
    .mending.get()
    .derived.find((each) => each.channels)
  const usual: CostsBy | null = channels ? { of: channels.of, name: channels.name } : null
  return { tables: costs.list().map((each) => ({ ...each, latest: costs.latest(each.by, find, most) })), usual }
}

/** What a table of costs would bring. */
export async function action({ request }: Route.ActionArgs): Promise<CostsPreview | { problem: string }> {
  const form = await request.formData()
  const by = touchBySchema.safeParse(readJson(String(form.get('by') ?? '')))
  const text = String(form.get('text') ?? '')
  if (!by.success) return { problem: 'Choose the property first whose values the costs are of.' }
  if (text.length > MOST_TEXT) return { problem: 'The file is larger than 5 MB. Bring it in in parts.' }
  return dowser().costs.preview(text, by.data)
}

export const meta = () => [{ title: 'Costs · Dowser' }]

/** What was paid for channels, campaigns and the like, to stand beside what they bring. */
export default function CatalogCosts({ loaderData }: Route.ComponentProps) {
  const { tables, usual } = loaderData
  const { words, thisYear } = useWorkspace()
  const { mend, busy } = useMend()
  const [bringing, setBringing] = useState(false)
  return (
    <div className="stack">
      <div className="row between wrap">
        <p className="soft">
          What was paid for a channel, a campaign or the like, by day or week. Studies of what brought people show
          beside it what a conversion cost.
        </p>
        {!bringing && (
          <Button variant="contained" onClick={() => setBringing(true)}>
            Bring in costs
          </Button>
        )}
      </div>
      {bringing && <BringCosts usual={tables[0]?.by ?? usual} onDone={() => setBringing(false)} />}
      {tables.length === 0 && !bringing && (
        <section className="sheet pad empty">
          <p>
            Costs would be here. A file of them has three columns: the <b>day</b> or <b>week</b>, the <b>value</b> of
            the property they are told apart by, and the <b>amount</b> in {words.currency ?? 'EUR'}.
          </p>
        </section>
      )}
      {tables.map(({ by, from, to, total, rows, latest }) => (
        <section className="sheet" key={costsKey(by)}>
          <div className="row between wrap pad-head">
            <h2 className="panel-title">
              {exactTouchBy(by, words)}{' '}
              <small className="soft">
                {formatAs(total, 'money', words.currency)} from {formatDay(from, thisYear)} to {formatDay(to, thisYear)}
                , {countOf(rows, 'row', 'rows')}
              </small>
            </h2>
            <div className="row">
              <Button component={Link} to={studyAddress({ ...usualAttribution('…'), by, costs: true })}>
                What it brought
              </Button>
              <Button
                color="error"
                disabled={busy}
                aria-label={`Remove the costs of ${exactTouchBy(by, words)}`}
                onClick={() => void mend({ do: 'set costs', by, rows: [] })}
              >
                Remove
              </Button>
            </div>
          </div>
          <CostRows by={by} latest={latest} of={rows} />
        </section>
      ))}
    </div>
  )
}
