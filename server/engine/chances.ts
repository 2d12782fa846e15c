import { chanceOf, type Chance } from '../../core/analyses/likelihood/onePerson.js'
import type { KeptModel } from '../../core/analyses/likelihood/model.js'
import { planLikelihood } from '../../core/analyses/likelihood/plan.js'
import { isEverybody } from '../../core/analyses/peopleWords.js'
import { hasBit } from '../../core/log/bits.js'
import type { QuestionOf } from '../../core/analyses/registry.js'
import type { Fault } from '../../core/questions/faults.js'
import { makeColumns, peopleBits, type QueryBase } from './query.js'

/** How likely a person is to do what a question asks, by the model that is kept of it. */
export interface PersonChance {
  /** place of the question among those asked */
  question: number
  trainedAt: number
  /** of all the model was told of, what part did it */
  rate: number
  /** null = they are not asked about: they have done it, or were not seen in the days that are looked at */
  found: Chance | null
}

/** Whether somebody is one of those a question is asked among. */
async function isAsked(person: number, { among }: QuestionOf<'likelihood'>, base: QueryBase): Promise<boolean> {
  if (!among || isEverybody(among)) return true
  const bits = await peopleBits(among, base)
  return !('faults' in bits) && person >>> 5 < bits.length && hasBit(bits, person)
}

/** Of the questions that a model is kept of; nothing is trained for it. */
export async function chancesOf(
  person: number,
  questions: readonly QuestionOf<'likelihood'>[],
  base: QueryBase,
): Promise<PersonChance[]> {
  const { snapshot, calendar, now, models } = base
  const indices = snapshot.logs.map((each) => each.person.indexOf(person))
  const place = snapshot.logs.findIndex((each, at) => indices[at]! >= 0 && each.hidden?.[indices[at]!] !== 1)
  if (place < 0) return []
  const [log, index] = [snapshot.logs[place]!, indices[place]!]
  const chances: PersonChance[] = []
  for (const [at, question] of questions.entries()) {
    const model = models.of(question, now) as KeptModel | null
    if (!model) continue
    await makeColumns(question, base)
    const schema = snapshot.schema.asMade()
    const faults: Fault[] = []
    const plan = planLikelihood(question, { schema, calendar, now, among: null, model: () => model }, faults)
    if (faults.length > 0 || !(await isAsked(person, question, base))) continue
    const { told, trainedAt } = model
    const found = chanceOf(log, index, plan, model, schema)
    chances.push({ question: at, trainedAt, rate: told.people > 0 ? told.did / told.people : 0, found })
  }
  return chances
}
