import type { Mended } from './mend.server.js'

/**
 * Has a change of the catalog carried out.
 * @throws where the server does not answer
 */
export async function sendMend(change: unknown): Promise<Mended> {
  const response = await fetch('/ask/mend', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(change),
  })
  return (await response.json()) as Mended
}
