// npm test: types, lint, unit tests, and tests of the real interface against a server of their own.
import { ensureBuild, ensureChromium, ensurePackages, ensureProxies, run, say } from './setup.mjs'

const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1] : 'all'
const node = (what, script, ...args) => run('node', [script, ...args], { what })

ensurePackages()
if (only === 'all' || only === 'check') {
  say('Types …')
  node('The type check', 'node_modules/@react-router/dev/bin.js', 'typegen')
  node('The type check', 'node_modules/typescript/bin/tsc', '-p', 'tsconfig.json')
  node('The type check of core', 'node_modules/typescript/bin/tsc', '-p', 'core/tsconfig.json')
  say('Lint, layers and format …')
  node('The lint', 'node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0')
  node(
    'The check of layers',
    'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
    'app',
    'core',
    'server',
    'demo',
    'bench',
    'tests',
    '--config',
    '.dependency-cruiser.cjs',
  )
  node('The check of the format', 'node_modules/prettier/bin/prettier.cjs', '--check', '.', '--log-level', 'warn')
}
if (only === 'all' || only === 'check') {
  say('Unit tests …')
  node('The unit tests', 'node_modules/vitest/vitest.mjs', 'run')
}
if (only === 'all' || only === 'browser') {
  ensureChromium()
  ensureProxies()
  ensureBuild()
  say('What pages load …')
  node('The size of the pages', 'scripts/sizes.mjs')
  say('Tests of the interface …')
  node('The tests of the interface', 'node_modules/vitest/vitest.mjs', 'run', '--config', 'vitest.browser.config.ts')
}
say('All is well.')
