// Lets a thread run TypeScript from its source: Node 20 cannot by itself. Tests have it compiled once for all threads.
// Nothing is awaited at the top: a thread that is ended while a module waits there takes the whole process with it.
import path from 'node:path'
import { pathToFileURL } from 'node:url'
import { workerData } from 'node:worker_threads'

const ready = process.env.DOWSER_READY_THREADS

async function begin() {
  if (!ready) {
    const { register } = await import('tsx/esm/api')
    register()
  }
  await import(pathToFileURL(ready ? path.join(ready, `${workerData.name}.js`) : workerData.entry).href)
}

void begin()
