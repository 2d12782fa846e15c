// What both commands need on a fresh machine: packages, a build, a browser. Plain Node, because nothing is installed yet.
import { spawnSync } from 'node:child_process'
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

function stampOf(...texts) {
  return createHash('sha256').update(texts.join('\n')).digest('hex')
}

function isFresh(file, stamp) {
  return existsSync(file) && readFileSync(file, 'utf8') === stamp
}

/** Installs exactly what the lock file says, when it has changed since the last time. */
export function ensurePackages() {
  const stamp = stampOf(readFileSync('package-lock.json', 'utf8'), process.version)
  const file = 'node_modules/.dowser-stamp'
  if (isFresh(file, stamp)) return
  say('Installing packages. SQLite is compiled for this machine: about four minutes, with nothing shown meanwhile …')
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { env: { NODE_ENV: 'development' } })
  writeFileSync(file, stamp)
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
