/** Who the ids belong to. While a new state is being read, whoever asks is told of the state before. */
export class Owners {
  private ofId: Uint32Array<ArrayBuffer>
  /** what stood here before the state that is being read */
  private readonly idsBefore = new Map<number, number>()
  private readonly mergesBefore = new Map<number, number | undefined>()

  /**
   * @param ofId by an id's row number: the number of its person
   * @param mergedInto by person: who they were merged into
   */
  constructor(
    ofId: Uint32Array<ArrayBuffer> = new Uint32Array(1024),
    private readonly mergedInto = new Map<number, number>(),
  ) {
    this.ofId = ofId
  }

  /** All it knows, to go on from. */
  get all(): { owner: Uint32Array<ArrayBuffer>; mergedInto: Map<number, number> } {
    return { owner: this.ofId, mergedInto: this.mergedInto }
  }

  /** @param first whether there is no state before that anybody could ask about */
  put(id: number, person: number, first: boolean): void {
    if (id >= this.ofId.length) {
      const wider = new Uint32Array(Math.max(id + 1, this.ofId.length * 2))
      wider.set(this.ofId)
      this.ofId = wider
    }
    if (!first && !this.idsBefore.has(id)) this.idsBefore.set(id, this.ofId[id])
    this.ofId[id] = person
  }

  /** @returns whether that is news */
  merge(person: number, into: number): boolean {
    const before = this.mergedInto.get(person)
    if (before === into) return false
    if (!this.mergesBefore.has(person)) this.mergesBefore.set(person, before)
    this.mergedInto.set(person, into)
    return true
  }

  knows(id: number): boolean {
    return id < this.ofId.length
  }

  /** The person of an id in the state that is being read. */
  of(id: number): number {
    return this.root(this.ofId[id])
  }

  /** Who a person is in the state that is being read. */
  root(person: number): number {
    let at = person
    for (let next = this.mergedInto.get(at); next !== undefined; next = this.mergedInto.get(at)) at = next
    return at
  }

  /** The person of an id in the state that was read last; 0 = there was no such id. */
  known(id: number): number {
    if (id >= this.ofId.length) return 0
    let at = this.idsBefore.get(id) ?? this.ofId[id]
    for (let next = this.knownMerge(at); next !== undefined; next = this.knownMerge(at)) at = next
    return at
  }

  private knownMerge(person: number): number | undefined {
    return this.mergesBefore.has(person) ? this.mergesBefore.get(person) : this.mergedInto.get(person)
  }

  /** The state has been read: from now on it is what is told. */
  settle(): void {
    this.idsBefore.clear()
    this.mergesBefore.clear()
  }
}
