import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.simulator'

/** Switches the simulator on or off. */
export async function action({ request }: Route.ActionArgs) {
  const form = await request.formData()
  const rate = Math.min(500, Math.max(1, Number(form.get('rate')) || 10))
  const { simulator } = dowser()
  if (form.get('on') === 'true') simulator.start(rate)
  else simulator.stop()
  return { ...simulator.state(), rate }
}
