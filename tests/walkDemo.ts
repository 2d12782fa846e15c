import { dayIn } from '../app/catalog/days.js'
import type { Look, Near } from '../app/analyses/leads.js'
import { homeCards, whereNext } from '../app/study/lead.server.js'
import type { Question, Result } from '../core/analyses/registry.js'
import type { Words } from '../core/words/words.js'
import { DEFAULTS } from '../demo/generate.js'
import { makeDemo } from '../demo/make.js'
import type { Catalog } from '../server/engine/catalog.js'
import type { EngineStatus } from '../server/engine/engine.worker.js'
import type { Dowser } from '../server/index.js'
import { newFolder, openReady } from './workspace.js'

export interface Walked {
  /** how one gets there */
  way: string
  question: Question
  result: Result
  next: Look[]
}

/** A small demo workspace, with all studies that its pages lead to. */
export interface Walk {
  dowser: Dowser
  catalog: Catalog
  words: Words
  /** what its pages make studies of */
  near: Near
  zone: string
  /** the workspace's local day */
  today: string
  status: EngineStatus
  walked: Walked[]
  end: () => Promise<void>
}

/** Follows what Home, the saved studies and each page after them propose. @param depth how many pages on */
export async function walkDemo(depth: number): Promise<Walk> {
  const folder = newFolder()
  makeDemo(folder.dir, { ...DEFAULTS, people: 1500 })
  const dowser = await openReady(folder.dir)
  const status = await dowser.status()
  const catalog = await dowser.catalog()
  const words = dowser.wordsAt(status.now)
  const { zone } = dowser.settings.get()
  const near = { catalog, words, zone, now: status.now, segments: dowser.segments.list() }
  const next = (question: Question, result: Result) => whereNext(question, result, near)
  const starts = [
    ...dowser.studies.list().map(({ name, question }) => ({ label: name, question })),
    ...(await homeCards(near)).flatMap(({ title, looks }) =>
      looks.map(({ label, question }) => ({ label: `${title} ${label}`, question })),
    ),
  ]
  const walked = await walk(dowser, starts, depth, next)
  const end = async () => {
    await dowser.close()
    folder.remove()
  }
  return { dowser, catalog, words, near, zone, today: dayIn(status.now, zone), status, walked, end }
}

/** A question that was met already is not asked again. */
async function walk(
  dowser: Dowser,
  starts: readonly Look[],
  depth: number,
  nextOf: (question: Question, result: Result) => Promise<Look[]>,
): Promise<Walked[]> {
  const met = new Set<string>()
  const found: Walked[] = []
  let level = starts.map(({ label, question }) => ({ way: label, question }))
  for (let at = 0; at <= depth; at++) {
    const deeper: typeof level = []
    for (const { way, question } of level) {
      const text = JSON.stringify(question)
      if (met.has(text)) continue
      met.add(text)
      const { result, faults } = await dowser.run(question)
      if (!result || faults.length > 0) throw new Error(`${way}: ${JSON.stringify(faults)}`)
      const next = await nextOf(question, result)
      found.push({ way, question, result, next })
      deeper.push(...next.map((look) => ({ way: `${way} › ${look.label}`, question: look.question })))
    }
    level = deeper
  }
  return found
}
