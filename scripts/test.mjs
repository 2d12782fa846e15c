// npm test: types, lint, unit tests, and tests of the real interface against a server of their own.
import { beginPackages, ensureBuild, ensureChromium, ensureProxies, run, runBeside, say } from './setup.mjs'

const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1] : 'all'
const checks = only !== 'browser'
const browser = only !== 'check'
const node = (what, script, ...args) => run('node', [script, ...args], { what })
const beside = (what, script, ...args) => runBeside('node', [script, ...args], { what })
const TSC = 'node_modules/typescript/bin/tsc'

const compiled = beginPackages()

async function typesOk() {
  await beside('The type check', TSC, '-p', 'tsconfig.json')
  await beside('The type check of core', TSC, '-p', 'core/tsconfig.json')
}

async function styleOk() {
  await beside('The lint', 'node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0')
  await beside(
    'The check of layers',
    'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
    ...['app', 'core', 'server', 'demo', 'bench', 'tests', '--config', '.dependency-cruiser.cjs'],
  )
  await beside(
    'The check of the format',
    'node_modules/prettier/bin/prettier.cjs',
    '--check',
    '.',
    '--log-level',
    'warn',
  )
}

if (checks) {
  say('Types, lint, layers and format …')
  node('The type check', 'node_modules/@react-router/dev/bin.js', 'typegen')
  // Two at a time: on two cores the compiler has one of them, where there is something to compile.
  if (compiled) await Promise.all([compiled, typesOk().then(styleOk)])
  else await Promise.all([typesOk(), styleOk()])
}
await compiled
if (checks) {
  say('Unit tests …')
  node('The unit tests', 'node_modules/vitest/vitest.mjs', 'run')
}
if (browser) {
  ensureChromium()
  ensureProxies()
  ensureBuild()
  say('What pages load …')
  node('The size of the pages', 'scripts/sizes.mjs')
  say('Tests of the interface …')
  node('The tests of the interface', 'node_modules/vitest/vitest.mjs', 'run', '--config', 'vitest.browser.config.ts')
}
say('All is well.')
