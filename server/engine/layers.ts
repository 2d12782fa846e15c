import { arranging, type Pick } from '../../core/log/arrange.js'
import type { FoldRequest } from '../../core/log/fold.js'
import { sharedUint8, type EventBlock } from '../../core/log/log.js'
import { STEP, type Steps } from '../../core/steps.js'
import type { KeptState } from './handOver.js'

/** Newer layers that together are larger than this share of the main block, and than so many rows, are folded into it. */
const FOLD_SHARE = 0.1
const FOLD_ROWS = 200_000
/** So many layers are folded into fewer, however small they are: every scan looks through all of them. */
const MOST_LAYERS = 6
/** A layer of fewer rows is put together with what comes next, rather than left beside it. */
const SMALL_ROWS = 20_000

export interface LayerLimits {
  /** how many rows newer layers have at least when they are folded into the main block */
  foldFrom?: number | undefined
  /** a layer of fewer rows is put together with what comes next */
  smallRows?: number | undefined
}

/** How many there are by now of what codes and numbers are given to. */
interface Counts {
  /** one more than the largest person number */
  people: number
  /** event types */
  types: number
}

/** One block of the store, with the place of each person in it, and who has moved into a newer one. */
interface Layer {
  block: EventBlock
  /** by person's number: the index in the block, -1 = not in it */
  index: Int32Array
  /** by index: 1 = to be passed over; null while nobody has moved */
  hidden: Uint8Array | null
}

/**
 * The blocks of the store, from the main one to the newest. Most events stand in the first; whoever got fresh events, or
 * was merged, stands with their whole history in a newer one, and is hidden in those before. So a scan always finds a
 * person's rows together and in order. Now and then layers are folded into one, in a thread of its own; whoever gets
 * fresh events meanwhile stands in a layer that is newer still.
 */
export class Layers {
  private layers: Layer[] = []
  /** while a fold is under way: which layers it reads, and the people who have moved out of them since it began */
  private underFold: { from: number; count: number; moved: Set<number> } | null = null
  private readonly foldFrom: number
  private readonly smallRows: number

  /** @param root who a person is by now */
  constructor(
    private readonly root: (person: number) => number,
    { foldFrom = FOLD_ROWS, smallRows = SMALL_ROWS }: LayerLimits,
  ) {
    this.foldFrom = foldFrom
    this.smallRows = smallRows
  }

  get all(): KeptState['layers'] {
    return this.layers.map(({ block, hidden }) => ({ block, hidden }))
  }

  /** Takes those that another has kept. */
  goOnFrom(kept: KeptState['layers'], people: number): void {
    this.layers = kept.map(({ block, hidden }) => ({ ...layerOf(block, people), hidden }))
  }

  /** By people's numbers: the row numbers in the file of all their events. */
  arrivalsOf(people: ReadonlySet<number>): number[] {
    const found: number[] = []
    for (const { block, index, hidden } of this.layers)
      for (const person of people) {
        const at = placeOf(index, person)
        if (at < 0 || hidden?.[at]) continue
        for (let row = block.offsets[at]; row < block.offsets[at + 1]; row++) found.push(block.arrival[row])
      }
    return found
  }

  /** The oldest and the newest time of all events, epoch ms; infinite where there are none. */
  timeSpan(): [number, number] {
    let oldest = Infinity
    let newest = -Infinity
    for (const { block, hidden } of this.layers)
      for (let at = 0; at < block.people; at++) {
        const [from, to] = [block.offsets[at], block.offsets[at + 1]]
        if (from === to || hidden?.[at]) continue
        oldest = Math.min(oldest, block.time[from])
        newest = Math.max(newest, block.time[to - 1])
      }
    return [oldest, newest]
  }

  /**
   * @param fresh rows that came, by whom they belong to
   * @param touched people to be put together anew from the rows there are
   * @param anew people whose rows there are no longer right: `fresh` has them all again
   */
  *takeIn(fresh: Pick, touched: Set<number>, anew: ReadonlySet<number>, { people, types }: Counts): Steps<void> {
    if (this.layers.length === 0) {
      this.layers = [layerOf(yield* arranging([fresh], people, types, false), people)]
      return
    }
    for (const person of fresh.person) touched.add(person)
    for (const person of anew) touched.add(person)
    yield
    // A small layer is made anew with what has come, save where a fold is reading it.
    const { from, count } = this.underFold ?? { from: 0, count: 1 }
    const last = this.layers.length - 1
    const joins = last >= from + count && this.layers[last]!.block.length < this.smallRows
    const kept = joins ? this.layers.slice(0, last) : this.layers
    const newer = joins ? this.layers.slice(last) : []
    const picks: Pick[] = []
    const hidden: Uint8Array[] = []
    for (const layer of kept) {
      const moved = yield* this.takeFrom(layer, touched, anew)
      picks.push(moved.pick)
      hidden.push(moved.hidden)
    }
    for (const layer of newer) picks.push(yield* this.takeAll(layer, anew))
    picks.push(fresh)
    const block = yield* arranging(picks, people, types, false)
    // All at once, so that whoever looks in between two steps finds each person once.
    this.layers = [...kept.map((layer, at) => ({ ...layer, hidden: hidden[at]! })), layerOf(block, people)]
    if (this.underFold) for (const person of touched) this.underFold.moved.add(person)
  }

  /** The rows in a layer of people who are to move into a newer one, save of those read anew; and who is hidden then. */
  private *takeFrom(
    { block, index, hidden: before }: Layer,
    people: Iterable<number>,
    anew: ReadonlySet<number>,
  ): Steps<{ pick: Pick; hidden: Uint8Array }> {
    const hidden = sharedUint8(block.people)
    if (before) hidden.set(before)
    const rows = new RowPicker(block)
    for (const number of people) {
      const at = placeOf(index, number)
      if (at < 0 || hidden[at] === 1) continue
      hidden[at] = 1
      if (!anew.has(number)) rows.take(at, this.root(number))
      if (rows.stepDone()) yield
    }
    return { pick: rows.pick(), hidden }
  }

  /** All rows of a layer by whom they belong to by now, save of those read anew. */
  private *takeAll({ block, hidden }: Layer, anew: ReadonlySet<number>): Steps<Pick> {
    const rows = new RowPicker(block)
    for (let index = 0; index < block.people; index++) {
      const number = block.person[index]
      if (!hidden?.[index] && !anew.has(number)) rows.take(index, this.root(number))
      if (rows.stepDone()) yield
    }
    return rows.pick()
  }

  /** Whether a fold is under way, from `startFold` to `folded` or `foldFailed`. */
  get folding(): boolean {
    return this.underFold !== null
  }

  /** Which layers to fold into one, when that is worth it; null otherwise. Ends with `folded` or `foldFailed`. */
  startFold({ people, types }: Counts): FoldRequest | null {
    const [main, ...newer] = this.layers
    if (this.underFold || !main || newer.length === 0) return null
    const rows = newer.reduce((sum, { block }) => sum + block.length, 0)
    const all = rows >= Math.max(this.foldFrom, main.block.length * FOLD_SHARE)
    if (!all && this.layers.length < MOST_LAYERS) return null
    const from = all ? 0 : 1
    const folded = this.layers.slice(from)
    this.underFold = { from, count: folded.length, moved: new Set() }
    return {
      layers: folded.map(({ block, hidden }) => ({ block, hidden })),
      ...{ people, types },
    }
  }

  /** Takes the folded block in place of what it was made from. Whoever got events since stands in a newer layer. */
  folded(block: EventBlock, people: number): void {
    const { from, count, moved } = this.underFold!
    this.underFold = null
    const layer = layerOf(block, people)
    if (moved.size > 0) {
      layer.hidden = sharedUint8(block.people)
      for (const person of moved) {
        const at = placeOf(layer.index, person)
        if (at >= 0) layer.hidden[at] = 1
      }
    }
    this.layers = [...this.layers.slice(0, from), layer, ...this.layers.slice(from + count)]
  }

  /** All stays as it is. */
  foldFailed(): void {
    this.underFold = null
  }
}

function layerOf(block: EventBlock, people: number): Layer {
  const index = new Int32Array(people).fill(-1)
  block.person.forEach((person, at) => (index[person] = at))
  return { block, index, hidden: null }
}

/** Gathers people's rows of a block, to be put together anew. */
class RowPicker {
  private which = new Uint32Array(1024)
  private person = new Uint32Array(1024)
  private length = 0
  private inStep = 0

  constructor(private readonly block: EventBlock) {}

  take(index: number, person: number): void {
    const from = this.block.offsets[index]
    const to = this.block.offsets[index + 1]
    const end = this.length + to - from
    if (end > this.which.length) {
      this.which = wider(this.which, end)
      this.person = wider(this.person, end)
    }
    for (let row = from; row < to; row++) this.which[this.length + row - from] = row
    this.person.fill(person, this.length, end)
    this.length = end
    this.inStep += to - from
  }

  /** Whether so much has been gathered since it last was that others should have their turn. */
  stepDone(): boolean {
    if (++this.inStep < STEP) return false
    this.inStep = 0
    return true
  }

  pick(): Pick {
    const { length } = this
    return { rows: this.block, which: this.which.subarray(0, length), person: this.person.subarray(0, length) }
  }
}

function wider(array: Uint32Array<ArrayBuffer>, length: number): Uint32Array<ArrayBuffer> {
  const grown = new Uint32Array(Math.max(length, array.length * 2))
  grown.set(array)
  return grown
}

function placeOf(index: Int32Array, person: number): number {
  return person < index.length ? index[person] : -1
}
