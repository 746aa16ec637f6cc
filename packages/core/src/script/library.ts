import { Scope, type Binding, type FunctionNode, type Library } from './scope.ts';
import { constantOf } from './constants.ts';
import { MATH_SOURCE } from './mathSource.ts';
import { parseScript } from './parse.ts';

/** A function of the library, or a number that it names. */
interface Entry {
  readonly name: string;
  readonly node: FunctionNode | number;
}

let parsed: readonly Entry[] | undefined;

/** The functions of the mathematics, to be compiled into one module as far as they are called. */
export function mathLibrary(): Library {
  parsed ??= read();
  const scope = new Scope();
  for (const { name, node } of parsed)
    scope.declare(
      name,
      typeof node === 'number'
        ? { kind: 'constant', value: node }
        : { kind: 'function', node, scope, compiled: undefined },
    );
  const find = (name: string) => {
    const found: Binding | undefined = scope.find(NAMES.get(name) ?? name);
    return found?.kind === 'function' ? found : undefined;
  };
  return { find, own: false };
}

/** Under other names, for what the standard calls otherwise than the text. */
const NAMES: ReadonlyMap<string, string> = new Map([['pow', 'power']]);

function read(): Entry[] {
  const scope = new Scope();
  return parseScript(MATH_SOURCE).body.flatMap((node): Entry[] => {
    if (node.type === 'FunctionDeclaration') return [{ name: node.id.name, node }];
    if (node.type !== 'VariableDeclaration') return [];
    return node.declarations.flatMap(({ id, init }) => {
      const value = init ? constantOf(init, scope) : undefined;
      if (id.type !== 'Identifier' || typeof value !== 'number')
        throw new Error('the library has constants and functions');
      scope.declare(id.name, { kind: 'constant', value });
      return [{ name: id.name, node: value }];
    });
  });
}
