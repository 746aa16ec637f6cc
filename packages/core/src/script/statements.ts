/** What the text alone says of statements. */
import type { ForStatement, Identifier, Node, Statement, WhileStatement } from 'acorn';
import { constantOf } from './constants.ts';
import type { Scope } from './scope.ts';

export type LoopNode = ForStatement | WhileStatement;

/** How often `for (let i = a; i < b; i += c)` goes round, where that stands in the text; undefined for all other loops. */
export function roundsOf(node: LoopNode, scope: Scope): number | undefined {
  if (node.type !== 'ForStatement' || node.init?.type !== 'VariableDeclaration') return undefined;
  const [{ id, init }] = node.init.declarations;
  const { test, update } = node;
  if (!init || test?.type !== 'BinaryExpression' || id.type !== 'Identifier' || !update) return undefined;
  const counts = (one: Node) => one.type === 'Identifier' && (one as Identifier).name === id.name;
  const from = constantOf(init, scope);
  const to = counts(test.left) ? constantOf(test.right, scope) : undefined;
  const by =
    update.type === 'UpdateExpression' && update.operator === '++' && counts(update.argument)
      ? 1
      : update.type === 'AssignmentExpression' && update.operator === '+=' && counts(update.left)
        ? constantOf(update.right, scope)
        : undefined;
  if (typeof from !== 'number' || typeof to !== 'number' || typeof by !== 'number' || !(by > 0)) return undefined;
  if (test.operator !== '<' && test.operator !== '<=') return undefined;
  const count = (to - from) / by;
  return Math.max(0, test.operator === '<' ? Math.ceil(count) : Math.floor(count) + 1);
}

/** True when no way leads past the end of a statement. */
export function endsWithReturn(node: Statement): boolean {
  if (node.type === 'ReturnStatement') return true;
  if (node.type === 'BlockStatement') return node.body.some(endsWithReturn);
  return (
    node.type === 'IfStatement' &&
    node.alternate !== null &&
    node.alternate !== undefined &&
    endsWithReturn(node.consequent) &&
    endsWithReturn(node.alternate)
  );
}

/** How many loops stand in a statement; those of functions that it declares are theirs. */
export function loopsIn(node: Statement): number {
  switch (node.type) {
    case 'BlockStatement':
      return node.body.reduce((sum, one) => sum + loopsIn(one), 0);
    case 'IfStatement':
      return loopsIn(node.consequent) + (node.alternate ? loopsIn(node.alternate) : 0);
    case 'ForStatement':
    case 'WhileStatement':
      return 1 + loopsIn(node.body);
    default:
      return 0;
  }
}
