/**
 * What of a definition decides its numbers. How a result is drawn does not, save for funnels, whose forms are worked
 * out by themselves.
 */
export function countedPart<T extends object>(definition: T): object {
  return 'kind' in definition && definition.kind === 'funnel' ? definition : { ...definition, show: undefined }
}
