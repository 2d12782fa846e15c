// What both commands need on a fresh machine: packages, a build, a browser. Plain Node, because nothing is installed yet.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..')
process.chdir(root)

export function say(line) {
  console.log(`• ${line}`)
}

/** Runs a command with its output shown; ends the process when it fails. */
export function run(command, args, { env = {}, quiet = false, what } = {}) {
  const result = spawnSync(command, args, {
    stdio: quiet ? ['ignore', 'pipe', 'pipe'] : 'inherit',
    maxBuffer: 64 * 1024 * 1024,
    env: { ...process.env, ...env },
  })
  if (result.status === 0) return
  // What a quiet command said is worth reading only when it failed.
  if (quiet) process.stderr.write(Buffer.concat([result.stdout, result.stderr].filter(Boolean)))
  console.error(`${what ?? [command, ...args].join(' ')} failed${result.error ? `: ${result.error.message}` : ''}.`)
  process.exit(result.status ?? 1)
}

/**
 * Runs a command beside others: what it says is shown in one piece when it has ended, and the process ends when it fails.
 */
export function runBeside(command, args, { env = {}, what } = {}) {
  return new Promise((done) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], env: { ...process.env, ...env } })
    const said = []
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece) => said.push(piece))
    child.on('error', (error) => said.push(Buffer.from(`${error.message}\n`)))
    child.on('close', (code) => {
      if (said.length > 0) process.stderr.write(Buffer.concat(said))
      if (code === 0) return done()
      console.error(`${what ?? [command, ...args].join(' ')} failed.`)
      process.exit(code || 1)
    })
  })
}

function stampOf(...texts) {
  return createHash('sha256').update(texts.join('\n')).digest('hex')
}

function isFresh(file, stamp) {
  return existsSync(file) && readFileSync(file, 'utf8') === stamp
}

const INSTALL = ['ci', '--no-audit', '--no-fund', '--loglevel=error']
const packagesStamp = () => stampOf(readFileSync('package-lock.json', 'utf8'), process.version)
const PACKAGES = 'node_modules/.dowser-stamp'

/** Installs exactly what the lock file says, when it has changed since the last time. */
export function ensurePackages() {
  if (isFresh(PACKAGES, packagesStamp())) return
  say('Installing packages. SQLite is compiled for this machine: about four minutes, with nothing shown meanwhile …')
  run('npm', INSTALL, { env: { NODE_ENV: 'development' } })
  writeFileSync(PACKAGES, packagesStamp())
}

/**
 * As `ensurePackages`, but what is compiled is so beside what needs it not.
 * @returns ends when all is there; null where it is already
 */
export function beginPackages() {
  if (isFresh(PACKAGES, packagesStamp())) return null
  say('Installing packages …')
  const env = { NODE_ENV: 'development' }
  run('npm', [...INSTALL, '--ignore-scripts'], { env })
  say('Compiling SQLite for this machine, about three minutes, beside the checks …')
  return runBeside('npm', ['rebuild', '--loglevel=error'], { env, what: 'The compilation of SQLite' }).then(() =>
    writeFileSync(PACKAGES, packagesStamp()),
  )
}

function newest(folder) {
  let latest = 0
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const name = path.join(folder, entry.name)
    latest = Math.max(latest, entry.isDirectory() ? newest(name) : statSync(name).mtimeMs)
  }
  return latest
}

/** Builds pages and server, when their source is newer than the last build. */
export function ensureBuild() {
  const sources = ['app', 'core', 'server', 'demo', 'script', 'public'].map(newest)
  const files = ['vite.config.ts', 'react-router.config.ts', 'package-lock.json'].map((file) => statSync(file).mtimeMs)
  const stamp = String(Math.max(...sources, ...files))
  const file = 'build/.dowser-stamp'
  if (isFresh(file, stamp)) return
  say('Building the application: about half a minute …')
  run('node', ['scripts/build.mjs'], { what: 'The build' })
  mkdirSync('build', { recursive: true })
  writeFileSync(file, stamp)
}

/** Chromium and its driver, for the tests of the real interface. */
export function ensureChromium() {
  if (existsSync('/usr/bin/chromium') && existsSync('/usr/bin/chromedriver')) return
  say('Installing Chromium and ChromeDriver from Debian’s packages …')
  install('chromium', 'chromium-driver')
}

function install(...packages) {
  const env = { DEBIAN_FRONTEND: 'noninteractive' }
  const sudo = process.getuid?.() === 0 ? [] : ['sudo']
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', ...args]
    run(command, rest, { env })
  }
  apt('update', '-qq')
  apt('install', '-y', '-qq', '--no-install-recommends', ...packages)
}

/** Servers that speak TLS before ours, for the test of the examples in the docs. */
export function ensureProxies() {
  const places = ['/usr/sbin/nginx', '/usr/bin/caddy', '/usr/bin/openssl']
  if (places.every((place) => existsSync(place))) return
  say('Installing nginx and Caddy from Debian’s packages …')
  install('nginx-light', 'caddy', 'openssl')
}

/** Asks an address until it answers well. @returns whether it did in time */
export async function waitFor(url, seconds) {
  const end = Date.now() + seconds * 1000
  while (Date.now() < end) {
    try {
      if ((await fetch(url)).ok) return true
    } catch {
      // Not listening yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 200))
  }
  return false
}
