import { createContext, useContext } from 'react'
import type { Words } from '../../core/words/words.js'
import type { Catalog } from '../../server/engine/catalog.js'
import type { EngineStatus } from '../../server/engine/engine.worker.js'

export interface Workspace {
  name: string
  zone: string
  thisYear: number
  /** 1 = Monday … 7 = Sunday */
  firstDayOfWeek: number
  /** how sessions are cut, in a sentence */
  sessions: string
  /** what sentences need to know */
  words: Words
  status: EngineStatus
  catalog: Catalog
  studies: { id: string; name: string }[]
  dashboards: { id: string; name: string }[]
  /** where people are sent */
  destinations: { id: string; name: string }[]
  /** the saved segments, by name */
  segments: { id: string; name: string; description: string; frozen: boolean }[]
}

/** What every page knows of the workspace: what there is to ask about, and the calendar's zone. */
export const WorkspaceContext = createContext<Workspace | null>(null)

export function useWorkspace(): Workspace {
  const workspace = useContext(WorkspaceContext)
  if (!workspace) throw new Error('used outside of a workspace')
  return workspace
}
