import { openSync, readSync, closeSync, statSync } from 'node:fs'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { columnRoleSchema, planProblems, type ImportPlan } from './ingest/importPlan.js'
import { doorway } from './ingest/doorway.js'
import { runImport } from './ingest/importer.js'
import { previewFile } from './ingest/preview.js'
import { eventWriter } from './ingest/writer.js'
import { readSettings } from './settings.js'
import { openDatabase } from './store/database.js'
import { workspaceFile } from './store/home.js'
import { importStore } from './store/imports.js'
import { settingsStore } from './store/settings.js'

const HELP = `npm run import -- FILE [options]

Brings events from a JSON Lines or CSV file (also gzip) into the workspace. CSV columns are guessed from their names
and values; what is guessed wrong can be said:
  --event NAME           the event's name, where no column gives it
  --column "NAME=ROLE"   ROLE is id, person, anonymous, event, time, source, ignore, or text, number, boolean, date, list
  --resume ID            go on with an import that was stopped
  --rejected FILE        write the lines that were not taken, with their reasons, to a file

An import that is interrupted goes on where it was with --resume; nothing is counted twice.`

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    event: { type: 'string' },
    column: { type: 'string', multiple: true },
    resume: { type: 'string' },
    rejected: { type: 'string' },
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
const id = values.resume ?? start(positionals[0])
console.log(`Import ${id}${values.resume ? ' goes on' : ''}`)

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

function start(name: string): string {
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
  const preview = previewFile(head, settingsStore(db).get().zone)
  if ('problem' in preview) stop(preview.problem)
  const plan = corrected(preview.plan)
  const problems = planProblems(plan)
  if (problems.length > 0)
    stop(`${problems.join('\n')}\n\nThe columns are: ${plan.format === 'csv' ? plan.header.join(', ') : ''}`)
  return imports.create({ file: path.basename(file), path: file, bytes, plan }, Date.now())
}

function corrected(plan: ImportPlan): ImportPlan {
  if (plan.format === 'jsonl') return plan
  const columns = [...plan.columns]
  for (const setting of values.column ?? []) {
    const [, name, role] = /^(.*)=(\w+)$/.exec(setting) ?? stop(`--column takes "NAME=ROLE", not “${setting}”.`)
    const index = plan.header.indexOf(name)
    if (index < 0) stop(`There is no column “${name}”. The columns are: ${plan.header.join(', ')}`)
    const property = ['text', 'number', 'boolean', 'date', 'list'].includes(role)
    const parsed = columnRoleSchema.safeParse(
      property ? { role: 'property', name, type: role } : role === 'time' ? { role, format: 'iso' } : { role },
    )
    if (!parsed.success) stop(`“${role}” is not a role a column can have.\n\n${HELP}`)
    columns[index] = parsed.data
  }
  return { ...plan, columns, ...(values.event ? { event: values.event } : {}) }
}

async function writeRejected(file: string): Promise<void> {
  const { createWriteStream } = await import('node:fs')
  const { Readable } = await import('node:stream')
  const { pipeline } = await import('node:stream/promises')
  const { rejectedCsv } = await import('./ingest/rejected.js')
  const target = path.resolve(process.env.INIT_CWD ?? process.cwd(), file)
  await pipeline(Readable.from(rejectedCsv(imports.rejects(id))), createWriteStream(target))
}

function count(n: number): string {
  return n.toLocaleString('en-GB')
}

function percent(part: number, whole: number): string {
  return `${Math.floor((100 * part) / Math.max(1, whole))} %`.padStart(5)
}
