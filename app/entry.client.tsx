import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { startTransition } from 'react'
import { hydrateRoot } from 'react-dom/client'
import { HydratedRouter } from 'react-router/dom'
import { NonceContext, pageNonce } from './page/nonce.js'

const nonce = pageNonce()
const cache = createCache({ key: 'css', ...(nonce ? { nonce } : {}) })

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
