import { localDay } from '../../time/rangeSchema.js'
import { z } from 'zod'

/** What an annotation must be; the study it is for has to exist. */
export const annotationSchema = z.object({
  day: localDay,
  text: z.string().trim().min(1, 'say what happened').max(200, 'at most 200 characters'),
  tags: z.array(z.string().trim().min(1).max(40)).max(10).default([]),
  study: z.string().nullable().default(null),
})

export type AnnotationInput = z.infer<typeof annotationSchema>
