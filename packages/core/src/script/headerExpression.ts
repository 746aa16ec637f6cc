import type { Expression } from 'acorn';
import { CALLS, type HeaderExpression, type Value } from './headerValue.ts';

/** What can be read in an expression: behind a name, and what stands for itself. */
export interface ExpressionNames {
  /** Each under the beginning of what its values are called. */
  readonly behind: ReadonlyMap<string, { readonly names: readonly string[]; readonly called: string }>;
  readonly alone?: readonly string[];
}

/** What an expression is as plain data. Undefined for what is not allowed in it. */
export function readExpression(node: Expression, names: ExpressionNames): HeaderExpression | undefined {
  const call = (name: string, ...parts: readonly Expression[]): HeaderExpression | undefined => {
    const args = parts.map((part) => readExpression(part, names));
    if (!CALLS.has(name) || args.some((arg) => arg === undefined)) return undefined;
    return { is: 'call', name, args: args as HeaderExpression[] };
  };
  switch (node.type) {
    case 'Literal':
      return ['number', 'boolean', 'string'].includes(typeof node.value)
        ? { is: 'value', value: node.value as Value }
        : undefined;
    case 'Identifier':
      if (names.alone?.includes(node.name)) return { is: 'setting', name: node.name };
      return node.name === 'Infinity' ? { is: 'value', value: Infinity } : undefined;
    case 'ParenthesizedExpression':
      return readExpression(node.expression, names);
    case 'UnaryExpression':
      return call(node.operator === '-' ? 'negative' : node.operator, node.argument);
    case 'BinaryExpression':
      return node.left.type === 'PrivateIdentifier' ? undefined : call(node.operator, node.left, node.right);
    case 'LogicalExpression':
      return call(node.operator, node.left, node.right);
    case 'ConditionalExpression':
      return call('?', node.test, node.consequent, node.alternate);
    case 'MemberExpression': {
      const { object, property, computed } = node;
      if (computed || object.type !== 'Identifier' || property.type !== 'Identifier') return undefined;
      if (object.name === 'Math' && property.name === 'PI') return { is: 'value', value: Math.PI };
      const known = names.behind.get(object.name);
      return known?.names.includes(property.name) ? { is: 'setting', name: known.called + property.name } : undefined;
    }
    case 'CallExpression': {
      const { callee } = node;
      if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier')
        return undefined;
      if (callee.object.type !== 'Identifier' || callee.object.name !== 'Math') return undefined;
      return node.arguments.some(({ type }) => type === 'SpreadElement')
        ? undefined
        : call(`Math.${callee.property.name}`, ...(node.arguments as Expression[]));
    }
    default:
      return undefined;
  }
}
