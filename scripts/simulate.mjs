// npm run simulate: sends made-up events to a running server in real time.
import { ensureBuild, ensurePackages, run } from './setup.mjs'

ensurePackages()
ensureBuild()
run('node', ['build/server/simulate.js', ...process.argv.slice(2)], { what: 'The simulator' })
