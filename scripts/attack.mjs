// npm run attack: kills, wrong requests and load against the built server; see tests/attack/main.ts.
import { ensureBuild, ensurePackages, run } from './setup.mjs'

ensurePackages()
ensureBuild()
run('node', ['--import', 'tsx', 'tests/attack/main.ts', ...process.argv.slice(2)], { what: 'The attack' })
