import { anyMark, anyStudy } from '../questions/studySchema.js'
import { ruleSchema } from '../segments/ruleSchema.js'
import { z } from 'zod'
import type { PeopleRef, StudyPeople, RulePeople } from './people.js'

const everybody = z.literal(true).optional()

const studyPeopleSchema: z.ZodType<StudyPeople & Pick<PeopleRef, 'everybody'>> = z.strictObject({
  study: anyStudy,
  marks: z.array(anyMark).min(1, 'at least one mark').max(500),
  everybody,
})

const rulePeopleSchema: z.ZodType<RulePeople & Pick<PeopleRef, 'everybody'>> = z
  .strictObject({
    rule: ruleSchema,
    at: z.number().optional(),
    came: z.enum(['in', 'out']).optional(),
    since: z.number().optional(),
    everybody,
  })
  .refine(({ came, since }) => !came || since !== undefined, { message: 'since when', path: ['since'] })

export const peopleSchema: z.ZodType<PeopleRef> = z.union([studyPeopleSchema, rulePeopleSchema])

/** "among those who …": as of the question's own moment, where no other is said. */
export const amongSchema = peopleSchema
