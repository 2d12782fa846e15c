import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { startTransition } from 'react'
import { hydrateRoot } from 'react-dom/client'
import { HydratedRouter } from 'react-router/dom'
import type { AnalysisKind } from '../core/analyses/registry.js'
import { keepAddressesShort } from './address/shortAddress.js'
import { NonceContext, pageNonce } from './page/nonce.js'

keepAddressesShort()
const nonce = pageNonce()
const cache = createCache({ key: 'css', ...(nonce ? { nonce } : {}) })

/** The pictures of the page, so that all of it answers from the moment on when anything does. */
async function picturesReady(): Promise<void> {
  const kinds = [...document.querySelectorAll<HTMLElement>('[data-kind]')].map(({ dataset }) => dataset.kind!)
  if (kinds.length === 0) return
  const { viewOf } = await import('./analyses/registry.js')
  const views = [...new Set(kinds)].map((kind) => viewOf(kind as AnalysisKind))
  // Editors come along, so that whoever presses a word and types at once is understood; nothing waits for them.
  for (const { Editor } of views) Editor.ready().catch(() => {})
  await Promise.all(views.map((view) => view.ready()))
}

// Where a picture cannot be fetched, the rest of the page comes to life without it.
void picturesReady().then(begin, begin)

function begin(): void {
  startTransition(() => {
    hydrateRoot(
      document,
      <NonceContext value={nonce}>
        <CacheProvider value={cache}>
          <HydratedRouter />
        </CacheProvider>
      </NonceContext>,
    )
  })
}
