// A lint rule: an object that is looked up by a name must not answer with what it inherits. Names of events, properties
// and kinds come from outside, and one may be called `constructor`.
import { ESLintUtils } from '@typescript-eslint/utils'
import ts from 'typescript'

const READ =
  'A name from outside may be “constructor”: read with own(object, name) of core/names.ts, or keep the names in a Map.'
const WRITE = 'A name from outside may be “__proto__”: write into a Map, or make the object by Object.fromEntries.'
const IN = '“in” also finds what is inherited, such as “constructor”: use Object.hasOwn.'

export const ownNames = ESLintUtils.RuleCreator.withoutDocs({
  meta: { type: 'problem', messages: { read: READ, write: WRITE, in: IN }, schema: [] },
  defaultOptions: [],
  create(context) {
    const services = ESLintUtils.getParserServices(context)
    const checker = services.program.getTypeChecker()

    const isPlainString = (node) =>
      (checker.getBaseConstraintOfType(services.getTypeAtLocation(node)) ?? services.getTypeAtLocation(node)).flags &
      ts.TypeFlags.String

    function isKeyedByNames(node) {
      const type = checker.getNonNullableType(services.getTypeAtLocation(node))
      return type.isUnion() ? type.types.some(hasNames) : hasNames(type)
    }
    const hasNames = (type) => checker.getIndexInfoOfType(type, ts.IndexKind.String) !== undefined

    /** `for (const name in object)` gives the names that the object has itself. */
    function isOfLoop(object, property) {
      if (property.type !== 'Identifier') return false
      const source = context.sourceCode
      for (let at = property.parent; at; at = at.parent)
        if (
          at.type === 'ForInStatement' &&
          at.left.type === 'VariableDeclaration' &&
          at.left.declarations[0].id.name === property.name
        )
          return source.getText(at.right) === source.getText(object).replace(/^\((.*) as .*\)$/s, '$1')
      return false
    }

    return {
      MemberExpression(node) {
        if (!node.computed || node.property.type === 'Literal') return
        if (!isPlainString(node.property) || !isKeyedByNames(node.object)) return
        if (isOfLoop(node.object, node.property)) return
        const { parent } = node
        const written = parent.type === 'AssignmentExpression' && parent.left === node
        context.report({ node, messageId: written ? 'write' : 'read' })
      },
      BinaryExpression(node) {
        if (node.operator !== 'in' || node.left.type === 'Literal' || node.left.type === 'PrivateIdentifier') return
        if (isPlainString(node.left)) context.report({ node, messageId: 'in' })
      },
    }
  },
})
