import { parseRule } from '../../core/segments/ruleSchema.js'
import type { ApiTools } from './tools.js'
import type { Router } from 'express'
import { z } from 'zod'
import type { Dowser } from '../index.js'
import type { Segment } from '../store/segments.js'

const page = z.object({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(100),
})

/** Segments for programs: what there is, how many they hold, who is in them, and rules that are not saved. */
export function segmentRoutes(
  router: Router,
  dowser: Dowser,
  { needs, fail, failWith, jsonBody, abortOf }: ApiTools,
): void {
  router.get('/segments', needs('read'), (_req, res) => {
    res.json(dowser.segments.list().map(told))
  })

  router.post('/segments/count', needs('read'), async (req, res) => {
    const definition = await jsonBody(req)
    if (definition === undefined) return fail(res, 400, 'The body is not JSON. Send a segment’s rule.')
    const { rule, faults } = parseRule(definition)
    if (faults.length > 0) return failWith(res, faults)
    const counted = await dowser.segments.count(rule, undefined, abortOf(req, res))
    if ('faults' in counted) return failWith(res, counted.faults)
    const { members, everyone, parts, now } = counted
    res.json({ rule, asOf: new Date(now).toISOString(), members, everyone, parts })
  })

  router.get('/segments/:id', needs('read'), async (req, res) => {
    const segment = dowser.segments.get(String(req.params.id))
    const counted = await dowser.segments.count({ kind: 'segment', segment: segment.id }, undefined, abortOf(req, res))
    if ('faults' in counted) return failWith(res, counted.faults)
    const { members, everyone, now } = counted
    res.json({ ...told(segment), asOf: new Date(now).toISOString(), members, everyone })
  })

  router.get('/segments/:id/people', needs('read'), async (req, res) => {
    const { id } = dowser.segments.get(String(req.params.id))
    const asked = page.safeParse(req.query)
    if (!asked.success) return fail(res, 400, '“offset” counts from 0, and “limit” is 1 to 1,000.')
    const ref = { rule: { kind: 'segment' as const, segment: id } }
    const found = await dowser.people(ref, asked.data, abortOf(req, res))
    if ('faults' in found) return failWith(res, found.faults)
    res.json({
      count: found.count,
      people: found.people.map(({ id: person, anonymous, profile, events, lastMs }) => ({
        ...{ person, anonymous, properties: profile, events, lastSeen: new Date(lastMs).toISOString() },
      })),
    })
  })
}

function told({ id, name, description, tags, rule, frozenMs }: Segment) {
  return { id, name, description, tags, rule, frozen: frozenMs === null ? null : new Date(frozenMs).toISOString() }
}
