// npm run sizes: what the pages weigh, gzipped, and whether that is within its limits; part of npm test.
// `-- --record` writes down what each script weighs now, so that a later run can say what grew.
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { gzipSync } from 'node:zlib'
import { root as projectRoot, say } from './setup.mjs'

const client = path.join(projectRoot, 'build/client')
const recordFile = path.join(projectRoot, 'scripts/sizes.json')
/** KB: what every page loads, and what a study of a kind needs before its chart is drawn. */
const MOST = { shared: 220, study: 300 }

const assets = readdirSync(path.join(client, 'assets'))
const manifestText = readFileSync(
  path.join(
    client,
    'assets',
    assets.find((name) => name.startsWith('manifest-')),
  ),
  'utf8',
)
const manifest = JSON.parse(manifestText.slice(manifestText.indexOf('{'), manifestText.lastIndexOf('}') + 1))

const weights = new Map()
function weightOf(file) {
  if (!weights.has(file)) weights.set(file, gzipSync(readFileSync(path.join(client, file))).length / 1024)
  return weights.get(file)
}

/** A script with all that it imports at once; what it fetches later is not among them. */
function loaded(files, found = new Set()) {
  for (const file of files) {
    if (found.has(file)) continue
    found.add(file)
    const text = readFileSync(path.join(client, file), 'utf8')
    loaded(
      [...text.matchAll(/(?:import|from)\s*"\.\/([^"]+\.js)"/g)].map(([, name]) => `/assets/${name}`),
      found,
    )
  }
  return found
}
const routes = (...ids) => ids.flatMap((id) => [manifest.routes[id].module, ...manifest.routes[id].imports])
const shared = [manifest.entry.module, ...manifest.entry.imports, ...routes('root')]

/** Names without what tells versions of a file apart. */
const plain = (file) => path.basename(file).replace(/-[\w-]{8}\.js$/, '')
const pages = { shared: loaded(shared) }
for (const name of assets.filter((each) => /^[A-Z]\w+View-[\w-]{8}\.js$/.test(each)))
  if (existsSync(path.join(projectRoot, 'app/analyses', plain(name).replace('View', '').toLowerCase())))
    pages[`study: ${plain(name).replace('View', '').toLowerCase()}`] = loaded([
      ...shared,
      ...routes('new-study'),
      `/assets/${name}`,
    ])

const record = existsSync(recordFile) ? JSON.parse(readFileSync(recordFile, 'utf8')) : {}
const now = {}
let over = false
for (const [page, files] of Object.entries(pages)) {
  const parts = new Map()
  for (const file of files) parts.set(plain(file), (parts.get(plain(file)) ?? 0) + weightOf(file))
  const total = [...parts.values()].reduce((sum, kb) => sum + kb, 0)
  const most = page === 'shared' ? MOST.shared : MOST.study
  now[page] = Object.fromEntries([...parts].map(([name, kb]) => [name, Math.round(kb * 10) / 10]).sort())
  console.log(`${total > most ? '✗' : ' '} ${page}: ${Math.round(total)} KB of at most ${most}`)
  if (total <= most) continue
  over = true
  const grown = [...parts]
    .map(([name, kb]) => ({ name, kb, by: kb - (record[page]?.[name] ?? 0) }))
    .filter(({ by }) => by > 0.2)
    .sort((a, b) => b.by - a.by)
  for (const { name, kb, by } of grown.slice(0, 12))
    console.log(
      `    ${name}: ${kb.toFixed(1)} KB, ${record[page]?.[name] === undefined ? 'new here' : `${by.toFixed(1)} more than recorded`}`,
    )
}
if (process.argv.includes('--record')) writeFileSync(recordFile, `${JSON.stringify(now, null, 2)}\n`)
else if (over) {
  say('A page loads more than it may. What grew is told above: load it later, or leave it out.')
  process.exitCode = 1
}
