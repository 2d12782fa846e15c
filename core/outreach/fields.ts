/** A piece of a text: written as it stands, or a property of whom it goes to. */
export type TextPart =
  | { kind: 'text'; text: string }
  /** `otherwise` stands where somebody has no value; null = nothing was given for them */
  | { kind: 'field'; property: string; otherwise: string | null; from: number; to: number }

/** What is wrong in a text, with its place. */
export interface TextFault {
  from: number
  to: number
  message: string
}

const QUOTES = /^["“”„](?<said>.*)["“”]$/su

/**
 * Reads a text with fields: `Good morning, {first name, or "there"}!`. A brace that is meant is written twice.
 * @returns its parts, and what is wrong with it
 */
export function readText(text: string): { parts: TextPart[]; faults: TextFault[] } {
  const parts: TextPart[] = []
  const faults: TextFault[] = []
  let plain = ''
  const flush = () => {
    if (plain !== '') parts.push({ kind: 'text', text: plain })
    plain = ''
  }
  for (let at = 0; at < text.length; at++) {
    const char = text[at]
    if ((char === '{' || char === '}') && text[at + 1] === char) {
      plain += char
      at++
    } else if (char === '}') {
      faults.push({
        from: at,
        to: at + 1,
        message: 'This brace closes nothing. A brace that is meant is written twice.',
      })
      plain += char
    } else if (char === '{') {
      const end = text.indexOf('}', at)
      if (end < 0) {
        faults.push({ from: at, to: text.length, message: 'The field is not closed with a brace.' })
        plain += text.slice(at)
        break
      }
      const field = fieldOf(text.slice(at + 1, end), at, end + 1)
      if ('message' in field) faults.push(field)
      else {
        flush()
        parts.push(field)
      }
      at = end
    } else plain += char
  }
  flush()
  return { parts, faults }
}

function fieldOf(inside: string, from: number, to: number): Extract<TextPart, { kind: 'field' }> | TextFault {
  const comma = inside.indexOf(',')
  const property = (comma < 0 ? inside : inside.slice(0, comma)).trim()
  if (property === '') return { from, to, message: 'The field names no property.' }
  if (comma < 0) return { kind: 'field', property, otherwise: null, from, to }
  const rest = /^or\s+(?<said>.*)$/su.exec(inside.slice(comma + 1).trim())?.groups?.said?.trim() ?? null
  const said = rest === null ? undefined : QUOTES.exec(rest)?.groups?.said
  if (said === undefined)
    return { from, to, message: 'What stands for those without a value is written as {name, or "there"}.' }
  return { kind: 'field', property, otherwise: said, from, to }
}

/** What somebody is sent, and which fields they have nothing for: with any of these it must not leave. */
export interface Filled {
  text: string
  missing: string[]
}

/**
 * @param valueOf what a property of the person is, as text; null = none
 * @param gap stands where there is nothing
 */
export function fillText(parts: readonly TextPart[], valueOf: (property: string) => string | null, gap = ''): Filled {
  const missing: string[] = []
  const text = parts
    .map((part) => {
      if (part.kind === 'text') return part.text
      const value = valueOf(part.property)
      if (value !== null && value.trim() !== '') return value
      if (part.otherwise === null) missing.push(part.property)
      return part.otherwise ?? gap
    })
    .join('')
  return { text, missing }
}

/** The properties that texts name, each once. */
export function fieldsIn(texts: readonly string[]): string[] {
  const names = texts.flatMap((text) =>
    readText(text).parts.flatMap((part) => (part.kind === 'field' ? [part.property] : [])),
  )
  return [...new Set(names)]
}
