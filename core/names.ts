/**
 * What an object has under a name itself; undefined without an object. Names of events, properties, segments and kinds
 * come from outside, and one may be `constructor` or `toString`: what every object inherits is nobody's value. Where
 * names are many or are written as they come, a `Map` is the better keeper.
 */
export function own<T>(of: { readonly [name: string]: T } | undefined, name: string): T | undefined {
  // eslint-disable-next-line dowser/own-names -- the one place that asks first
  return of && Object.hasOwn(of, name) ? of[name] : undefined
}
