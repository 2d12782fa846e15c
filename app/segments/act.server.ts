import { peopleSchema } from '../../core/analyses/peopleSchema.js'
import { parseRule } from '../../core/segments/ruleSchema.js'
import { readJson } from '../../core/questions/readJson.js'
import { own as ownOf } from '../../core/names.js'
import { z } from 'zod'
import { peopleWords } from '../analyses/words.js'
import { countOf, formatNumber } from '../../core/words/format.js'
import { faultWords } from '../../core/questions/faults.js'
import { lostForGood, ruleOfPeople } from '../../core/analyses/peopleRule.js'
import { resolveSegments } from '../../core/segments/resolve.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import { dowser } from '../door/dowser.server.js'

/** What came of a change to segments. */
export type SegmentActed =
  { saved: string; members?: number; remark?: string } | { removed: string } | { problem: string }

const tags = z.array(z.string().trim().min(1).max(40)).max(20)
const form = z.object({
  intent: z.enum(['save', 'save new', 'describe', 'save people live', 'freeze', 'delete', 'bring back']),
  id: z.string().max(40).optional(),
  name: z.string().trim().max(120).default(''),
  description: z.string().max(2000).default(''),
  tags: z.string().default('[]'),
  rule: z.string().default('null'),
  people: z.string().default('null'),
})

/** Carries out what a form on the pages of segments says. */
export async function actOnSegments(data: FormData): Promise<SegmentActed> {
  const read = form.safeParse(Object.fromEntries(data))
  if (!read.success) return { problem: 'Nothing was changed: something in the form is missing.' }
  const { intent, id, name, description } = read.data
  const { segments } = dowser()
  const now = Date.now()
  try {
    if (intent === 'delete' || intent === 'bring back') {
      if (!id) return { problem: 'Nothing was changed: the form does not say which segment.' }
      if (intent === 'delete') {
        segments.remove(id, now)
        return { removed: id }
      }
      segments.bringBack(id)
      return { saved: id }
    }
    if (name === '') return { problem: 'Give the segment a name.' }
    const said = { name, description, tags: tags.catch([]).parse(readJson(read.data.tags)) }
    if (intent === 'save people live' || intent === 'freeze')
      return await savePeople(intent, readJson(read.data.people), said)
    if (intent === 'describe') {
      if (!id) return { problem: 'Nothing was changed: the form does not say which segment.' }
      segments.save(id, { ...said, rule: segments.get(id).rule }, now)
      return { saved: id }
    }
    const rule = goodRule(readJson(read.data.rule), intent === 'save' ? id : undefined)
    if ('problem' in rule) return rule
    if (id && intent === 'save') segments.save(id, { ...said, rule: rule.rule }, now)
    return { saved: id && intent === 'save' ? id : segments.create({ ...said, rule: rule.rule }, now) }
  } catch (error) {
    const known = error as Error & { status?: number }
    if (known.name === 'NameTakenError' || known.name === 'NotFoundError' || known.status === 409)
      return { problem: known.message }
    throw error
  }
}

/** A rule that can be saved: whole, and in no circle with the segment it is of. */
function goodRule(input: unknown, own: string | undefined): { rule: RuleGroup } | { problem: string } {
  const { rule, faults } = parseRule(input)
  const { segments } = dowser()
  const names = segments.names()
  const resolved = resolveSegments(rule, segments.saved, (id) => ownOf(names, id), own)
  const all = [...faults, ...resolved.faults]
  return all.length > 0 ? { problem: `Not saved. ${all.map(faultWords).join(' ')}` } : { rule }
}

async function savePeople(
  intent: 'save people live' | 'freeze',
  input: unknown,
  said: { name: string; description: string; tags: string[] },
): Promise<SegmentActed> {
  const read = peopleSchema.safeParse(input)
  if (!read.success) return { problem: 'Which people are meant could not be read. Select them again.' }
  const ref = read.data
  const { segments } = dowser()
  const now = Date.now()
  const status = await dowser().status()
  const counted = await dowser().people(ref, { offset: 0, limit: 0 })
  if ('faults' in counted) return { problem: counted.faults.map(faultWords).join(' ') }
  if (intent === 'save people live') {
    const rule = ruleOfPeople(ref)
    const meant = lostForGood(ref)
    if (!rule || !(await segments.same(meant, { rule })))
      return {
        problem: `Not saved: no rule says exactly who ${counted.count === 1 ? 'this person is' : `these ${formatNumber(counted.count)} people are`}, so a live segment would hold others. Save them as frozen to keep exactly these.`,
      }
    const held = await dowser().people(meant, { offset: 0, limit: 0 })
    const members = 'faults' in held ? counted.count : held.count
    const waiting = counted.count - members
    return {
      ...{ saved: segments.create({ ...said, rule }, now), members },
      ...(waiting > 0
        ? { remark: `${countOf(waiting, 'other person', 'others')} may still go on, and come in if they do not.` }
        : {}),
    }
  }
  const words = dowser().wordsAt(status.now)
  const origin = `people ${peopleWords(ref, words)}`
  const kept = await segments.freeze(ref, { ...said, origin, rule: ruleOfPeople(ref) }, now, status.now)
  if ('faults' in kept) return { problem: kept.faults.map(faultWords).join(' ') }
  return { saved: kept.id, members: kept.members }
}
