import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { startServer } from '../browser/server.js'
import { makeKeys } from './data.js'
import { copyOf, killProcess, killThreads } from './kills.js'
import { killOutreach } from './outreachKills.js'
import { attackDoors } from './requests.js'
import { soak } from './soak.js'

/**
 * `npm run attack`: everything that may befall a server, on the demo's data: killed processes and threads, outreach cut short at any moment, requests that
 * are wrong in a hundred thousand ways, and a full hour's load. About ten minutes; `--soak 15` soaks for as many minutes.
 */
const { values } = parseArgs({
  options: {
    requests: { type: 'string', default: '100000' },
    kills: { type: 'string', default: '40' },
    threads: { type: 'string', default: '50' },
    soak: { type: 'string', default: '2' },
    seed: { type: 'string', default: String(Date.now() % 1e6) },
    only: { type: 'string' },
  },
})
const seed = Number(values.seed)
const wanted = (part: string) => !values.only || values.only.split(',').includes(part)
const folder = mkdtempSync(path.join(tmpdir(), 'dowser-attack-'))
const say = (what: string, figures: unknown) => console.log(`\n${what}\n${JSON.stringify(figures, null, 1)}`)
/** One key stands for all the world's senders here. */
const WITHOUT_LIMITS = { DOWSER_EVENTS_PER_SECOND: '1000000', DOWSER_QUESTIONS_PER_MINUTE: '1000000' }
console.log(`seed ${seed}`)
let wrong = 0
const expect = (holds: boolean, what: string) => {
  if (holds) return
  wrong++
  console.log(`  ✗ ${what}`)
}

try {
  const made = await startServer({ demo: wanted('kills') || wanted('threads') || wanted('soak') ? 14_000 : 100 })
  await made.stop({ keep: true })
  const demo = made.dataDir

  if (wanted('kills')) {
    const report = await killProcess(copyOf(demo, path.join(folder, 'kills')), { kills: Number(values.kills), seed })
    say('The process killed beside senders', report)
    expect(report.lost === 0 && report.twice === 0, 'something acknowledged was lost, or is there twice')
  }
  if (wanted('outreach')) {
    const small = await startServer({ demo: 3000 })
    await small.stop({ keep: true })
    const report = await killOutreach(small.dataDir, { kills: Number(values.kills), seed })
    say('The process killed while segments are kept in step and messages are sent', report)
    expect(report.twice === 0, 'something was taken twice')
    expect(report.sent === report.received, 'what was sent is not what arrived')
    expect(report.sent === report.told, 'what was sent is not what the events tell')
    expect(report.left === 0, 'changes were never sent')
    rmSync(small.dataDir, { recursive: true, force: true })
  }
  if (wanted('threads')) {
    const dir = copyOf(demo, path.join(folder, 'threads'))
    const keys = makeKeys(dir)
    const server = await startServer({ dir }, { DOWSER_ATTACK: '1', DOWSER_LOG: 'silent' })
    const threads = ['engine', 'ingest', 'files', 'scan 1', 'scan 2']
    const report = await killThreads(server, keys, { times: Number(values.threads), threads })
    say('Threads ended under load, ms until ready again', report)
    expect(report.all.p99 < 5000, 'a thread came back later than in 5 s')
    expect(report.lost === 0 && report.twice === 0, 'something acknowledged was lost, or is there twice')
    await server.stop()
  }
  if (wanted('requests')) {
    const small = await startServer({ demo: 2000 })
    await small.stop({ keep: true })
    const dir = small.dataDir
    const keys = makeKeys(dir)
    const server = await startServer({ dir }, { DOWSER_LOG: 'silent', ...WITHOUT_LIMITS })
    const report = await attackDoors({ ...server, keys }, { count: Number(values.requests), seed })
    say('Requests that are each a little wrong', { ...report, wrong: report.wrong.slice(0, 20) })
    expect(report.wrong.length === 0, `${report.wrong.length} answers that must not be`)
    await server.stop()
  }
  if (wanted('soak')) {
    const dir = copyOf(demo, path.join(folder, 'soak'))
    const keys = makeKeys(dir)
    const server = await startServer({ dir }, { DOWSER_LOG: 'silent', ...WITHOUT_LIMITS })
    const report = await soak({ ...server, keys }, { seconds: 60 * Number(values.soak), people: 60_000 })
    say(`Soaked for ${values.soak} minutes, times in ms`, report)
    expect(report.unanswered === 0 && report.questions.p99 < 3000, 'a question was not answered, or not in 3 s')
    expect(report.refused === 0 && report.batches.p99 < 1000, 'a batch was refused, or took more than 1 s')
    expect(report.behindSeconds.p99 < 5000, 'what was accepted was seen more than 5 s later')
    await server.stop()
  }
  rmSync(demo, { recursive: true, force: true })
} finally {
  rmSync(folder, { recursive: true, force: true })
}
console.log(wrong === 0 ? '\nIt stood.' : `\n${wrong} things that must not be.`)
process.exit(wrong === 0 ? 0 : 1)
