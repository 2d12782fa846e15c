import { data } from 'react-router'

/** Whatever no other route takes. */
export function loader(): never {
  // eslint-disable-next-line @typescript-eslint/only-throw-error -- React Router's way to answer with a status
  throw data('Nothing stands at this address. Check it, or start from Home.', { status: 404 })
}

export default function Missing() {
  return null
}
