import { sharedCodes, sharedFloat64, type Column } from '../log/log.js'
import type { GrowingInfo } from '../log/schema.js'
import { isMoment, type MadeValue } from './evaluate.js'

/** Collects the values of a column while they are made. */
export class ColumnWriter {
  private codes: Uint32Array | null = null
  private numbers: Float64Array | null = null
  private dates: Float64Array | null = null
  private most = 0

  constructor(
    private readonly length: number,
    private readonly info: GrowingInfo,
  ) {}

  put(slot: number, value: MadeValue): void {
    if (value === null) return
    if (typeof value === 'number') {
      if (value === value) (this.numbers ??= sharedFloat64(this.length).fill(NaN))[slot] = value
    } else if (isMoment(value)) {
      ;(this.dates ??= sharedFloat64(this.length).fill(NaN))[slot] = value.ms
      this.info.dated = true
    } else this.putCode(slot, this.info.dictionary.code(value))
  }

  putCode(slot: number, code: number): void {
    ;(this.codes ??= new Uint32Array(this.length))[slot] = code
    if (code > this.most) this.most = code
  }

  column(): Column {
    const codes = this.codes && sharedCodes(this.length, this.most)
    if (this.codes) codes!.set(this.codes)
    return { codes, numbers: this.numbers, dates: this.dates }
  }
}
