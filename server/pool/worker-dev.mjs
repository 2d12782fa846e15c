// Lets a thread run TypeScript from its source: Node 20 cannot by itself.
import { register } from 'tsx/esm/api'
import { pathToFileURL } from 'node:url'
import { workerData } from 'node:worker_threads'

register()
await import(pathToFileURL(workerData.entry).href)
