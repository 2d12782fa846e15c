import { own } from '../names.js'
import jsep from 'jsep'

/** Where in a formula's text something is wrong, and what; `at` counts characters from 0. */
export interface FormulaFault {
  at: number
  length: number
  message: string
}

/** A formula that was read: the names it uses, each once, and how it is worked out. */
export interface Formula {
  names: string[]
  /** @param values one for each of `names`, NaN = a gap. Gives NaN for a gap: ÷ 0, or a gap in any argument */
  evaluate(values: ArrayLike<number>): number
}

const FUNCTIONS: Record<string, { most: number; apply: (args: number[]) => number }> = {
  min: { most: 20, apply: (args) => Math.min(...args) },
  max: { most: 20, apply: (args) => Math.max(...args) },
  abs: { most: 1, apply: ([x]) => Math.abs(x) },
  // Halves away from zero: Math.round would take −2.5 to −2.
  round: { most: 1, apply: ([x]) => Math.sign(x) * Math.round(Math.abs(x)) },
}

jsep.removeAllBinaryOps()
jsep.removeAllUnaryOps()
for (const sign of ['+', '-', '−']) {
  jsep.addUnaryOp(sign)
  jsep.addBinaryOp(sign, 1)
}
for (const sign of ['*', '/', '×', '÷']) jsep.addBinaryOp(sign, 2)

type Step = (values: ArrayLike<number>) => number

class Refused extends Error {
  constructor(
    message: string,
    readonly token: string,
  ) {
    super(message)
  }
}

/**
 * Reads ordinary arithmetic on names: + − × ÷ (also * and /), parentheses, min, max, abs, round. A name with spaces or
 * other signs stands in quotes: `"wait seconds" / 60`.
 * @param known where given, the names that may be used; another one is a fault
 */
export function parseFormula(text: string, known?: ReadonlySet<string>): Formula | { fault: FormulaFault } {
  if (text.trim() === '') return { fault: { at: 0, length: 0, message: 'The formula is empty.' } }
  const names: string[] = []
  try {
    const step = compile(jsep(text), names, known)
    return { names, evaluate: (values) => finite(step(values)) }
  } catch (error) {
    if (error instanceof Refused) {
      const at = Math.max(0, placeOf(text, error.token))
      return { fault: { at, length: error.token.length || 1, message: error.message } }
    }
    const { index = 0, description = '' } = error as { index?: number; description?: string }
    const at = description.startsWith('Unclosed quote') ? Math.max(text.lastIndexOf('"'), text.lastIndexOf("'")) : index
    return { fault: { at: Math.min(at, text.length), length: 1, message: wordsOf(description, text, index) } }
  }
}

const finite = (x: number) => (Number.isFinite(x) ? x : NaN)

function compile(node: jsep.Expression, names: string[], known: ReadonlySet<string> | undefined): Step {
  switch (node.type) {
    case 'Literal': {
      const { value } = node as jsep.Literal
      if (typeof value === 'number') return () => value
      if (typeof value === 'string') return nameStep(value, names, known)
      throw new Refused(`“${String(value)}” is neither a number nor a name.`, String(value))
    }
    case 'Identifier':
      return nameStep((node as jsep.Identifier).name, names, known)
    case 'MemberExpression':
      return nameStep(dotted(node), names, known)
    case 'UnaryExpression': {
      const { operator, argument } = node as jsep.UnaryExpression
      const inner = compile(argument, names, known)
      return operator === '+' ? inner : (values) => -inner(values)
    }
    case 'BinaryExpression': {
      const { operator, left, right } = node as jsep.BinaryExpression
      return binary(operator, compile(left, names, known), compile(right, names, known))
    }
    case 'CallExpression': {
      const { callee, arguments: args } = node as jsep.CallExpression
      const name = callee.type === 'Identifier' ? (callee as jsep.Identifier).name : ''
      const fn = own(FUNCTIONS, name)
      if (!fn)
        throw new Refused(
          `There is no function “${name}”. The functions are ${Object.keys(FUNCTIONS).join(', ')}.`,
          name,
        )
      if (args.length < 1 || args.length > fn.most)
        throw new Refused(`“${name}” takes ${fn.most === 1 ? 'one value' : `1 to ${fn.most} values`}.`, name)
      const steps = args.map((arg) => compile(arg, names, known))
      return (values) => fn.apply(steps.map((step) => step(values)))
    }
    case 'Compound':
      throw new Refused(
        'Two values stand side by side: put + − × or ÷ between them.',
        textOf((node as jsep.Compound).body[1]),
      )
    default:
      throw new Refused('Only arithmetic can be used here: + − × ÷, parentheses, and names.', '')
  }
}

function binary(operator: string, left: Step, right: Step): Step {
  switch (operator) {
    case '+':
      return (values) => left(values) + right(values)
    case '-':
    case '−':
      return (values) => left(values) - right(values)
    case '*':
    case '×':
      return (values) => left(values) * right(values)
    default:
      return (values) => {
        const under = right(values)
        return under === 0 ? NaN : left(values) / under
      }
  }
}

function nameStep(name: string, names: string[], known: ReadonlySet<string> | undefined): Step {
  if (known && !known.has(name)) throw new Refused(`“${name}” is not known here.`, name)
  let index = names.indexOf(name)
  if (index < 0) index = names.push(name) - 1
  return (values) => values[index]
}

/** `cart.total` is one name. */
function dotted(node: jsep.Expression): string {
  if (node.type === 'Identifier') return (node as jsep.Identifier).name
  if (node.type === 'MemberExpression' && !(node as jsep.MemberExpression).computed) {
    const { object, property } = node as jsep.MemberExpression
    return `${dotted(object)}.${dotted(property)}`
  }
  throw new Refused('Brackets cannot be used in a formula: put a name with other signs in quotes.', '[')
}

function textOf(node: jsep.Expression | undefined): string {
  if (node?.type === 'Identifier') return (node as jsep.Identifier).name
  return node?.type === 'Literal' ? (node as jsep.Literal).raw : ''
}

/** Where a token stands as a word of its own. */
function placeOf(text: string, token: string): number {
  if (token === '') return text.length
  for (let at = text.indexOf(token); at >= 0; at = text.indexOf(token, at + 1)) {
    const around = `${text[at - 1] ?? ' '}${text[at + token.length] ?? ' '}`
    if (!/[\p{L}\p{N}_]/u.test(around)) return at
  }
  return text.indexOf(token)
}

function wordsOf(description: string, text: string, index: number): string {
  const here = text[index]
  if (/^Unclosed quote/.test(description)) return 'A quote is opened and not closed.'
  if (/^Unclosed \(/.test(description) || /Expected \)/.test(description))
    return 'A parenthesis is opened and not closed.'
  if (/^Expected exponent|^Variable names cannot/.test(description)) return 'This number cannot be read.'
  if (here === undefined) return 'The formula ends too early: something is missing after the last sign.'
  if (/Expected expression/.test(description)) return `Something is missing beside “${here}”.`
  return `“${here}” cannot stand here. Use + − × ÷, parentheses, and names.`
}
