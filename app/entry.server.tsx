import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { createReadableStreamFromReadable } from '@react-router/node'
import { isbot } from 'isbot'
import { PassThrough } from 'node:stream'
import { renderToPipeableStream } from 'react-dom/server'
import { isRouteErrorResponse, ServerRouter, type EntryContext, type RouterContextProvider } from 'react-router'
import { allDeferred } from './page/deferred.js'
import { NonceContext } from './page/nonce.js'
import { nonceContext } from './page/nonceContext.js'

export const streamTimeout = 10_000

export default async function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  routerContext: EntryContext,
  loadContext: RouterContextProvider,
): Promise<Response> {
  await allDeferred()
  const nonce = loadContext.get(nonceContext)
  const cache = createCache({ key: 'css', nonce })
  const wholeAtOnce = isbot(request.headers.get('user-agent') ?? '')
  return new Promise((resolve, reject) => {
    let shellSent = false
    const send = () => {
      shellSent = true
      const body = new PassThrough()
      // Else all that the page was made of stays until the time is up.
      body.once('close', () => clearTimeout(late))
      headers.set('Content-Type', 'text/html; charset=utf-8')
      resolve(new Response(createReadableStreamFromReadable(body), { headers, status }))
      pipe(body)
    }
    const { pipe, abort } = renderToPipeableStream(
      <NonceContext value={nonce}>
        <CacheProvider value={cache}>
          <ServerRouter context={routerContext} url={request.url} nonce={nonce} />
        </CacheProvider>
      </NonceContext>,
      {
        nonce,
        [wholeAtOnce ? 'onAllReady' : 'onShellReady']: send,
        onShellError(error: unknown) {
          clearTimeout(late)
          reject(error as Error)
        },
        onError(error: unknown) {
          status = 500
          // eslint-disable-next-line no-console -- errors before the shell are answered; later ones have no other place
          if (shellSent) console.error(error)
        },
      },
    )
    const late = setTimeout(abort, streamTimeout + 1000)
  })
}

/** Loader errors: 4xx are answers, not incidents; whoever went away needs no line. */
export function handleError(error: unknown, { request }: { request: Request }): void {
  if (request.signal.aborted || (isRouteErrorResponse(error) && error.status < 500)) return
  // eslint-disable-next-line no-console -- the server's log of last resort
  console.error(error)
}
