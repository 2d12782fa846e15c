import type { Router } from 'express'
import type { Dowser } from '../index.js'
import { effectOfMessage } from '../../core/outreach/effectOf.js'
import type { SavedMessage } from '../store/messages.js'
import type { SavedSync, SyncRun } from '../store/syncs.js'
import type { ApiTools } from './tools.js'

const RUNS = 100
const LINES = 100

/** What is kept in step, for programs: how it stands, how each look went, and what the receiver of webhooks got. */
export function outreachRoutes(router: Router, dowser: Dowser, { needs }: ApiTools): void {
  const { syncs, destinations, messages } = dowser

  router.get('/outreach/kept', needs('read'), (_req, res) => {
    res.json(syncs.list().map((sync) => told(sync)))
  })

  router.get('/outreach/kept/:id', needs('read'), (req, res) => {
    const sync = syncs.get(String(req.params.id))
    const { people } = syncs.waiting(sync.id)
    res.json({ ...told(sync), onTheWay: people, runs: syncs.runs(sync.id, RUNS).map(runTold) })
  })

  router.get('/outreach/messages', needs('read'), (_req, res) => {
    res.json(messages.list().map(messageTold))
  })

  router.get('/outreach/messages/:id', needs('read'), async (req, res) => {
    const message = messages.get(String(req.params.id))
    const { definition, startedMs } = message
    const { zone } = dowser.settings.get()
    const reply = startedMs === null ? null : await dowser.run(effectOfMessage(definition, startedMs, zone))
    res.json({
      ...messageTold(message),
      ...{ shares: messages.shares(message.id), effect: reply?.result ?? null },
      entries: messages.lines(message.id, LINES).map(({ atMs, dueMs, sentMs, variant, ...line }) => ({
        ...{ ...line, at: moment(atMs), due: moment(dueMs), sent: moment(sentMs) },
        variant: variant === null ? null : (definition.variants[variant]?.name ?? null),
      })),
    })
  })

  router.get('/outreach/destinations', needs('read'), (_req, res) => {
    res.json(destinations.list().map(({ id, name, setup }) => ({ id, name, setup })))
  })

  router.get('/outreach/destinations/:id/receipts', needs('read'), async (req, res) => {
    const { id, name } = destinations.get(String(req.params.id))
    const state = await destinations.state(id)
    res.json({
      ...{ id, name },
      people: state?.people ?? null,
      taken: state?.taken ?? null,
      repeats: state?.repeats ?? null,
      twice: state?.twice ?? null,
      calls: (state?.arrived ?? []).map(({ atMs, ...call }) => ({ ...call, at: moment(atMs) })),
    })
  })

  function messageTold({ id, definition, state, why, startedMs, endedMs }: SavedMessage) {
    return {
      ...{ id, definition, state, why, started: moment(startedMs), ended: moment(endedMs) },
      people: messages.counts(id),
    }
  }

  function told({ id, definition, state, why, startedMs, dueMs }: SavedSync) {
    const { in: there, kept, parked } = syncs.members(id)
    return {
      ...{ id, definition, state, why, started: moment(startedMs), due: moment(dueMs) },
      people: { there: there + kept, setAside: parked },
    }
  }
}

function runTold({ id, startedMs, endedMs, ...run }: SyncRun) {
  return { id, started: moment(startedMs), ended: moment(endedMs), ...run }
}

const moment = (ms: number | null): string | null => (ms === null ? null : new Date(ms).toISOString())
