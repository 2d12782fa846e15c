import { findProperty, type CompileContext } from '../../filters/compile.js'
import { planTypes } from '../../filters/eventTypes.js'
import { planPick } from '../../filters/picks.js'
import { nextGrouped, planGrouped, type FoundGroups } from '../../groups/grouped.js'
import type { Schema } from '../../log/schema.js'
import { nearest, type Fault } from '../../questions/faults.js'
import { limitMs } from '../../questions/limits.js'
import { planCuts } from '../../sessions/cuts.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import type { FollowedRanges } from './followed.js'
import { keptAt, nodeId, type PathNode, type PathsQuestion } from './question.js'
import type { KeptStep, NodeRef, NodesPlan, OpenedPlan, PathsPlan } from './shape.js'
import type { SideTally, WayTallies } from './tally.js'

export type PathsPart =
  | FoundGroups
  | NodeCounts
  /** by group, the last being all together */
  | { pass: 'count'; sides: SideTally[]; ways: WayTallies }

/** Every node at each step, and roughly every whole way. Joins by adding. */
export interface NodeCounts {
  pass: 'nodes'
  /** by step × nodes known beforehand + node */
  counts: Float64Array
  /** by key of those that turned up: how often at each step */
  loose: Map<string, Float64Array>
  /** by the place of a way: ways that share a place are added up */
  rough: Uint32Array
  /** null where there may be many ways of a person */
  followed: FollowedRanges | null
}

/** Ways are counted roughly by so many places. */
export const ROUGH = 1 << 14
/** The ways of so many places, the fullest, are told apart. */
const MOST_PLACES = 1000

export function planPaths(question: PathsQuestion, context: QueryContext, faults: Fault[]): PathsPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, schema } = context
  const { start, end, leaveOut, contains = [], lacks = [], through = [] } = question
  const span = spanOf(question.range, now, calendar)
  const nodes = planNodes(question, compile)
  const grouped = planGrouped(question.breakdowns, compile, span.from)
  if (leaveOut) planTypes(leaveOut.event, schema, faults, ['leaveOut', 'event'])
  return {
    ...grouped,
    // Without groups the nodes are counted at once.
    pass: grouped.split ? grouped.pass : 'nodes',
    start: planPick(start, compile, ['start']),
    end: end ? planPick(end, compile, ['end']) : null,
    backward: question.backward === true,
    occurrences: question.count === 'occurrences',
    folded: !question.unfolded,
    steps: question.steps,
    keep: Math.max(...Array.from({ length: question.steps }, (_, step) => keptAt(question, step + 1))),
    windowMs: limitMs(question.window),
    ...{ from: span.from, until: span.until, now },
    sessions: question.session ? planCuts(calendar.sessions, schema) : null,
    nodes,
    contains: contains.map((pick, i) => planPick(pick, compile, ['contains', i])),
    lacks: lacks.map((pick, i) => planPick(pick, compile, ['lacks', i])),
    through: through.flatMap(({ step, node }, i) => {
      const ref = refOfNode(node, nodes, schema, question)
      if (ref === null) {
        const want = nearest(node.event, schema.eventNames())
        faults.push({ path: ['through', i], code: 'unknown_event', got: node.event, ...(want ? { want } : {}) })
        return []
      }
      return [{ step, ref }]
    }),
    among: context.among,
    sources: schema.sources.size,
    ...{ kept: [], marked: [], wanted: null, sure: 0, followed: null },
  }
}

function planNodes({ leaveOut, open = [] }: PathsQuestion, compile: CompileContext): NodesPlan {
  const { schema, calendar } = compile
  const current = schema.types.map(({ name }, type) => schema.typeCode(schema.currentName(name)) ?? type)
  const out = new Set(leaveOut?.event.names.flatMap((name) => schema.typesNamed(name) ?? []))
  const ofType = Int32Array.from(schema.types, (_type, type) =>
    out.has(type) || schema.types[current[type]].hidden ? -1 : current[type],
  )
  const opened: (OpenedPlan | null)[] = schema.types.map(() => null)
  let size = schema.types.length
  open.forEach(({ event, by }, index) => {
    const found = findProperty(by, compile, ['open', index, 'by'])
    const types = planTypes(event, schema, compile.faults, ['open', index, 'event'])
    if (!found) return
    for (const code of new Set(Array.from(types, (type) => current[type]))) {
      const plan: OpenedPlan = { column: found.column, base: size }
      schema.types.forEach((_type, type) => {
        if (current[type] === code) opened[type] = plan
      })
      size += found.dictionary.size
    }
  })
  return { ofType, opened, size, zone: calendar.zone }
}

/** What a node is called, by its number or key. */
export function nodeOfRef(ref: NodeRef, { opened }: NodesPlan, schema: Schema, question: PathsQuestion): PathNode {
  if (typeof ref === 'string') {
    const [, type, kind, text] = /^(\d+) ([nd])(.*)$/.exec(ref)!
    return { event: schema.types[Number(type)].name, value: kind === 'n' ? Number(text) : text }
  }
  if (ref < schema.types.length) return { event: schema.types[ref].name }
  // Of the blocks of values, the one that begins last before it.
  let own = -1
  opened.forEach((plan, type) => {
    if (plan && plan.base <= ref && (own < 0 || plan.base > opened[own]!.base)) own = type
  })
  const event = schema.currentName(schema.types[own].name)
  const value = dictionaryOf(event, question, schema)?.values[ref - opened[own]!.base] ?? null
  return { event, value: typeof value === 'object' && value !== null ? value.join(', ') : value }
}

function dictionaryOf(event: string, { open = [] }: PathsQuestion, schema: Schema) {
  const by = open.find(({ event: { names } }) =>
    names.some((name) =>
      (schema.typesNamed(name) ?? []).some((type) => schema.currentName(schema.types[type].name) === event),
    ),
  )?.by
  return by && findProperty(by, { schema, faults: [], sides: undefined }, [])?.dictionary
}

/** null where no such event is known; a value that never came stands for a node that nothing is. */
function refOfNode(
  { event, value }: PathNode,
  { opened }: NodesPlan,
  schema: Schema,
  question: PathsQuestion,
): NodeRef | null {
  const type = schema.typeCode(schema.currentName(event))
  if (type === undefined) return null
  if (value === undefined) return type
  const plan = opened[type]
  if (!plan) return `${type} nowhere`
  if (typeof value === 'number') return `${type} n${value}`
  const values = dictionaryOf(schema.currentName(event), question, schema)?.values ?? []
  if (value === null) return plan.base
  const code = values.findIndex(
    (each) => (typeof each === 'object' && each !== null ? each.join(', ') : each) === value,
  )
  return code > 0 ? plan.base + code : `${type} d${value}`
}

/** After the groups: every node. After those: what is kept of them. */
export function nextPaths(
  part: PathsPart,
  plan: PathsPlan,
  question: PathsQuestion,
  context: QueryContext,
): PathsPlan | null {
  switch (part.pass) {
    case 'count':
      return null
    case 'nodes':
      return {
        ...{ ...plan, pass: 'count', ...widest(part.rough), followed: part.followed },
        kept: keptSteps(part, plan, question, context.schema),
        marked: markedNodes(context.wanted, plan, question, context.schema),
      }
    default: {
      const next = nextGrouped(part, plan, question.breakdowns!, context)
      return { ...plan, ...next, pass: next.pass === 'count' ? 'nodes' : next.pass }
    }
  }
}

function keptSteps(
  { counts, loose }: NodeCounts,
  plan: PathsPlan,
  question: PathsQuestion,
  schema: Schema,
): KeptStep[] {
  const { size } = plan.nodes
  return Array.from({ length: plan.steps }, (_, step): KeptStep => {
    const found: { ref: NodeRef; count: number }[] = []
    for (let node = 0; node < size; node++) {
      const count = counts[step * size + node]
      if (count > 0) found.push({ ref: node, count })
    }
    for (const [ref, own] of loose) if (own[step] > 0) found.push({ ref, count: own[step] })
    const named = found.map((each) => ({ ...each, node: nodeOfRef(each.ref, plan.nodes, schema, question) }))
    named.sort((a, b) => b.count - a.count || byName(a.node, b.node))
    const kept = named.slice(0, keptAt(question, step + 1))
    return {
      nodes: kept.map(({ node }) => node),
      refs: kept.map(({ ref }) => ref),
      rest: named.length - kept.length,
    }
  })
}

const NODE = 'node '
/** What nodes are asked for by. */
export const wantedNode = (node: PathNode): string => NODE + nodeId(node)

function markedNodes(
  wanted: ReadonlySet<string> | undefined,
  plan: PathsPlan,
  question: PathsQuestion,
  schema: Schema,
): PathsPlan['marked'] {
  return [...(wanted ?? [])].flatMap((name) => {
    if (!name.startsWith(NODE)) return []
    const id = name.slice(NODE.length)
    const [event, value] = JSON.parse(id) as [string, PathNode['value']]
    const ref = refOfNode(value === undefined ? { event } : { event, value }, plan.nodes, schema, question)
    return ref === null ? [] : [{ id, ref }]
  })
}

/** By code units, no value last. */
function byName(a: PathNode, b: PathNode): number {
  if (a.event !== b.event) return a.event < b.event ? -1 : 1
  if (a.value === null || b.value === null) return a.value === b.value ? 0 : a.value === null ? 1 : -1
  const [x, y] = [String(a.value), String(b.value)]
  return x < y ? -1 : x > y ? 1 : 0
}

/** The fullest places of the rough count: a way that was gone more often than any place left out holds is in one of them. */
function widest(rough: Uint32Array): Pick<PathsPlan, 'wanted' | 'sure'> {
  const sorted = rough.filter((count) => count > 0).sort()
  // Places that hold as many as one left out are left out too: nothing is told apart by the luck of its hash.
  const least = sorted.length > MOST_PLACES ? sorted[sorted.length - MOST_PLACES - 1] + 1 : 1
  return { wanted: Uint8Array.from(rough, (count) => (count >= least ? 1 : 0)), sure: least }
}
