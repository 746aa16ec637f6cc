import type { CallExpression, Expression, MemberExpression, Node } from 'acorn';
import { constantOf } from './constants.ts';
import { both } from './cost.ts';
import { DOT_WIDTH, defineDot } from './dotProduct.ts';
import { ExpressionCompiler, mathName } from './expressionCompiler.ts';
import { INSTRUCTIONS, INTRINSICS } from './instructions.ts';
import { BASE, FRAME } from './moduleBuilder.ts';
import type { Binding, Compiled, Library, ScriptResult, ScriptType } from './scope.ts';
import { OP } from './wasm.ts';
import { MATH, MATH_NAMES, countedNames } from './words.ts';

/** What a function of the mathematics takes: about as long as so many operations, whatever its argument. */
const MATH_STEPS = 20;
const WRAPPED_STEPS = 3;

/** What is called: a function of the script or of the library, with what its arguments are. */
export interface CalledFunction {
  readonly found: Extract<Binding, { kind: 'function' }>;
  readonly node: Node;
  readonly args: readonly ScriptType[];
  readonly library: Library;
}

/** Compiles calls: of functions of the script, of what is given, of the mathematics. */
export abstract class CallCompiler extends ExpressionCompiler {
  /** What a function has become that is called here. */
  protected abstract called(call: CalledFunction): Compiled;

  protected call(node: CallExpression): ScriptResult {
    if (node.optional) this.refuse(node, '?. is not allowed.');
    const { callee } = node;
    const args = node.arguments.map((arg) =>
      arg.type === 'SpreadElement' ? this.refuse(arg, '... is not allowed.') : arg,
    );
    if (callee.type === 'Identifier') {
      if (this.library.own && Object.hasOwn(INTRINSICS, callee.name)) {
        for (const arg of args) this.numberOf(arg);
        INTRINSICS[callee.name](this.code);
        return 'number';
      }
      if (this.library.line !== undefined && callee.name === 'dot') return this.dot(args);
      const found = this.find(callee.name);
      if (found?.kind === 'watch') return this.watch(node, found.placeOf);
      if (found?.kind === 'unit' && found.functions['']) return this.unitCall(node, found.functions[''], args);
      if (found?.kind !== 'function')
        this.refuse(callee, found ? `${callee.name} is no function.` : `There is no function ${callee.name} here.`);
      const types = args.map((arg) => this.expression(arg));
      const compiled = this.called({ found, node, args: types, library: this.library });
      args.forEach((arg, n) => this.same(arg, types[n], compiled.params[n]));
      if (compiled.params.length !== args.length)
        this.refuse(node, `${callee.name} takes ${compiled.params.length} values; ${args.length} are given.`);
      this.code.call(compiled.index);
      this.cost = both(this.cost, compiled.cost);
      return compiled.result;
    }
    const unit = callee.type === 'MemberExpression' ? this.unitFunction(callee) : undefined;
    if (unit) return this.unitCall(node, unit, args);
    const name = callee.type === 'MemberExpression' ? mathName(callee) : undefined;
    if (name === undefined) return this.refuse(callee, 'Only functions of this script and of Math are called here.');
    return this.mathCall(node, name, args);
  }

  private unitCall(node: CallExpression, { index, params, result, cost }: Compiled, args: readonly Expression[]) {
    for (const arg of args) this.numberOf(arg);
    if (args.length !== params.length)
      this.refuse(node, `This takes ${params.length} values; ${args.length} are given.`);
    this.code.call(index);
    this.cost = both(this.cost, cost);
    return result;
  }

  /**
   * `dot(a, from, b, from, n)`, in the text of what is given only: the sum of n products of the places of two arrays. They are
   * not looked at: they must lie within, and n be a multiple of DOT_WIDTH that is known at once.
   */
  private dot(args: readonly Expression[]): ScriptType {
    const { code } = this;
    const count = constantOf(args[4], this.scope);
    if (typeof count !== 'number' || count % DOT_WIDTH !== 0) throw new Error('dot takes a multiple of its width');
    const place = (array: Expression, from: Expression) => {
      const found = array.type === 'Identifier' ? this.find(array.name) : undefined;
      if (found?.kind !== 'array') throw new Error('dot takes two arrays');
      code.op(OP.globalGet, BASE).integer(found.address).op(OP.i32Add);
      this.numberOf(from);
      code.whole().integer(8).op(OP.i32Mul, OP.i32Add);
    };
    const end = code.newLocal('boolean');
    place(args[0], args[1]);
    code.tee(end);
    place(args[2], args[3]);
    code
      .get(end)
      .integer(8 * count)
      .op(OP.i32Add)
      .call(this.builder.once(defineDot));
    // Products side by side take about a step for each pair of them.
    this.takes(count / 2);
    return 'number';
  }

  /** `watch('name', value)`: the value is put where it is seen from outside. */
  private watch(node: CallExpression, placeOf: (name: string) => number | undefined): undefined {
    const [name, value] = node.arguments;
    const text = name?.type === 'Literal' && typeof name.value === 'string' ? name.value.trim() : '';
    if (text === '' || text.length > 40 || node.arguments.length !== 2 || value.type === 'SpreadElement')
      this.refuse(node, "watch takes a name and a value: watch('level', x).");
    const address = placeOf(text);
    if (address === undefined) this.refuse(node, 'At most 16 values are watched.');
    this.code.op(OP.globalGet, FRAME);
    this.numberOf(value as Expression);
    this.code.store(address);
    return undefined;
  }

  /** The function of something that is given, such as `line.read`. */
  private unitFunction({ object, property, computed }: MemberExpression): Compiled | undefined {
    const found = object.type === 'Identifier' ? this.find(object.name) : undefined;
    if (found?.kind !== 'unit') return undefined;
    const name = !computed && property.type === 'Identifier' ? property.name : '';
    if (!Object.hasOwn(found.functions, name))
      this.refuse(property, `There is no such function of it; there ${countedNames(Object.keys(found.functions))}.`);
    return found.functions[name];
  }

  private mathCall(node: CallExpression, name: string, args: readonly Expression[]): ScriptType {
    const { code } = this;
    if (name === 'min' || name === 'max') {
      if (args.length === 0) this.refuse(node, `Math.${name} takes one value or more.`);
      args.forEach((arg, n) => {
        this.numberOf(arg);
        if (n > 0) code.op(name === 'min' ? OP.f64Min : OP.f64Max);
      });
      return 'number';
    }
    for (const arg of args) this.numberOf(arg);
    const wanted =
      Object.hasOwn(INSTRUCTIONS, name) || name === 'fround' ? 1 : this.library.find(name)?.node.params.length;
    if (wanted === undefined || !MATH.has(name)) this.refuse(node, `There is no Math.${name} here; ${MATH_NAMES}`);
    if (args.length !== wanted)
      this.refuse(node, `Math.${name} takes ${wanted} ${wanted === 1 ? 'value' : 'values'}; ${args.length} are given.`);
    if (name === 'fround') code.op(OP.f32DemoteF64, OP.f64PromoteF32);
    else if (Object.hasOwn(INSTRUCTIONS, name)) code.op(INSTRUCTIONS[name]);
    else
      this.callLibrary(
        node,
        name,
        args.map(() => 'number'),
      );
    return 'number';
  }

  protected callLibrary(node: Node, name: string, args: readonly ScriptType[]): void {
    const found = this.library.find(name);
    if (!found) this.refuse(node, `There is no ${name} in the library.`);
    const library = { ...this.library, find: (one: string) => this.library.find(one), own: true };
    const { index } = this.called({ found, node, args, library });
    this.code.call(index);
    this.takes(name === 'wrapped' ? WRAPPED_STEPS : MATH_STEPS);
  }
}
