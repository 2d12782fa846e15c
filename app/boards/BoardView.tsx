import type { Words } from '../../core/words/words.js'
import type { CardData } from './board.server.js'
import { CardView } from './CardView.js'

/** The cards on their 12 columns, as they are read; one under the other on a narrow screen. */
export function BoardView({ cards, words, linked }: { cards: readonly CardData[]; words: Words; linked: boolean }) {
  return (
    <div className="board">
      {cards.map((card) => (
        <section
          key={card.id}
          className={`sheet card${card.study ? '' : ' note'}`}
          style={{ gridColumn: `${card.x + 1} / span ${card.w}`, gridRow: `${card.y + 1} / span ${card.h}` }}
        >
          <CardView card={card} words={words} linked={linked} />
        </section>
      ))}
    </div>
  )
}
