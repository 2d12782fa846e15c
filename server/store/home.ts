import { mkdirSync } from 'node:fs'
import path from 'node:path'
import { openDatabase } from './database.js'

/**
 * The file of the workspace, made if there is none yet. So far an installation has one workspace; the list of them
 * already stands in a file of its own, so that a workspace can be copied, backed up and deleted whole.
 */
export function workspaceFile(dataDir: string, nowMs: number): string {
  try {
    mkdirSync(path.join(dataDir, 'workspaces'), { recursive: true })
  } catch (error) {
    throw new Error(
      `The data cannot be kept in ${dataDir}: ${(error as Error).message}. Choose a folder that can be written to: DOWSER_DATA=…`,
      { cause: error },
    )
  }
  const home = openDatabase(path.join(dataDir, 'dowser.db'), { kind: 'home' })
  try {
    const first = home.prepare<[], { file: string }>('SELECT file FROM workspaces ORDER BY created_ms LIMIT 1').get()
    const file = first?.file ?? 'workspaces/main.db'
    if (!first) home.prepare('INSERT INTO workspaces (id, file, created_ms) VALUES (?, ?, ?)').run('main', file, nowMs)
    return path.join(dataDir, file)
  } finally {
    home.close()
  }
}
