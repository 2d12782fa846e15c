import type { Request, Response } from 'express'
import type { Fault } from '../../core/questions/faults.js'
import type { Scope } from '../store/access.js'

/** What the parts of the API share. */
export interface ApiTools {
  needs: (scope: Scope) => (req: Request, res: Response, next: () => void) => void
  fail: (res: Response, status: number, message: string) => void
  failWith: (res: Response, faults: readonly Fault[]) => void
  /** undefined = it is not JSON */
  jsonBody: (req: Request) => Promise<unknown>
  abortOf: (req: Request, res: Response) => AbortSignal
}
