import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/ask.demo'

/** Brings the demo into this workspace, or takes it out again. */
export async function action({ request }: Route.ActionArgs) {
  const form = await request.formData()
  const { demo } = dowser()
  if (form.get('do') === 'bring') await demo.bring()
  else await demo.takeOut()
  return demo.state()
}
