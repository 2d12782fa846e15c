import { own } from '../../core/names.js'
import { z } from 'zod'
import { planEventSchema, policies, rules, type PlanEvent, type PlanProperty } from '../../core/plan/plan.js'
import { touchBySchema } from '../../core/analyses/attribution/schema.js'
import { MOST_COSTS } from '../../core/costs/costs.js'
import { isLocalDay } from '../../core/time/range.js'
import { countOf, formatNumber } from '../../core/words/format.js'
import { takeChoiceSchema } from '../door/dowser.shared.js'
import { dowser } from '../door/dowser.server.js'
import { takenWords } from './takeBackWords.js'
import { allowIn } from './remedies.js'

const scope = z.enum(['event', 'person'])
const saidSchema = z.strictObject({
  description: z.string().max(1000).optional(),
  display: z.string().max(200).optional(),
  synonyms: z.string().max(500).optional(),
  owner: z.string().max(200).optional(),
  state: z.enum(['live', 'deprecated', 'hidden']).optional(),
  passive: z.boolean().optional(),
})
const names = z.array(z.string().min(1).max(200)).min(1).max(5000)
const problemSchema = z.strictObject({ rule: z.enum(rules), event: z.string(), property: z.string().nullable() })
const choiceSchema = z.strictObject({
  rule: z.enum([...rules, 'by hand', 'clock ahead', 'refused']),
  event: z.string().nullable(),
  property: z.string().nullable(),
})

/** As much of a table of costs is taken, characters. */
export const MOST_TEXT = 5_000_000
const costRowSchema = z.strictObject({
  day: z.string().refine(isLocalDay, 'a day as 2026-10-08'),
  days: z.union([z.literal(1), z.literal(7)]),
  value: z.string().min(1).max(8192),
  amount: z.number().min(0),
})

/** Every change to what is said, planned or made of the data. */
export const mendSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('describe events'), names, said: saidSchema }),
  z.strictObject({ do: z.literal('describe properties'), of: scope, names, said: saidSchema }),
  z.strictObject({ do: z.literal('merge event'), from: z.string(), into: z.string().nullable() }),
  z.strictObject({ do: z.literal('merge property'), of: scope, from: z.string(), into: z.string().nullable() }),
  z.strictObject({ do: z.literal('plan'), events: z.array(planEventSchema).max(2000) }),
  z.strictObject({ do: z.literal('unplan'), event: z.string() }),
  z.strictObject({ do: z.literal('policy'), policy: z.enum(policies) }),
  z.strictObject({ do: z.literal('event policy'), event: z.string(), policy: z.enum(policies).nullable() }),
  /** the values that are allowed from now on; none where the problem is not about values */
  z.strictObject({ do: z.literal('allow'), problem: problemSchema, values: z.array(z.string()).max(500).default([]) }),
  z.strictObject({ do: z.literal('set problem aside'), problem: problemSchema, from: z.literal('now on').optional() }),
  z.strictObject({
    do: z.literal('let in'),
    choice: choiceSchema,
    atReceipt: z.boolean().default(false),
    /** the policy that the event had before it was set aside; null = the workspace's */
    policyBefore: z.enum(policies).nullable().optional(),
  }),
  z.strictObject({ do: z.literal('discard'), choice: choiceSchema }),
  z.strictObject({
    do: z.literal('save derived'),
    definition: z.unknown(),
    before: z.strictObject({ of: scope, name: z.string() }).optional(),
  }),
  z.strictObject({ do: z.literal('remove derived'), of: scope, name: z.string() }),
  z.strictObject({ do: z.literal('save combined'), definition: z.unknown(), before: z.string().optional() }),
  z.strictObject({ do: z.literal('remove combined'), name: z.string() }),
  /** the text of a table of costs: its rows take the place of those of its days */
  z.strictObject({ do: z.literal('bring costs'), by: touchBySchema, text: z.string().max(MOST_TEXT) }),
  /** all costs of a property */
  z.strictObject({ do: z.literal('set costs'), by: touchBySchema, rows: z.array(costRowSchema).max(MOST_COSTS) }),
  /** what one value cost from a day on; null = the row goes */
  z.strictObject({
    do: z.literal('correct cost'),
    by: touchBySchema,
    row: costRowSchema,
    amount: z.number().min(0).nullable(),
  }),
  z.strictObject({ do: z.literal('unmerge'), id: z.int() }),
  z.strictObject({ do: z.literal('remerge'), id: z.int() }),
  z.strictObject({ do: z.literal('take back'), choice: takeChoiceSchema }),
  z.strictObject({ do: z.literal('bring back'), id: z.string() }),
])
export type Mend = z.infer<typeof mendSchema>

/** What was done, in words, and what would undo it; or why it was not done. */
export interface Mended {
  done: string | null
  undo: Mend | null
  problems: { message: string; path: (string | number)[]; at?: { at: number; length: number; message: string } }[]
}

/** Carries out a change; other threads know of it when this returns. */
export async function carryOut(mend: Mend): Promise<Mended> {
  const result = await change(mend)
  await dowser().told(null)
  return result
}

const good = (done: string, undo: Mend | null = null): Mended => ({ done, undo, problems: [] })
const refused = (message: string): Mended => ({ done: null, undo: null, problems: [{ message, path: [] }] })
const fromSaved = (saved: { problems: Mended['problems'] }, done: string, undo: Mend | null): Mended =>
  saved.problems.length > 0 ? { done: null, undo: null, problems: saved.problems } : good(done, undo)

async function change(mend: Mend): Promise<Mended> {
  const { said, plan, mending, costs } = dowser()
  const now = Date.now()
  switch (mend.do) {
    case 'describe events': {
      const before = said.types().filter((row) => mend.names.includes(row.name))
      said.describeEvents(mend.names, clean(mend.said))
      return good(describedWords(mend.names, 'events'), undoDescribe(before, mend))
    }
    case 'describe properties': {
      const before = said.properties().filter((row) => row.scope === mend.of && mend.names.includes(row.name))
      said.describeProperties(mend.of, mend.names, clean(mend.said))
      return good(describedWords(mend.names, 'properties'), undoDescribe(before, mend))
    }
    case 'merge event': {
      const { into: before = null } = { into: own(mending.get().mergedEvents, mend.from) }
      const done =
        mend.into === null ? `“${mend.from}” counts for itself again.` : `“${mend.from}” counts as “${mend.into}”.`
      return fromSaved(mending.mergeEvent(mend.from, mend.into), done, { ...mend, into: before })
    }
    case 'merge property': {
      const before = mending.get().mergedProperties.find((each) => each.of === mend.of && each.from === mend.from)
      const done =
        mend.into === null ? `“${mend.from}” is read by itself again.` : `“${mend.from}” is read as “${mend.into}”.`
      return fromSaved(mending.mergeProperty(mend.of, mend.from, mend.into), done, {
        ...mend,
        into: before?.into ?? null,
      })
    }
    case 'plan': {
      const before = plan.get().events.filter((event) => mend.events.some(({ name }) => name === event.name))
      plan.save(mend.events)
      const [first] = mend.events
      const done =
        mend.events.length === 1 ? `The plan of “${first!.name}” is kept.` : `${mend.events.length} events are planned.`
      const undo: Mend | null =
        before.length === mend.events.length
          ? { do: 'plan', events: before }
          : mend.events.length === 1
            ? { do: 'unplan', event: first!.name }
            : null
      return good(done, undo)
    }
    case 'unplan': {
      const before = plan.get().events.find((event) => event.name === mend.event)
      plan.remove(mend.event)
      return good(`“${mend.event}” is out of the plan.`, before ? { do: 'plan', events: [before] } : null)
    }
    case 'policy': {
      const { policy } = plan.get()
      plan.setPolicy(mend.policy)
      return good(`Data that does not fit: ${mend.policy}.`, { do: 'policy', policy })
    }
    case 'event policy': {
      const { events, others } = plan.get()
      const before = events.find((event) => event.name === mend.event)?.policy ?? own(others, mend.event) ?? null
      plan.setEventPolicy(mend.event, mend.policy)
      return good(`“${mend.event}” that does not fit: ${mend.policy ?? 'as the workspace'}.`, {
        ...mend,
        policy: before,
      })
    }
    case 'allow':
      return allow(mend)
    case 'set problem aside': {
      const { problem } = mend
      const policyBefore = own(plan.get().others, problem.event) ?? null
      const unknown = problem.rule === 'unknown event'
      const moved = await dowser().setProblemAside(
        problem,
        'set aside by hand on the quality page',
        unknown ? { event: problem.event, policy: 'set aside' } : undefined,
      )
      return good(`${countOf(moved, 'event is', 'events are')} set aside, out of all numbers.`, {
        ...{ do: 'let in', choice: problem, atReceipt: false },
        ...(unknown ? { policyBefore } : {}),
      })
    }
    case 'let in': {
      const { event } = mend.choice
      const back = mend.policyBefore !== undefined && event !== null
      const policy = back ? { event, policy: mend.policyBefore! } : undefined
      const { accepted, duplicates } = await dowser().letIn(mend.choice, mend.atReceipt, policy)
      const known = duplicates > 0 ? `, ${duplicates} were known already` : ''
      return good(`${countOf(accepted, 'event is', 'events are')} let in${known}.`)
    }
    case 'discard':
      return good(`${countOf(await dowser().discardAside(mend.choice), 'event is', 'events are')} thrown away.`)
    case 'save derived': {
      const saved = await mending.saveDerived(mend.definition, now, mend.before)
      return fromSaved(saved, 'It is kept, and can be used wherever a property can.', null)
    }
    case 'remove derived': {
      const definition = mending.get().derived.find((each) => each.of === mend.of && each.name === mend.name)
      mending.removeDerived(mend.of, mend.name)
      return good(`“${mend.name}” is removed.`, definition ? { do: 'save derived', definition } : null)
    }
    case 'save combined':
      return fromSaved(
        mending.saveCombined(mend.definition, now, mend.before),
        'It is kept, and can be used wherever an event can.',
        null,
      )
    case 'remove combined': {
      const definition = mending.get().combined.find((each) => each.name === mend.name)
      mending.removeCombined(mend.name)
      return good(`“${mend.name}” is removed.`, definition ? { do: 'save combined', definition } : null)
    }
    case 'bring costs': {
      const brought = await costs.bring(mend.text, mend.by)
      if (!brought) return refused(`A table holds at most ${formatNumber(MOST_COSTS)} costs. Remove older ones first.`)
      const { rows, before } = brought
      if (rows === 0) return refused('No line of it is a cost.')
      return good(`${countOf(rows, 'cost is', 'costs are')} kept.`, { do: 'set costs', by: mend.by, rows: before })
    }
    case 'set costs': {
      const before = costs.rows(mend.by)
      costs.set(mend.by, mend.rows)
      const done = mend.rows.length === 0 ? 'The costs are removed.' : 'The costs are as they were.'
      return good(done, { do: 'set costs', by: mend.by, rows: before })
    }
    case 'correct cost': {
      const { by, row, amount } = mend
      if (!costs.correct(by, row, amount)) return refused('The costs of those days have changed since: look again.')
      const done = amount === null ? `The cost of ${row.value} is removed.` : `The cost of ${row.value} is corrected.`
      // What is undone is that row, as it was.
      return good(done, { ...mend, amount: row.amount, row: { ...row, amount: amount ?? row.amount } })
    }
    case 'unmerge': {
      const person = await dowser().unmerge(mend.id)
      if (person === null)
        return { done: null, undo: null, problems: [{ message: 'This id is all there is of the person.', path: [] }] }
      return good('The id is a person of its own.', { do: 'remerge', id: mend.id })
    }
    case 'remerge':
      await dowser().remerge(mend.id)
      return good('The id is together again with those it was seen with.', { do: 'unmerge', id: mend.id })
    case 'take back': {
      const taken = await dowser().takeBack.take(mend.choice)
      if (taken === null)
        return { done: null, undo: null, problems: [{ message: 'Nothing that is there came by that.', path: [] }] }
      return good(`${takenWords(taken)} taken back.`, { do: 'bring back', id: taken.id })
    }
    case 'bring back': {
      const { events, again } = await dowser().takeBack.bring(mend.id)
      const rest =
        again > 0 ? `; ${countOf(again, 'event', 'events')} had come again meanwhile and stay as they are` : ''
      return good(`${countOf(events, 'event is', 'events are')} back${rest}.`)
    }
  }
}

/** Widens the plan so that a problem is none any more. */
async function allow({ problem, values }: Extract<Mend, { do: 'allow' }>): Promise<Mended> {
  const { plan } = dowser()
  const current = plan.get()
  const { events: seen, properties } = await dowser().catalogDetail()
  const kindOf = (name: string): PlanProperty['kind'] =>
    properties.find((each) => each.of === 'event' && each.name === name)?.kind ?? 'any'
  const target = own(dowser().mending.get().mergedEvents, problem.event) ?? problem.event
  const before = current.events.find((event) => event.name === target)
  const carried = seen.find((event) => event.name === problem.event)
  const after: PlanEvent = before
    ? allowIn(before, problem, values, kindOf)
    : planEventSchema.parse({
        name: problem.event,
        properties: (carried?.properties ?? []).map(({ name }) => ({ name, kind: kindOf(name) })),
      })
  plan.save([after])
  return good(
    `The plan now allows it.`,
    before ? { do: 'plan', events: [before] } : { do: 'unplan', event: after.name },
  )
}

type Said = Extract<Mend, { do: 'describe events' }>['said']

/** Without what was left out. */
function clean(said: Said) {
  return Object.fromEntries(Object.entries(said).filter(([, value]) => value !== undefined)) as {
    [K in keyof Said]-?: NonNullable<Said[K]>
  }
}

function describedWords(names: readonly string[], many: string): string {
  return names.length === 1 ? `“${names[0]}” is changed.` : `${names.length} ${many} are changed.`
}

type DescribeMend = Extract<Mend, { do: 'describe events' | 'describe properties' }>

/** Possible where all had the same before. */
function undoDescribe(
  before: readonly {
    description: string
    display: string
    synonyms: string
    owner: string
    state: string
    passive?: number
  }[],
  mend: DescribeMend,
): Mend | null {
  const [first] = before
  if (!first) return null
  const keys = Object.keys(mend.said) as (keyof Said)[]
  if (!before.every((row) => keys.every((key) => row[key as 'owner'] === first[key as 'owner']))) return null
  const said = Object.fromEntries(
    keys.map((key) => [key, key === 'passive' ? first.passive === 1 : first[key as 'owner']]),
  )
  return mendSchema.parse({ ...mend, said })
}
