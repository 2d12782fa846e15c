import { DamagedError, isDamage } from './store/damage.js'
import { failureOf } from './pool/serve.js'

/** What is answered to something that was thrown. */
export interface ErrorAnswer {
  status: number
  /** in words, for whoever asked */
  message: string
  retryAfterS?: number
}

const UNFORESEEN = 'Something went wrong on the server. What was saved before is safe.'
const DAMAGED =
  'The file of this workspace is damaged, so this cannot be answered. Stop the server, keep a copy of the file, and run “npm run check”: it tells what is whole.'

/**
 * The one place that turns what is thrown into an answer. What comes from outside has a 4xx with words, whatever it was
 * that could not digest it; 503 and 507 say what to wait for; 500 is a fault of ours, and its words give nothing away.
 */
export function answerTo(error: unknown): ErrorAnswer {
  const { name = '', message = '', statusCode } = (error ?? {}) as Partial<Error & { statusCode: number }>
  // Zod's own, wherever the form of what was sent was checked.
  if (/ZodError$/.test(name)) return { status: 400, message: `What was sent is not understood: ${zodWords(error)}` }
  if (error instanceof RangeError && /call stack/i.test(message))
    return { status: 400, message: 'What was sent is nested too deep.' }
  if (error instanceof URIError) return { status: 400, message: 'The address is not written right.' }
  if (isBodyError(error, message))
    return { status: 400, message: 'The body could not be read as the form that its content type says.' }
  if (isDamage(error) && !(error instanceof DamagedError)) return { status: 503, message: DAMAGED }
  // Express' own faults of a request say so themselves.
  if (typeof statusCode === 'number' && statusCode >= 400 && statusCode < 500) return { status: statusCode, message }
  const failure = failureOf(error)
  return failure.status === 500 ? { status: 500, message: UNFORESEEN } : failure
}

/** The platform tells of a form that cannot be read by a plain TypeError. */
function isBodyError(error: unknown, message: string): boolean {
  return error instanceof TypeError && /form-?data|content-type|multipart|body/i.test(message)
}

function zodWords(error: unknown): string {
  const { issues = [] } = error as { issues?: { path: PropertyKey[]; message: string }[] }
  const told = issues
    .slice(0, 3)
    .map(({ path, message }) => (path.length > 0 ? `${path.map(String).join('.')}: ` : '') + message)
  return `${told.join('; ')}.`
}
