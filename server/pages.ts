import { data, isRouteErrorResponse, type ServerBuild } from 'react-router'
import { answerTo } from './answers.js'
import type { Logger } from './logger.js'

type Handler = (args: never) => unknown

/**
 * The pages with what their loaders and actions throw turned into answers: a 4xx for what came from outside, never a 500
 * but for a fault of ours. Actions begin when nobody else is writing.
 */
export function answeringPages(build: ServerBuild, logger: Logger, toWrite: () => Promise<void>): ServerBuild {
  const routes = Object.entries(build.routes).map(([id, route]) => {
    if (!route) return [id, route] as const
    const { loader, action, ...rest } = route.module
    const answering = {
      ...rest,
      ...(loader ? { loader: guarded(loader as Handler, logger) } : {}),
      ...(action ? { action: guarded(action as Handler, logger, toWrite) } : {}),
    }
    return [id, { ...route, module: answering as typeof route.module }] as const
  })
  return { ...build, routes: Object.fromEntries(routes) }
}

function guarded(handler: Handler, logger: Logger, before: () => Promise<void> = () => Promise.resolve()): Handler {
  return async (args: never) => {
    try {
      await before()
      return await handler(args)
    } catch (error) {
      // An answer already, thrown on purpose.
      if (error instanceof Response || isRouteErrorResponse(error) || isThrownData(error)) throw error
      const { status, message, retryAfterS } = answerTo(error)
      if (status === 500) logger.error({ error: (error as Error).message, stack: (error as Error).stack })
      // eslint-disable-next-line @typescript-eslint/only-throw-error -- React Router's way to answer with a status
      throw data(message, { status, ...(retryAfterS ? { headers: { 'Retry-After': String(retryAfterS) } } : {}) })
    }
  }
}

/** What `data()` makes: it has no class that could be asked for. */
function isThrownData(error: unknown): boolean {
  return (error as { type?: unknown } | null)?.type === 'DataWithResponseInit'
}
