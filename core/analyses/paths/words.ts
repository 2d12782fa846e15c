import { keyWords } from '../../words/exact.js'
import { countOf, joinWords } from '../../words/format.js'
import { limitWords } from '../../words/limitWords.js'
import { eventWords, filterWords, groupWords, rangeWords, type Words } from '../../words/words.js'
import type { EventPick } from '../../questions/parts.js'
import { exactDetails, exactGroup, ofGroup } from '../markWords.js'
import type { PathPlace, PathsMark } from './marks.js'
import type { PathNode, PathsQuestion } from './question.js'

/** How nodes, ways and selections of them are said. */

/** `Page viewed “help”`; in full, `Page viewed with value help`. */
export function nodeWords({ event, value }: PathNode, words: Words): string {
  const name = eventWords({ names: [event] }, words)
  if (value === undefined) return name
  if (words.full) return `${name} with value ${keyWords({ value })}`
  return value === null ? `${name}, no value` : `${name} “${groupWords({ value })}”`
}

/** `everything else (6)`, `ends here`. */
export function placeWords(place: PathPlace | { rest: true; nodes?: number }, words: Words): string {
  if ('rest' in place) return 'nodes' in place ? `everything else (${place.nodes})` : 'everything else'
  return 'ends' in place ? 'ends here' : nodeWords(place, words)
}

export function pickWords({ event, where }: EventPick, words: Words): string {
  return `${eventWords(event, words)}${where ? ` where ${filterWords(where, words)}` : ''}`
}

/** The events of a list, each by itself. */
export function namesWords(names: readonly string[], words: Words): string {
  return joinWords(
    names.map((name) => eventWords({ names: [name] }, words)),
    'and',
  )
}

/** How far from the start a step is: `1 step later`, `2 steps before`. */
export function stepWords(step: number, { backward }: Pick<PathsQuestion, 'backward'>): string {
  if (step === 0) return 'start'
  return `${step} ${step === 1 ? 'step' : 'steps'} ${backward ? 'before' : 'later'}`
}

/** How many ways, in people or in times. */
export const waysWords = ({ counts }: { counts: 'people' | 'occurrences' }, n: number) =>
  counts === 'people' ? countOf(n, 'person', 'people') : countOf(n, 'time', 'times')

/** Who a mark's people are, after "who": `did Card added 1 step after Card refused within 1 day`. */
export function pathMarkWords(study: PathsQuestion, mark: PathsMark, words: Words): string {
  const group = ofGroup(mark.group)
  const start = pickWords(study.start, words)
  const range = rangeWords(study.range, words)
  const when = `${range.lead}${range.text}`
  const within = `within ${limitWords(study.window)}`
  const end = study.end && pickWords(study.end, words)
  const steps = (n: number) => `${n} ${n === 1 ? 'step' : 'steps'} ${study.backward ? 'before' : 'after'} ${start}`
  switch (mark.kind) {
    case 'anchor':
      if (mark.got === undefined) return `did ${start} ${when}${group}`
      return mark.got
        ? `got from ${start} to ${end ?? 'the end'} ${within}${group}`
        : `did ${start} and did not get to ${end ?? 'the end'} ${within}${overWords(mark)}${group}`
    case 'loop':
      return `did ${start}, and once more ${study.end ? 'before they got there' : 'later on their way'}, ${when}${group}`
    case 'way': {
      const way = mark.nodes.map((node) => nodeWords(node, words)).join(', then ')
      if (way === '') return `did ${start} and nothing ${study.backward ? 'before' : 'more'} ${within}${group}`
      if (study.backward) return `came to ${start} from ${way} ${within}${group}`
      return `did ${start}, then ${way}${mark.more ? ' and more' : ''} ${within}${group}`
    }
    case 'node': {
      const { place, step, from } = mark
      const came = from && step > 1 ? `, from ${placeWords(from, words)}` : ''
      if ('ends' in place)
        return `did nothing more ${step === 1 ? `${study.backward ? 'before' : 'after'} ${start}` : steps(step - 1)} ${within}${came}${overWords(mark)}${group}`
      return `did ${placeWords(place, words)} ${steps(step)} ${within}${came}${group}`
    }
  }
}

/** The same, so that it can be read back: `at step 2 Card added, from Help asked (Annual)`. */
export function exactPathMark(_study: PathsQuestion, mark: PathsMark, words: Words): string {
  const details = exactDetails(mark.group && exactGroup(mark.group))
  switch (mark.kind) {
    case 'anchor':
      return `${mark.got === undefined ? 'who began a way' : mark.got ? 'who got there' : 'who did not get there'}${forGood(mark)}${details}`
    case 'loop':
      return `who came by the start again${details}`
    case 'way': {
      const way = mark.nodes.map((node) => nodeWords(node, words)).join(' › ')
      return `${way === '' ? 'who went no way' : `who went ${way}`}${mark.more ? ' and more' : ''}${details}`
    }
    case 'node': {
      const from = mark.from ? `, from ${placeWords(mark.from, words)}` : ''
      return `at step ${mark.step} ${placeWords(mark.place, words)}${forGood(mark)}${from}${details}`
    }
  }
}

type Lasting = { forGood?: true | undefined }
const overWords = (mark: Lasting) => (mark.forGood ? ', and whose time is over' : '')
const forGood = (mark: Lasting) => (mark.forGood ? ' for good' : '')
