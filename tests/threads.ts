import { build } from 'esbuild'
import { rmSync } from 'node:fs'
import path from 'node:path'
import { pathToFileURL } from 'node:url'
import { projectRoot } from '../server/root.js'
import { threadEntries } from '../server/pool/startWorker.js'

/**
 * Makes the threads' code ready once for all tests: hundreds of threads are started, and each would compile the same
 * source anew.
 */
export default async function setup(): Promise<() => void> {
  const folder = path.join(projectRoot, 'node_modules/.cache', `dowser-threads-${process.pid}`)
  await build({
    entryPoints: Object.fromEntries(
      Object.entries(threadEntries).map(([name, entry]) => [name, path.join(projectRoot, entry)]),
    ),
    outdir: folder,
    ...{ bundle: true, splitting: true, platform: 'node', format: 'esm', target: 'node20', packages: 'external' },
    // What looks for the source's place, or asks whether it is source, finds what it would there.
    define: { 'import.meta.url': JSON.stringify(pathToFileURL(path.join(projectRoot, 'server/root.ts')).href) },
    sourcemap: 'inline',
    logLevel: 'warning',
  })
  process.env.DOWSER_READY_THREADS = folder
  return () => rmSync(folder, { recursive: true, force: true })
}
