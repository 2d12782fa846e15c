import type { Question } from '../../core/analyses/registry.js'

/** Short ways to write down what a question must become: only what is named is compared. */
export interface Asked {
  text: string
  /** what the first reading must hold; `rule` = it is people, by a segment's rule */
  is: Shape
}
export type Shape = { [key: string]: unknown } | { rule: unknown }

export const named = (...names: string[]) => ({ event: { names } })
export const anything = { event: { activity: true } }
export const onPerson = (name: string) => ({ of: 'person', name })
export const onEvent = (name: string) => ({ of: 'event', name })
export const is = (property: object, ...values: string[]) => ({ property, op: 'is', values })
export const each = (...by: object[]) => ({ breakdowns: by.map((ref) => ({ by: ref })) })
export const kind = (kind: Question['kind'], more: object): Shape => ({ kind, ...more })
export const trend = (series: object | object[], more: object = {}) =>
  kind('trend', { series: Array.isArray(series) ? series : [series], ...more })
export const funnel = (steps: object[], more: object = {}) => kind('funnel', { steps, ...more })
export const within = (count: number, unit: string) => ({ window: { count, unit } })
export const days = (from: string, to?: string) => ({ range: { from, ...(to === undefined ? {} : { to }) } })
export const ranked = { show: { form: 'ranked' } }

/**
 * Whether what was read holds all that is wanted, lists at their full length.
 * @returns where it does not, and what stands there; null where it does
 */
export function missing(wanted: unknown, found: unknown, at = ''): string | null {
  if (wanted === undefined) return found === undefined ? null : `${at}: ${JSON.stringify(found)} is too much`
  if (typeof wanted !== 'object' || wanted === null)
    return wanted === found ? null : `${at}: ${JSON.stringify(found)}, not ${JSON.stringify(wanted)}`
  if (typeof found !== 'object' || found === null) return `${at}: ${JSON.stringify(found)}`
  if (Array.isArray(wanted) && (!Array.isArray(found) || found.length !== wanted.length))
    return `${at}: ${JSON.stringify(found)}`
  for (const [key, value] of Object.entries(wanted)) {
    const off = missing(value, (found as Record<string, unknown>)[key], at === '' ? key : `${at}.${key}`)
    if (off !== null) return off
  }
  return null
}
