import { createContext, useContext } from 'react'

/** The nonce for styles and scripts of this page: from the server, and in the browser from the page itself. */
export const NonceContext = createContext<string | undefined>(undefined)

export function useNonce(): string | undefined {
  return useContext(NonceContext)
}

/** In the browser: the property, because the attribute reads as empty. */
export function pageNonce(): string | undefined {
  return document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce
}
