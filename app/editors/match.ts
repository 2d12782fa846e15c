/**
 * How well an option fits what was typed: every word must stand somewhere in its name, meaning or samples; the name
 * counts most, and most where it begins so.
 * @param texts the name first
 * @returns 0 = does not fit, up to 1 = the very name
 */
export function matchScore(typed: string, texts: readonly string[]): number {
  const wanted = typed.trim().toLowerCase()
  if (wanted === '') return 1
  const [name = '', ...others] = texts.map((text) => text.toLowerCase())
  if (name === wanted) return 1
  if (name.startsWith(wanted)) return 0.9
  if (` ${name}`.includes(` ${wanted}`)) return 0.8
  if (name.includes(wanted)) return 0.7
  const all = [name, ...others].join(' ')
  const words = wanted.split(/\s+/)
  if (!words.every((word) => all.includes(word))) return 0
  return words.every((word) => name.includes(word)) ? 0.6 : 0.3
}
