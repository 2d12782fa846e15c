import type { Words } from '../../core/words/words.js'
import MoreVertIcon from '@mui/icons-material/MoreVert'
import IconButton from '@mui/material/IconButton'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { GridLayout, useContainerWidth, type Layout } from 'react-grid-layout'
import 'react-grid-layout/css/styles.css'
import type { CardData } from './board.server.js'
import { CardView } from './CardView.js'

interface Place {
  id: string
  x: number
  y: number
  w: number
  h: number
}

/** Cards that can be dragged and resized; the menu of each does the same from the keyboard. */
export default function BoardEditor(props: {
  cards: readonly CardData[]
  words: Words
  onMove: (places: Place[]) => void
  onRemove: (card: CardData) => void
  onEditNote: (card: CardData) => void
}) {
  const { cards, words, onMove, onRemove, onEditNote } = props
  // Laid out only when it is known how wide the page is: on a phone it would be far too wide for a moment.
  const { width, containerRef, mounted } = useContainerWidth({ measureBeforeMount: true })
  const [menu, setMenu] = useState<{ card: CardData; anchor: HTMLElement } | null>(null)
  const layout: Layout = cards.map(({ id, x, y, w, h }) => ({ i: id, x, y, w, h, minW: 2, minH: 3 }))
  const keep = (next: Layout) => {
    const places = next.map(({ i, x, y, w, h }) => ({ id: i, x, y, w, h }))
    const moved = places.some((place) => {
      const card = cards.find(({ id }) => id === place.id)
      return card && (card.x !== place.x || card.y !== place.y || card.w !== place.w || card.h !== place.h)
    })
    if (moved) onMove(places)
  }
  /** By one field; whoever stands in the way is moved down by the grid's own rule when it lays out again. */
  const nudge = (change: Partial<Record<'x' | 'y' | 'w' | 'h', number>>) => {
    if (!menu) return
    const { card } = menu
    const w = Math.min(12, Math.max(2, card.w + (change.w ?? 0)))
    const h = Math.min(40, Math.max(3, card.h + (change.h ?? 0)))
    const x = Math.min(12 - w, Math.max(0, card.x + (change.x ?? 0)))
    const y = Math.max(0, card.y + (change.y ?? 0))
    onMove(pushDown({ id: card.id, x, y, w, h }, cards))
  }
  return (
    <div ref={containerRef} className="board-editor">
      {/* The grid's library looks for its own style by this id, and would add one that the page's policy forbids. */}
      <span id="react-draggable-style-el" hidden />
      {mounted && (
        <GridLayout
          width={width}
          layout={layout}
          gridConfig={{ cols: 12, rowHeight: 44, margin: [14, 14], containerPadding: [0, 0] }}
          dragConfig={{ enabled: true, handle: '.card-grip', bounded: false, threshold: 4 }}
          resizeConfig={{ enabled: true, handles: ['se'] }}
          onDragStop={keep}
          onResizeStop={keep}
        >
          {cards.map((card) => (
            <section key={card.id} className={`sheet card editing${card.study ? '' : ' note'}`}>
              <div className="card-tools">
                <span className="card-grip" title="Drag to move">
                  ⠿
                </span>
                <IconButton
                  size="small"
                  aria-label={`Change the card ${card.study?.name ?? 'with a note'}`}
                  onClick={(event) => setMenu({ card, anchor: event.currentTarget })}
                >
                  <MoreVertIcon fontSize="small" />
                </IconButton>
              </div>
              <CardView card={card} words={words} linked={false} />
            </section>
          ))}
        </GridLayout>
      )}
      <Menu anchorEl={menu?.anchor ?? null} open={menu !== null} onClose={() => setMenu(null)}>
        {[
          { label: 'Move left', change: { x: -1 } },
          { label: 'Move right', change: { x: 1 } },
          { label: 'Move up', change: { y: -1 } },
          { label: 'Move down', change: { y: 1 } },
          { label: 'Wider', change: { w: 1 } },
          { label: 'Narrower', change: { w: -1 } },
          { label: 'Taller', change: { h: 1 } },
          { label: 'Less tall', change: { h: -1 } },
        ].map(({ label, change }) => (
          <MenuItem
            key={label}
            onClick={() => {
              nudge(change)
              setMenu(null)
            }}
          >
            {label}
          </MenuItem>
        ))}
        {menu && !menu.card.study && (
          <MenuItem
            onClick={() => {
              onEditNote(menu.card)
              setMenu(null)
            }}
          >
            Edit the note
          </MenuItem>
        )}
        <MenuItem
          onClick={() => {
            onRemove(menu!.card)
            setMenu(null)
          }}
        >
          Remove from the dashboard
        </MenuItem>
      </Menu>
    </div>
  )
}

/** Places one card and moves down whatever it would cover, and what those cover in turn; gaps above are closed. */
export function pushDown(moved: Place, cards: readonly Place[]): Place[] {
  const placed: Place[] = [moved]
  const others = cards.filter(({ id }) => id !== moved.id).sort((a, b) => a.y - b.y || a.x - b.x)
  const covers = (a: Place, b: Place) => a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h
  for (const card of others) {
    const place = { id: card.id, x: card.x, y: card.y, w: card.w, h: card.h }
    for (
      let hit = placed.find((other) => covers(place, other));
      hit;
      hit = placed.find((other) => covers(place, other))
    )
      place.y = hit.y + hit.h
    placed.push(place)
  }
  return placed
}
