import type { Router } from 'express'
import type { Dowser } from '../index.js'
import type { TakenView } from '../doors/takeBack.js'
import { takeChoiceSchema } from '../ingest/takeChoice.js'
import type { ApiTools } from './tools.js'

const moment = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString())

/** What came in, taken back by programs: looked at before, done, listed, and brought back. */
export function takeBackRoutes(router: Router, dowser: Dowser, { needs, fail, jsonBody }: ApiTools): void {
  for (const [path, looks] of [
    ['/taken-back/look', true],
    ['/taken-back', false],
  ] as const)
    router.post(path, needs('mend'), async (req, res) => {
      const body = await jsonBody(req)
      const choice = takeChoiceSchema.safeParse(withTimes(body))
      if (!choice.success)
        return fail(res, 422, `${WHAT} ${choice.error.issues.map(({ message }) => message).join('; ')}`)
      const look = looks ? await dowser.takeBack.look(choice.data) : await dowser.takeBack.take(choice.data)
      if (look === null) return fail(res, 404, 'Nothing that is there came by that.')
      const { firstMs, lastMs, ...rest } = look
      res.json({ ...rest, first: moment(firstMs), last: moment(lastMs) })
    })

  router.get('/taken-back', needs('mend'), (_req, res) => {
    res.json(dowser.takeBack.list().map(told))
  })

  router.post('/taken-back/:id/bring', needs('mend'), async (req, res) => {
    res.json(await dowser.takeBack.bring(String(req.params.id)))
  })
}

const WHAT =
  'Say what to take back: {"of": "import", "id": …}, {"of": "key", "id": …, "from": …, "until": …}, {"of": "event", "name": …}, {"of": "person", "id": …} or {"of": "events", "ids": […]}.'

/** Programs write times as everywhere in the API. */
function withTimes(body: unknown): unknown {
  if (typeof body !== 'object' || body === null || !('of' in body) || body.of !== 'key') return body
  const { from, until, ...rest } = body as Record<string, unknown>
  const msOf = (time: unknown) => (typeof time === 'number' ? time : Date.parse(String(time)))
  return { ...rest, fromMs: msOf(from), untilMs: msOf(until) }
}

function told({ id, choice, takenMs, events, profileValues, broughtMs, untilMs }: TakenView) {
  return {
    ...{ id, choice, events, profileValues, taken: moment(takenMs) },
    ...{ broughtBack: moment(broughtMs), until: broughtMs === null ? moment(untilMs) : null },
  }
}
