import type { Feature } from './question.js'

export function featureId({ event, property, value }: Feature): string {
  return JSON.stringify([event, property, value])
}
