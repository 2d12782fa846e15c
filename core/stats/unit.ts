import { sha256 } from '@noble/hashes/sha2.js'
import { utf8ToBytes } from '@noble/hashes/utils.js'

/**
 * A number in [0, 1) that looks like chance and is the same for the same text, wherever it is worked out: the first 13
 * hexadecimal digits of the SHA-256 of its UTF-8 bytes ÷ 2⁵².
 */
export function unit(text: string): number {
  const [a, b, c, d, e, f, g] = sha256(utf8ToBytes(text))
  const high = (a << 16) | (b << 8) | c
  const low = d * 2 ** 20 + e * 2 ** 12 + f * 2 ** 4 + (g >> 4)
  return (high * 2 ** 28 + low) / 2 ** 52
}
