/** Something was asked for that is not there; the app answers 404. */
export class NotFoundError extends Error {
  constructor(
    readonly what: string,
    readonly id: string,
    said?: string,
  ) {
    super(said ?? `There is no ${what} “${id}”. It may have been deleted.`)
    this.name = 'NotFoundError'
  }
}
