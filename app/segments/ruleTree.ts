import { isGroup, type Rule, type RuleGroup } from '../../core/segments/rule.js'

/** Places in a rule are paths of indices, from the outermost group inwards: [] is the rule itself. */
export type Place = readonly number[]

export function placeId(place: Place): string {
  return place.join('.')
}

/** A place as the path that faults and counts name it by. */
export function pathOf(place: Place): string {
  return place.flatMap((index) => ['of', index]).join('.')
}

export function at(rule: Rule, place: Place): Rule | undefined {
  return place.reduce<Rule | undefined>((node, index) => (node && isGroup(node) ? node.of[index] : undefined), rule)
}

/** The rule with the group at a place changed. */
function inGroup(rule: RuleGroup, place: Place, change: (of: Rule[]) => Rule[]): RuleGroup {
  if (place.length === 0) return { ...rule, of: change(rule.of) }
  const [index, ...inner] = place
  const node = rule.of[index]
  if (!node || !isGroup(node)) return rule
  return { ...rule, of: rule.of.with(index, inGroup(node, inner, change)) }
}

export function replaced(rule: RuleGroup, place: Place, node: Rule): RuleGroup {
  if (place.length === 0) return isGroup(node) ? node : rule
  return inGroup(rule, place.slice(0, -1), (of) => of.with(place.at(-1)!, node))
}

export function inserted(rule: RuleGroup, group: Place, index: number, node: Rule): RuleGroup {
  return inGroup(rule, group, (of) => of.toSpliced(index, 0, node))
}

export function appended(rule: RuleGroup, group: Place, node: Rule): RuleGroup {
  return inGroup(rule, group, (of) => [...of, node])
}

export function removed(rule: RuleGroup, place: Place): RuleGroup {
  return inGroup(rule, place.slice(0, -1), (of) => of.toSpliced(place.at(-1)!, 1))
}

export function duplicated(rule: RuleGroup, place: Place): RuleGroup {
  const node = at(rule, place)
  return node ? inserted(rule, place.slice(0, -1), place.at(-1)! + 1, node) : rule
}

/** Puts what stands at a place into a group of its own there. */
export function grouped(rule: RuleGroup, place: Place): RuleGroup {
  const node = at(rule, place)
  return node ? replaced(rule, place, { hold: 'any', of: [node] }) : rule
}

/** Puts what a group holds in its place. */
export function ungrouped(rule: RuleGroup, place: Place): RuleGroup {
  const node = at(rule, place)
  if (!node || !isGroup(node) || place.length === 0) return rule
  return inGroup(rule, place.slice(0, -1), (of) => of.toSpliced(place.at(-1)!, 1, ...node.of))
}

/**
 * Moves what stands at a place to where another stands, which makes room; onto a group's head, to the group's beginning.
 * A group does not go into itself.
 */
export function moved(rule: RuleGroup, from: Place, to: Place, into: boolean): RuleGroup {
  const node = at(rule, from)
  const isInside = to.length >= from.length && from.every((index, depth) => to[depth] === index)
  if (!node || isInside) return rule
  const target = into ? [...to, 0] : [...to]
  // Taking it out moves what came after it in its group one place up.
  const depth = from.length - 1
  const sameGroup = target.length > depth && from.slice(0, -1).every((index, level) => target[level] === index)
  const staysInGroup = sameGroup && target.length === from.length
  const without = removed(rule, from)
  if (sameGroup && !staysInGroup && target[depth] > from[depth]) target[depth]--
  return inserted(without, target.slice(0, -1), target.at(-1)!, node)
}

/** One place up or down in its group; from the group's end out of it. */
export function nudged(rule: RuleGroup, place: Place, by: -1 | 1): { rule: RuleGroup; place: Place } {
  const group = place.slice(0, -1)
  const index = place.at(-1)!
  const parent = at(rule, group)
  const size = parent && isGroup(parent) ? parent.of.length : 0
  const next = index + by
  if (next >= 0 && next < size) {
    const to = [...group, next]
    return { rule: moved(rule, place, to, false), place: to }
  }
  if (group.length === 0) return { rule, place }
  const node = at(rule, place)!
  const outside = [...group.slice(0, -1), group.at(-1)! + (by > 0 ? 1 : 0)]
  return { rule: inserted(removed(rule, place), outside.slice(0, -1), outside.at(-1)!, node), place: outside }
}

export function switched(rule: RuleGroup, place: Place): RuleGroup {
  const node = at(rule, place)
  if (!node) return rule
  const { off, ...rest } = node
  return replaced(rule, place, (off ? rest : { ...rest, off: true }) as Rule)
}
