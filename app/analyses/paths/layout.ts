import { sankey, sankeyLinkHorizontal, type SankeyGraph } from 'd3-sankey'
import type { PathSide } from '../../../core/analyses/paths/finish.js'

/** A node as it is drawn: its step, 0 = the start, and its place among the nodes of that step. */
export interface DrawnNode {
  step: number
  index: number
  count: number
  /** its name and number, in lines that fit the column */
  lines: string[]
  numbers: string[]
  x: number
  y: number
  width: number
  height: number
}

export interface DrawnRibbon {
  /** of its later node */
  step: number
  from: number
  to: number
  count: number
  path: string
  width: number
}

export interface Stream {
  width: number
  height: number
  /** from the left: the step of each column and where it begins */
  columns: { step: number; x: number }[]
  nodes: DrawnNode[]
  ribbons: DrawnRibbon[]
  /** ribbons that are left out: only so many of the largest are drawn */
  left: number
}

/** d3 numbers nodes itself, under `index`. */
interface Node {
  step: number
  place: number
  count: number
  order: number
  lines: string[]
  numbers: string[]
}
interface Link {
  source: string
  target: string
  value: number
  step: number
  from: number
  to: number
}

/** A column is no narrower, so that names have room beside their bars; then the picture scrolls. */
export const LEAST_COLUMN = 124
const BAR = 11
const LINE = 15
const MOST_RIBBONS = 400
/** Beyond this a name is put in several lines, px for a letter on average. */
const LETTER = 6.7
/** Where all that is drawn is thin, so much height is left for it beside the labels. */
const LEAST_FLOW = 190

/** A name in lines of so many letters at most, cut at spaces; a word that is longer stands by itself. */
export function linesOf(name: string, letters: number): string[] {
  const lines: string[] = []
  for (const word of name.split(' ')) {
    const last = lines.at(-1)
    if (last !== undefined && last.length + 1 + word.length <= letters) lines[lines.length - 1] = `${last} ${word}`
    else lines.push(word)
  }
  return lines.flatMap((line) =>
    line.length <= letters ? [line] : (line.match(new RegExp(`.{1,${Math.max(4, letters)}}`, 'gu')) ?? [line]),
  )
}

/** Pieces beside each other as far as they fit, with a dot between. */
function fitting(pieces: readonly string[], letters: number): string[] {
  const lines: string[] = []
  for (const piece of pieces) {
    const last = lines.at(-1)
    // Digits are narrower than the letters of names.
    if (last !== undefined && (last.length + piece.length + 3) * 0.92 <= letters)
      lines[lines.length - 1] = `${last} · ${piece}`
    else lines.push(piece)
  }
  return lines
}

/**
 * Lays a stream out: columns of nodes from left to right, asked back with the start at the right, ordered so that ribbons
 * cross little; under each node there is room for its label.
 * @param names of the nodes of each step, the start first
 * @param numbers what stands under them, in pieces that may stand in one line
 * @param space px
 */
export function layStream(
  side: PathSide,
  names: readonly (readonly string[])[],
  numbers: readonly (readonly string[][])[],
  { backward, space }: { backward: boolean; space: number },
): Stream {
  const taken = side.steps.filter(({ nodes }) => nodes.some(({ count }) => count > 0))
  const columns = taken.length + 1
  const column = Math.max(LEAST_COLUMN, space / columns)
  const letters = Math.floor((column - BAR - 14) / LETTER)
  const counts = [[side.ways], ...taken.map(({ nodes }) => nodes.map(({ count }) => count))]
  const orders = ordered(side, counts)
  const nodes = new Map<string, Node>()
  counts.forEach((own, step) =>
    own.forEach((count, index) => {
      if (count > 0)
        nodes.set(`${step} ${index}`, {
          ...{ step, place: index, count, order: orders[step][index] },
          lines: linesOf(names[step][index], letters),
          numbers: fitting(numbers[step][index], letters),
        })
    }),
  )
  const all = taken.flatMap(({ ribbons }, at): Link[] =>
    ribbons.map(({ from, to, count }) => {
      const ends = [`${at} ${from}`, `${at + 1} ${to}`]
      const [source, target] = backward ? ends.reverse() : ends
      return { source, target, value: count, step: at + 1, from, to }
    }),
  )
  all.sort((a, b) => b.value - a.value)
  const links = all.slice(0, MOST_RIBBONS)
  const labels = [...nodes.values()].map((node) => node.lines.length + node.numbers.length)
  const gap = 8 + LINE * Math.max(2, ...labels)
  const most = Math.max(...counts.map((own) => own.filter((count) => count > 0).length))
  const height = LEAST_FLOW + gap * Math.max(1, most)
  const width = column * columns
  const graph: SankeyGraph<Node, Link> = sankey<Node, Link>()
    .nodeId(({ step, place }) => `${step} ${place}`)
    .nodeAlign(({ step }) => (backward ? columns - 1 - step : step))
    .nodeSort((a, b) => a.order - b.order)
    .nodeWidth(BAR)
    .nodePadding(gap)
    .extent([
      [0, 2],
      [width - column + BAR, height - gap + 6],
    ])({ nodes: [...nodes.values()].map((node) => ({ ...node })), links: links.map((link) => ({ ...link })) })
  const path = sankeyLinkHorizontal<Node, Link>()
  return {
    ...{ width, height, left: all.length - links.length },
    columns: Array.from({ length: columns }, (_, at) => ({ step: backward ? columns - 1 - at : at, x: at * column })),
    nodes: graph.nodes.map(({ step, place, count, lines, numbers: told, x0 = 0, x1 = 0, y0 = 0, y1 = 0 }) => ({
      ...{
        step,
        index: place,
        count,
        lines,
        numbers: told,
        x: x0,
        y: y0,
        width: x1 - x0,
        height: Math.max(2, y1 - y0),
      },
    })),
    ribbons: graph.links.map((link) => ({
      ...{ step: link.step, from: link.from, to: link.to, count: link.value },
      path: path(link) ?? '',
      width: Math.max(1, link.width ?? 0),
    })),
  }
}

/** By step, then node: its place from the top. Each is near those that it comes from; everything else and the end stand last. */
function ordered({ steps }: PathSide, counts: readonly (readonly number[])[]): number[][] {
  const orders = [[0]]
  counts.slice(1).forEach((own, at) => {
    const { nodes, ribbons } = steps[at]
    const near = own.map((count, index) => {
      const sum = ribbons.reduce((all, { from, to, count: n }) => all + (to === index ? n * orders[at][from] : 0), 0)
      return count > 0 ? sum / count : 0
    })
    const last = (index: number) => ('ends' in nodes[index].place ? 2 : 'rest' in nodes[index].place ? 1 : 0)
    const sorted = own.map((_, index) => index)
    sorted.sort((a, b) => last(a) - last(b) || near[a] - near[b] || own[b] - own[a])
    const order: number[] = []
    sorted.forEach((index, place) => (order[index] = place))
    orders.push(order)
  })
  return orders
}

/** The nodes and ribbons that lie on ways through a node, or through a ribbon, forwards and back. */
export function throughOf(
  { ribbons }: Pick<Stream, 'ribbons'>,
  at: { step: number; index: number } | { step: number; from: number; to: number },
): { nodes: ReadonlySet<string>; ribbons: ReadonlySet<string> } {
  const nodes = new Set<string>()
  const found = new Set<string>()
  const back = (step: number, index: number): void => {
    if (nodes.has(`${step} ${index}`)) return
    nodes.add(`${step} ${index}`)
    for (const each of ribbons)
      if (each.step === step && each.to === index) {
        found.add(ribbonId(each))
        back(step - 1, each.from)
      }
  }
  const on = (step: number, index: number, first = false): void => {
    if (!first && nodes.has(`${step} ${index}`)) return
    nodes.add(`${step} ${index}`)
    for (const each of ribbons)
      if (each.step === step + 1 && each.from === index) {
        found.add(ribbonId(each))
        on(each.step, each.to)
      }
  }
  if ('index' in at) {
    back(at.step, at.index)
    on(at.step, at.index, true)
  } else {
    found.add(ribbonId(at))
    back(at.step - 1, at.from)
    on(at.step, at.to)
  }
  return { nodes, ribbons: found }
}

export const ribbonId = ({ step, from, to }: { step: number; from: number; to: number }) => `${step} ${from} ${to}`
