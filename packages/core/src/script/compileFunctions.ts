import { ScriptError } from './faults.ts';
import { compileFunction } from './functionCompiler.ts';
import { mathLibrary } from './library.ts';
import { ModuleBuilder } from './moduleBuilder.ts';
import { constantOf } from './constants.ts';
import { placeOf, parseScript } from './parse.ts';
import { Scope } from './scope.ts';

/**
 * Compiles the functions that a text exports, each of which takes numbers, to a WebAssembly module without imports. ScriptError
 * for what is not allowed.
 */
export function compileFunctions(text: string): Uint8Array<ArrayBuffer> {
  const builder = new ModuleBuilder();
  return builder.whole(() => compiledFunctions(builder, text));
}

function compiledFunctions(builder: ModuleBuilder, text: string): Uint8Array<ArrayBuffer> {
  const library = mathLibrary();
  const scope = new Scope();
  const exported: string[] = [];
  for (const statement of parseScript(text).body) {
    const node = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    if (node?.type === 'FunctionDeclaration') {
      if (!scope.declare(node.id.name, { kind: 'function', node, scope, compiled: undefined }))
        builder.refuse(node, `${node.id.name} stands here already.`);
      if (node !== statement) exported.push(node.id.name);
    } else if (node?.type === 'VariableDeclaration' && node.kind === 'const') {
      for (const { id, init } of node.declarations) {
        const value = init ? constantOf(init, scope) : undefined;
        if (id.type !== 'Identifier' || value === undefined)
          throw new ScriptError([
            { ...placeOf(id), message: 'A const outside of functions is a number that is known at once.' },
          ]);
        scope.declare(id.name, { kind: 'constant', value });
      }
    } else builder.refuse(statement, 'Outside of functions stand only functions and const.');
  }
  for (const name of exported) {
    const found = scope.find(name);
    if (found?.kind !== 'function') continue;
    compileFunction(builder, library, found, { node: found.node, args: found.node.params.map(() => 'number') }, name);
  }
  return builder.encode();
}
