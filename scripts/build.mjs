// npm run build: pages and server, then the script for websites.
import { build } from 'esbuild'
import { run } from './setup.mjs'

run('node', ['node_modules/@react-router/dev/bin.js', 'build'], {
  env: { NODE_ENV: 'production' },
  quiet: !process.argv.includes('--loud'),
  what: 'The build',
})
await build({
  entryPoints: ['script/browser.ts'],
  outfile: 'build/client/dowser.js',
  bundle: true,
  minify: true,
  format: 'iife',
  target: 'es2020',
  logLevel: 'warning',
})
