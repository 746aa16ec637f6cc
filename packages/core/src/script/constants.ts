import type { Expression } from 'acorn';
import type { Scope } from './scope.ts';

/** The value of an expression that is known before anything runs: literals, constants and arithmetic; undefined for others. */
export function constantOf(node: Expression, scope: Scope): number | boolean | undefined {
  switch (node.type) {
    case 'Literal':
      return typeof node.value === 'number' || typeof node.value === 'boolean' ? node.value : undefined;
    case 'Identifier': {
      const found = scope.find(node.name);
      if (found) return found.kind === 'constant' ? found.value : undefined;
      return node.name === 'Infinity' ? Infinity : node.name === 'NaN' ? NaN : undefined;
    }
    case 'UnaryExpression': {
      const value = constantOf(node.argument, scope);
      if (typeof value !== 'number') return undefined;
      return node.operator === '-' ? -value : node.operator === '+' ? value : undefined;
    }
    case 'BinaryExpression': {
      if (node.left.type === 'PrivateIdentifier') return undefined;
      const [a, b] = [constantOf(node.left, scope), constantOf(node.right, scope)];
      if (typeof a !== 'number' || typeof b !== 'number') return undefined;
      if (node.operator === '+') return a + b;
      if (node.operator === '-') return a - b;
      if (node.operator === '*') return a * b;
      return node.operator === '/' ? a / b : undefined;
    }
    default:
      return undefined;
  }
}
