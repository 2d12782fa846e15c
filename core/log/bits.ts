/** Sets of small whole numbers as bits, 32 to an entry. */

export function bitWords(size: number): number {
  return (size + 31) >>> 5
}

export function hasBit(bits: Uint32Array | Int32Array, at: number): boolean {
  return (bits[at >>> 5] & (1 << (at & 31))) !== 0
}

export function setBit(bits: Uint32Array | Int32Array, at: number): void {
  bits[at >>> 5] |= 1 << (at & 31)
}

/** A set that threads share. @param size one more than the largest number it can hold */
export function sharedBits(size: number): Uint32Array {
  return new Uint32Array(new SharedArrayBuffer(bitWords(size) * 4))
}
