// npm run dev: the application from its source, with changes shown as they are made.
import { run } from './setup.mjs'

run('node', ['--conditions=development', 'server.js'])
