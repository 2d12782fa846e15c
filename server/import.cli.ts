import { openSync, readSync, closeSync, statSync } from 'node:fs'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { z } from 'zod'
import { columnRoleSchema, planProblems, rowKinds, type ImportPlan } from './ingest/importPlan.js'
import { doorway } from './ingest/doorway.js'
import { runImport } from './ingest/importer.js'
import { lookThrough } from './ingest/importLook.js'
import { parquetStart } from './ingest/records.js'
import { previewFile, previewTable } from './ingest/preview.js'
import { eventWriter } from './ingest/writer.js'
import { readSettings } from './settings.js'
import { openDatabase } from './store/database.js'
import { workspaceFile } from './store/home.js'
import { importStore } from './store/imports.js'
import { settingsStore } from './store/settings.js'

const HELP = `npm run import -- FILE [options]

Brings events, people or things from a CSV, TSV, JSON, JSON Lines (also gzip) or Parquet file into the workspace. What
the columns are is guessed from their names and values, or remembered from the last file of the same shape; what is
guessed wrong can be said:
  --rows KIND            what the rows are: events, things (an id and dates), or people
  --event NAME           the event's name, where no column gives it
  --thing WORD           what each row is, of things: order, subscription
  --replace              a row of the same id takes the earlier one's place
  --column "NAME=ROLE"   ROLE is id, person, anonymous, event, time, source, ignore, or text, number, boolean, date, list;
                         event:NAME makes an event of a date
  --resume ID            go on with an import that was stopped
  --look                 look through the file and say which lines would not be taken; nothing is written
  --rejected FILE        write the lines that were not taken, with their reasons, to a file

An import that is interrupted goes on where it was with --resume; nothing is counted twice.`

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    event: { type: 'string' },
    rows: { type: 'string' },
    thing: { type: 'string' },
    replace: { type: 'boolean' },
    column: { type: 'string', multiple: true },
    resume: { type: 'string' },
    rejected: { type: 'string' },
    look: { type: 'boolean' },
    help: { type: 'boolean' },
  },
})

function stop(message: string): never {
  console.error(message)
  process.exit(2)
}

if (values.help || (positionals.length !== 1 && !values.resume)) stop(HELP)

const db = openDatabase(workspaceFile(readSettings(process.env).dataDir, Date.now()))
const imports = importStore(db)
const id = values.resume ?? (await start(positionals[0]))
console.log(`Import ${id}${values.resume ? ' goes on' : ''}`)

if (values.look) await lookOnly()

let told = 0
const done = await runImport(db, doorway(db, eventWriter(db)), id, {
  now: Date.now,
  owned: false,
  onProgress: (job) => {
    const now = Date.now()
    if (now - told > 1000) {
      told = now
      const rate = Math.round(job.records / (job.spentMs / 1000))
      const left = job.bytesRead > 0 ? ((job.bytes / job.bytesRead - 1) * job.spentMs) / 1000 : 0
      console.log(
        `  ${percent(job.bytesRead, job.bytes)}  ${count(job.records)} lines, ${count(rate)} a second, about ${Math.ceil(left)} s left`,
      )
    }
    return true
  },
})
console.log(
  `${count(done.accepted)} events taken, ${count(done.duplicates)} known already, ${count(done.rejected)} lines not taken.`,
)
for (const { reason, lines, first } of imports.reasons(id).slice(0, 10))
  console.log(`  line ${first}${lines > 1 ? ` and ${count(lines - 1)} more` : ''}: ${reason}`)
if (values.rejected) await writeRejected(values.rejected)
if (done.problem) console.error(done.problem)
db.close()
process.exit(done.state === 'done' ? 0 : 1)

/** Says what would become of the file, and ends. */
async function lookOnly(): Promise<never> {
  const look = await lookThrough(db, doorway(db, eventWriter(db)), id, { now: Date.now, onProgress: () => true })
  imports.finish(id, 'stopped', 'It was looked through only.')
  if (!look) stop('The file is no longer there.')
  console.log(
    `${count(look.records)} lines: ${count(look.rejected)} would not be taken, ${count(look.known)} events are known already. Nothing was written.`,
  )
  for (const { reason, lines, first } of look.reasons.slice(0, 10))
    console.log(`  line ${first}${lines > 1 ? ` and ${count(lines - 1)} more` : ''}: ${reason}`)
  if (look.problem) console.error(look.problem)
  db.close()
  process.exit(look.rejected > 0 || look.problem ? 1 : 0)
}

async function start(name: string): Promise<string> {
  const file = path.resolve(process.env.INIT_CWD ?? process.cwd(), name)
  let bytes: number
  let head: Buffer
  try {
    bytes = statSync(file).size
    head = Buffer.alloc(Math.min(bytes, 524_288))
    const handle = openSync(file, 'r')
    readSync(handle, head)
    closeSync(handle)
  } catch (error) {
    stop(`The file cannot be read: ${(error as Error).message}`)
  }
  const { zone } = settingsStore(db).get()
  const isParquet = head.subarray(0, 4).toString('latin1') === 'PAR1'
  const preview = imports.remembered(
    isParquet ? previewTable(await parquetStart(file), zone) : await previewFile(head, zone),
  )
  if ('problem' in preview) stop(preview.problem)
  if ('remembered' in preview && preview.remembered) console.log('Read as the last file of this shape was.')
  const plan = corrected(preview.plan)
  const problems = planProblems(plan)
  if (problems.length > 0)
    stop(`${problems.join('\n')}\n\nThe columns are: ${plan.format === 'jsonl' ? '' : plan.header.join(', ')}`)
  return imports.create({ file: path.basename(file), path: file, bytes, plan }, Date.now())
}

function corrected(plan: ImportPlan): ImportPlan {
  if (plan.format === 'jsonl') return plan
  const columns = [...plan.columns]
  for (const setting of values.column ?? []) {
    const [, name, role] = /^(.*?)=(.+)$/.exec(setting) ?? stop(`--column takes "NAME=ROLE", not “${setting}”.`)
    const index = plan.header.indexOf(name)
    if (index < 0) stop(`There is no column “${name}”. The columns are: ${plan.header.join(', ')}`)
    const parsed = columnRoleSchema.safeParse(roleOf(name, role))
    if (!parsed.success) stop(`“${role}” is not a role a column can have.\n\n${HELP}`)
    columns[index] = parsed.data
  }
  const rows = z.enum(rowKinds).optional().safeParse(values.rows)
  if (!rows.success) stop(`--rows takes ${rowKinds.join(', ')}, not “${values.rows}”.`)
  return {
    ...plan,
    columns,
    rows: rows.data ?? plan.rows,
    replace: values.replace ?? plan.replace,
    ...(values.event ? { event: values.event } : {}),
    ...(values.thing ? { thing: values.thing } : {}),
  }
}

/** A role as it is written after `--column NAME=`; `event:Paid` makes an event of a date. */
function roleOf(name: string, role: string): unknown {
  if (['text', 'number', 'boolean', 'date', 'list'].includes(role)) return { role: 'property', name, type: role }
  if (role === 'time') return { role, format: 'iso' }
  if (role.startsWith('event:')) return { role: 'happened', event: role.slice(6), format: 'iso' }
  return { role }
}

async function writeRejected(file: string): Promise<void> {
  const { createWriteStream } = await import('node:fs')
  const { Readable } = await import('node:stream')
  const { pipeline } = await import('node:stream/promises')
  const { rejectedCsv } = await import('./ingest/rejected.js')
  const target = path.resolve(process.env.INIT_CWD ?? process.cwd(), file)
  await pipeline(Readable.from(rejectedCsv(imports.get(id).plan, imports.rejects(id))), createWriteStream(target))
}

function count(n: number): string {
  return n.toLocaleString('en-GB')
}

function percent(part: number, whole: number): string {
  return `${Math.floor((100 * part) / Math.max(1, whole))} %`.padStart(5)
}
