import type { CardData } from './board.server.js'
import { CardView } from './CardView.js'

/** The cards on their 12 columns, as they are read; one under the other on a narrow screen. */
export function BoardView({
  cards,
  thisYear,
  linked,
}: {
  cards: readonly CardData[]
  thisYear: number
  linked: boolean
}) {
  return (
    <div className="board">
      {cards.map((card) => (
        <section
          key={card.id}
          className={`sheet card${card.study ? '' : ' note'}`}
          style={{ gridColumn: `${card.x + 1} / span ${card.w}`, gridRow: `${card.y + 1} / span ${card.h}` }}
        >
          <CardView card={card} thisYear={thisYear} linked={linked} />
        </section>
      ))}
    </div>
  )
}
