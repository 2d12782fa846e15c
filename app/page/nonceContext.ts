import { createContext } from 'react-router'

/** The nonce of this response's content security policy, from the server to the pages. */
export const nonceContext = createContext<string>('')
