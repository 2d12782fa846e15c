// npm run import -- FILE: the importer of the built server.
import { ensureBuild, ensurePackages, run } from './setup.mjs'

ensurePackages()
ensureBuild()
run('node', ['build/server/import.js', ...process.argv.slice(2)], {
  env: { NODE_ENV: 'production' },
  what: 'The import',
})
