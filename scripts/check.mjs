// npm run check: whether the data is whole; see server/check.ts.
import { ensureBuild, ensurePackages, run } from './setup.mjs'

ensurePackages()
ensureBuild()
run('node', ['build/server/check.js', ...process.argv.slice(2)], { what: 'The check' })
