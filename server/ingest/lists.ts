import { rmSync } from 'node:fs'
import { open } from 'node:fs/promises'
import type { RuleGroup } from '../../core/segments/rule.js'
import type { Db } from '../store/database.js'
import { segmentStore, type SegmentInput } from '../store/segments.js'
import { previewFile } from './preview.js'
import { FileError, textRows } from './records.js'

/** Lists of people that keep their members. */
export type ListRequest =
  | {
      kind: 'freeze'
      segment: SegmentInput
      /** by the workspace's numbers of people */
      people: Uint32Array
      rule: RuleGroup | null
      origin: string
      frozenMs: number
      nowMs: number
    }
  /** the file is removed once it has been read */
  | { kind: 'read list'; segment: SegmentInput; path: string; file: string; column: number | null; nowMs: number }

export interface ListReply {
  id: string
  members: number
  /** ids that nobody has */
  unknown: number
  /** ids that stand for somebody who is in the list already */
  repeated: number
  lines: number
  /** something about how the file was read that its owner should know */
  remark: string | null
}

export interface ListColumns {
  columns: { name: string; samples: string[]; known: number; values: number }[]
  /** index of the column that most known ids stand in */
  best: number
}

/** A list of more ids than this is refused: nothing of it is kept. */
export const MOST_LISTED = 2_000_000
const LOOK_BYTES = 524_288

export function listMaker(db: Db) {
  const segments = segmentStore(db)
  const idOf = db
    .prepare<[number], number>('SELECT id FROM person_ids WHERE person = ? ORDER BY space DESC, id LIMIT 1')
    .pluck()
  const find = db.prepare<['known' | 'anonymous', string], { id: number; person: number }>(
    'SELECT id, person FROM person_ids WHERE space = ? AND value = ?',
  )
  const addMember = db.prepare('INSERT OR IGNORE INTO segment_members (segment, id) VALUES (?, ?)')
  const addUnknown = db.prepare('INSERT INTO segment_unknown (segment, line, value) VALUES (?, ?, ?)')
  const personWith = (value: string) => find.get('known', value) ?? find.get('anonymous', value)

  function freeze(request: Extract<ListRequest, { kind: 'freeze' }>): ListReply {
    const { segment, people, rule, origin, frozenMs, nowMs } = request
    return db
      .transaction(() => {
        const id = segments.createFrozen({ ...segment, rule, origin }, frozenMs, nowMs)
        let members = 0
        for (const person of people) {
          const stands = idOf.get(person)
          if (stands === undefined) continue
          addMember.run(id, stands)
          members++
        }
        return { id, members, unknown: 0, repeated: 0, lines: people.length, remark: null }
      })
      .immediate()
  }

  async function look(start: Uint8Array): Promise<ListColumns | { problem: string }> {
    const preview = await previewFile(start, 'UTC')
    if ('problem' in preview) return preview
    if (!('rows' in preview) || preview.plan.format !== 'csv')
      return { problem: 'The file is not CSV. Save the list as CSV: one id in each line, or a column of ids.' }
    const { header } = preview.plan
    const columns = header.map((name, index) => {
      const values = preview.rows.flatMap((row) => row[index]?.trim() || [])
      return {
        ...{ name, samples: values.slice(0, 4), values: values.length },
        known: [...values, name].filter((value) => personWith(value)).length,
      }
    })
    const best = columns.reduce((most, { known }, index) => (known > columns[most]!.known ? index : most), 0)
    return { columns, best }
  }

  async function readList(
    request: Extract<ListRequest, { kind: 'read list' }>,
  ): Promise<ListReply | { problem: string }> {
    const { segment, path, file, nowMs } = request
    try {
      const start = await startOf(path)
      const preview = await previewFile(start, 'UTC')
      if ('problem' in preview) return preview
      const columns = await look(start)
      if ('problem' in columns) return columns
      if (preview.plan.format !== 'csv') return { problem: 'The file is not CSV.' }
      const { plan } = preview
      const column = request.column ?? columns.best
      const members = new Map<number, number>()
      const unknown: { line: number; value: string }[] = []
      let lines = 0
      let repeated = 0
      for await (const { line, cells } of textRows(path, plan)) {
        const value = cells[column]?.trim() ?? ''
        if (value === '') continue
        const found = personWith(value)
        // The first line is a heading, save where it is an id itself.
        if (line === 1 && !found) continue
        if (++lines > MOST_LISTED)
          return {
            problem: `The file has more than ${MOST_LISTED.toLocaleString('en-GB')} ids, which is the most a list holds. Nothing of it was kept: split it, or describe these people by a rule.`,
          }
        if (!found) unknown.push({ line, value: value.slice(0, 200) })
        else if (members.has(found.person)) repeated++
        else members.set(found.person, found.id)
      }
      if (lines === 0) return { problem: 'There is no id in the file. Nothing was made.' }
      const id = db
        .transaction(() => {
          const made = segments.createFrozen({ ...segment, rule: null, origin: `uploaded from ${file}` }, nowMs, nowMs)
          for (const member of members.values()) addMember.run(made, member)
          for (const { line, value } of unknown) addUnknown.run(made, line, value)
          return made
        })
        .immediate()
      const remark =
        plan.encoding === 'windows-1252'
          ? 'The file is not UTF-8 and was read as Windows-1252. If ids with accents are missing, save it as UTF-8 and upload it again.'
          : null
      return { id, members: members.size, unknown: unknown.length, repeated, lines, remark }
    } catch (error) {
      if (error instanceof FileError) return { problem: error.message }
      throw error
    } finally {
      rmSync(path, { force: true })
    }
  }

  return {
    /** What the columns of a list's file seem to be, by its first bytes. Writes nothing. */
    look,
    take(request: ListRequest): unknown {
      return request.kind === 'freeze' ? freeze(request) : readList(request)
    },
  }
}

async function startOf(path: string): Promise<Uint8Array> {
  const handle = await open(path)
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(LOOK_BYTES), 0, LOOK_BYTES, 0)
    return buffer.subarray(0, bytesRead)
  } finally {
    await handle.close()
  }
}
