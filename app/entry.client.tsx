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
  const shown = [...document.querySelectorAll<HTMLElement>('[data-kind]')]
  if (shown.length === 0) return
  const { viewOf } = await import('./analyses/registry.js')
  const viewIn = ({ dataset }: HTMLElement) => viewOf(dataset.kind as AnalysisKind)
  // Where a study is edited its editors come along, so that whoever presses a word and types at once is understood;
  // nothing waits for them.
  for (const each of shown)
    if ('edited' in each.dataset)
      viewIn(each)
        .Editor.ready()
        .catch(() => {})
  await Promise.all([...new Set(shown.map(viewIn))].map((view) => view.ready()))
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
