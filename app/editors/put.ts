/** A setting of a question changed, or left out. */
export function put<Q extends object, K extends keyof Q>(question: Q, key: K, value: Q[K] | undefined): Q {
  const { [key]: _before, ...rest } = question
  return (value === undefined ? rest : { ...rest, [key]: value }) as Q
}

/** A list, or nothing where nothing is in it. */
export const unlessEmpty = <T>(list: T[] | undefined): T[] | undefined => (list && list.length > 0 ? list : undefined)
