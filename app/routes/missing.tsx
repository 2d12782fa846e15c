import { missing } from '../door/dowser.server.js'

/** Whatever no other route takes. */
export function loader(): never {
  missing('Nothing stands at this address. Check it, or start from Home.')
}

export default function Missing() {
  return null
}
