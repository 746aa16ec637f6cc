import type {
  AssignmentExpression,
  BlockStatement,
  Expression,
  IfStatement,
  Node,
  Statement,
  UpdateExpression,
  VariableDeclaration,
} from 'acorn';
import { wasmType } from './code.ts';
import { constantOf } from './constants.ts';
import { both, either, rounds, type Cost } from './cost.ts';
import { NotedAlready } from './faults.ts';
import { CallCompiler, type CalledFunction } from './callCompiler.ts';
import { counting, type Keeping } from './nameCompiler.ts';
import { LATE, LIMIT, STEPS, type ModuleBuilder } from './moduleBuilder.ts';
import { endsWithReturn, roundsOf, type LoopNode } from './statements.ts';
import { GIVEN, RESERVED, SPOKEN } from './words.ts';
import {
  Scope,
  type Binding,
  type Compiled,
  type FunctionNode,
  type Library,
  type ScriptResult,
  type ScriptType,
} from './scope.ts';
import { EMPTY_BLOCK, F64, OP } from './wasm.ts';

interface Loop {
  readonly breaks: number;
  readonly continues: number;
}

/** Compiles the statements that make a stage ready, in the scope of what is kept; gives the place of the function. */
export function compileStart(
  builder: ModuleBuilder,
  library: Library,
  node: FunctionNode,
  statements: readonly Statement[],
  keeping: Keeping,
  exported?: string,
): number {
  const index = builder.reserve();
  const compiler = new FunctionCompiler(builder, library, { ...node, params: [] }, keeping.scope, [], keeping);
  compiler.statements(statements);
  const { locals, bytes } = compiler.code;
  builder.define(index, { params: [], results: [], locals, code: bytes, exported });
  return index;
}

/** Compiles a function when it is first called; the same again is the same. */
export function compileFunction(
  builder: ModuleBuilder,
  callers: Library,
  binding: Extract<Binding, { kind: 'function' }>,
  call: { readonly node: Node; readonly args: readonly ScriptType[] },
  exported?: string,
): Compiled {
  if (binding.compiled === 'begun')
    builder.refuse(call.node, 'A function calls itself, by itself or through others; write a loop instead.');
  if (binding.compiled === 'failed') throw new NotedAlready();
  if (binding.compiled) return binding.compiled;
  binding.compiled = 'begun';
  const library = binding.library ?? callers;
  const index = builder.reserve();
  const faults = builder.faultCount;
  let compiler: FunctionCompiler | undefined;
  let result: ScriptResult;
  try {
    compiler = new FunctionCompiler(builder, library, binding.node, binding.scope, call.args);
    result = compiler.run();
  } finally {
    binding.compiled = 'failed';
  }
  // What it gives is not known then.
  if (builder.faultCount > faults) throw new NotedAlready();
  builder.define(index, {
    params: call.args.map(wasmType),
    results: result === undefined ? [] : result === 'pair' ? [F64, F64] : [wasmType(result)],
    locals: compiler.code.locals,
    code: compiler.code.bytes,
    exported,
  });
  return (binding.compiled = { index, params: call.args, result, cost: compiler.costs });
}

/** Compiles the statements of one function. */
export class FunctionCompiler extends CallCompiler {
  private readonly loops: Loop[] = [];
  private result: ScriptResult | 'unknown' = 'unknown';

  constructor(
    builder: ModuleBuilder,
    library: Library,
    node: FunctionNode,
    scope: Scope,
    args: readonly ScriptType[],
    keeping?: Keeping,
  ) {
    super(builder, library, node, keeping ? scope : new Scope(scope), args.length, keeping);
    if (node.async || node.generator) this.refuse(node, 'A function is plain: neither async nor a generator.');
    if (node.params.length !== args.length)
      this.refuse(node, `The function takes ${node.params.length} values and is called with ${args.length}.`);
    node.params.forEach((param, index) => {
      if (param.type !== 'Identifier')
        this.refuse(param, 'A parameter is a name, without a default and without taking something apart.');
      this.declare(param, param.name, { kind: 'local', owner: this.code, index, type: args[index], constant: false });
    });
  }

  /** What the function gives. */
  run(): ScriptResult {
    const { body } = this.node;
    if (body.type !== 'BlockStatement') return this.given(body);
    this.block(body);
    if (this.result === 'unknown' || this.result === undefined) return undefined;
    if (!endsWithReturn(body))
      this.refuse(body, 'The function gives a value on some ways and none on others; end each with return.');
    this.code.op(OP.unreachable);
    return this.result;
  }

  /** What a call of it costs. */
  get costs(): Cost {
    return this.cost;
  }

  statements(list: readonly Statement[]): void {
    for (const statement of list) this.attempted(statement);
  }

  /** A statement; where it is not allowed, those behind it are looked at all the same. */
  protected attempted(node: Statement): void {
    const { scope } = this;
    const depth = this.loops.length;
    if (this.builder.attempt(() => this.statement(node))) return;
    this.scope = scope;
    this.loops.length = depth;
    const names =
      node.type === 'VariableDeclaration'
        ? node.declarations.map(({ id }) => id)
        : node.type === 'FunctionDeclaration'
          ? [node.id]
          : [];
    for (const id of names) if (id.type === 'Identifier') this.scope.declare(id.name, { kind: 'unknown' });
  }

  protected called({ found, node, args, library }: CalledFunction): Compiled {
    return compileFunction(this.builder, library, found, { node, args });
  }

  private declare(node: Node, name: string, binding: Binding): void {
    if (RESERVED.has(name) || (GIVEN.has(name) && this.library.line === undefined))
      this.refuse(node, `${name} is given already; call it something else.`);
    if (!this.scope.declare(name, binding)) this.refuse(node, `${name} stands here already.`);
  }

  private within(work: () => void): void {
    const outer = this.scope;
    this.scope = new Scope(outer);
    work();
    this.scope = outer;
  }

  private block({ body }: BlockStatement): void {
    this.within(() => this.statements(body));
  }

  private statement(node: Statement): void {
    switch (node.type) {
      case 'EmptyStatement':
        return;
      case 'BlockStatement':
        return this.block(node);
      case 'VariableDeclaration':
        return this.variables(node);
      case 'FunctionDeclaration':
        return this.declare(node, node.id.name, { kind: 'function', node, scope: this.scope, compiled: undefined });
      case 'ExpressionStatement':
        return this.effect(node.expression);
      case 'IfStatement': {
        this.chosen(node);
        this.code.open(OP.if, EMPTY_BLOCK);
        let cost = this.branch(() => this.within(() => this.statement(node.consequent)));
        const { alternate } = node;
        if (alternate) {
          this.code.op(OP.else);
          cost = either(
            cost,
            this.branch(() => this.within(() => this.statement(alternate))),
          );
        }
        this.code.close();
        this.cost = both(this.cost, cost);
        return;
      }
      case 'ForStatement':
      case 'WhileStatement':
        return this.loop(node);
      case 'BreakStatement':
      case 'ContinueStatement': {
        const loop = this.loops.at(-1);
        if (node.label || !loop)
          this.refuse(node, 'break and continue belong to the loop around them, without a name.');
        this.code.branch(node.type === 'BreakStatement' ? loop.breaks : loop.continues);
        return;
      }
      case 'ReturnStatement': {
        const type = node.argument ? this.given(node.argument) : undefined;
        if (this.result !== 'unknown' && this.result !== type)
          this.refuse(node, 'A function gives either numbers, or true and false, or nothing: the same at each return.');
        this.result = type;
        this.code.op(OP.return);
        return;
      }
      default:
        this.refuse(
          node,
          `${SPOKEN[node.type] ?? node.type} is not allowed; allowed are const, let, if, for, while, break, continue, return and functions.`,
        );
    }
  }

  /** Leaves on the stack which way an `if` goes. */
  protected chosen({ test }: IfStatement): void {
    this.condition(test);
  }

  /** What a function gives: both sides at once, too. */
  private given(node: Expression): ScriptResult {
    if (node.type === 'ParenthesizedExpression') return this.given(node.expression);
    if (node.type !== 'ArrayExpression') return this.expression(node);
    if (node.elements.length !== 2)
      this.refuse(node, 'A list in [ ] is not allowed here; pair gives both sides as [left, right].');
    for (const side of node.elements) {
      if (!side || side.type === 'SpreadElement') return this.refuse(node, 'Both sides are numbers: [left, right].');
      this.numberOf(side);
    }
    return 'pair';
  }

  private variables({ kind, declarations }: VariableDeclaration): void {
    for (const one of declarations) {
      if (kind === 'var') this.refuse(one, 'var is not allowed; write const or let.');
      if (one.id.type !== 'Identifier') this.refuse(one.id, 'A variable is one name; nothing is taken apart.');
      if (!one.init) this.refuse(one, `${one.id.name} needs a value at its beginning.`);
      if (one.init.type === 'ArrowFunctionExpression') {
        if (kind !== 'const') this.refuse(one, 'A function is a const.');
        this.declare(one.id, one.id.name, { kind: 'function', node: one.init, scope: this.scope, compiled: undefined });
        continue;
      }
      const value = kind === 'const' ? constantOf(one.init, this.scope) : undefined;
      if (value !== undefined) {
        this.declare(one.id, one.id.name, { kind: 'constant', value });
        continue;
      }
      const { init } = one;
      const { name } = one.id;
      const unit =
        this.keeping?.scope === this.scope
          ? this.builder.under(name, () => this.keeping?.unitOf(init, this.scope))
          : undefined;
      if (unit) {
        if (kind !== 'const') this.refuse(one, `${one.id.name} is made once; make it a const.`);
        this.declare(one.id, one.id.name, unit);
        if (unit.kind === 'unit' && unit.start !== undefined) this.code.call(unit.start);
        continue;
      }
      const type = this.expression(one.init);
      if (kind === 'let' && type === 'number') this.flushed();
      if (this.keeping?.scope === this.scope && this.keeping.variables !== false) {
        const address = this.builder.allocate(1);
        // What is a const comes of the text itself.
        if (kind === 'let') this.builder.under(name, () => this.builder.keep({ kind: type, address, doubles: 1 }));
        const kept: Binding = { kind: 'state', address, type, constant: kind === 'const' };
        this.variable(kept).write();
        this.declare(one.id, one.id.name, kept);
        continue;
      }
      const index = this.code.newLocal(type);
      this.code.set(index);
      this.declare(one.id, one.id.name, { kind: 'local', owner: this.code, index, type, constant: kind === 'const' });
    }
  }

  /** A loop counts its steps: when they are used up it ends, and so do those around it. */
  private loop(node: LoopNode): void {
    this.within(() => {
      this.beforeLoop(node, () => {
        if (node.type !== 'ForStatement' || !node.init) return;
        if (node.init.type === 'VariableDeclaration') this.variables(node.init);
        else this.effect(node.init);
      });
      const breaks = this.code.open(OP.block, EMPTY_BLOCK);
      const top = this.code.open(OP.loop, EMPTY_BLOCK);
      let begins = 0;
      const cost = this.apart(() => {
        this.beforeRound(node, () => {
          if (!this.library.own) this.whenLate(node, breaks);
          begins = this.code.bytes.length;
          this.takes(1);
          if (!node.test) return;
          this.condition(node.test);
          this.code.op(OP.i32Eqz).branch(breaks, OP.brIf);
        });
        const continues = this.code.open(OP.block, EMPTY_BLOCK);
        this.loops.push({ breaks, continues });
        this.within(() => this.statement(node.body));
        this.loops.pop();
        this.code.close();
        if (node.type === 'ForStatement' && node.update) this.effect(node.update);
      });
      if (!this.library.own) this.code.insert(begins, counting(cost.always));
      this.cost = both(this.cost, rounds(cost, roundsOf(node, this.scope)));
      this.code.branch(top).close().close();
    });
  }

  /** What a loop does before its first round. */
  protected beforeLoop(_node: LoopNode, init: () => void): void {
    init();
  }

  /** What a loop does before each of its rounds. */
  protected beforeRound(_node: LoopNode, test: () => void): void {
    test();
  }

  /** Leaves a loop where no steps are left. */
  protected whenLate(node: LoopNode, breaks: number): void {
    const { code } = this;
    code.op(OP.globalGet, STEPS, OP.globalGet, LIMIT, OP.f64Lt);
    code.open(OP.if, EMPTY_BLOCK);
    code
      .integer(this.library.line ?? node.loc?.start.line ?? 0)
      .op(OP.globalGet, LATE, OP.globalGet, LATE, OP.i32Eqz, OP.select, OP.globalSet, LATE);
    code.branch(breaks).close();
  }

  /** An expression for what it does; what it gives is let go of. */
  private effect(node: Expression): void {
    this.takes(1);
    if (node.type === 'AssignmentExpression') return this.assignment(node);
    if (node.type === 'UpdateExpression') return this.update(node);
    if (node.type === 'SequenceExpression') return node.expressions.forEach((one) => this.effect(one));
    if (node.type === 'CallExpression') {
      const given = this.call(node);
      if (given === 'pair') this.code.op(OP.drop);
      if (given !== undefined) this.code.op(OP.drop);
      return;
    }
    // A word that is mistyped, such as retrun [left, right].
    const word = node.type === 'MemberExpression' ? node.object : node;
    if (word.type === 'Identifier') this.found(word, word.name);
    this.refuse(node, 'This does nothing: a statement assigns something or calls a function.');
  }

  private assignment({ left, operator, right }: AssignmentExpression): void {
    const target = this.target(left);
    if (operator === '=') this.same(right, this.expression(right), target.type);
    else {
      this.same(left, target.type, 'number');
      this.binaryOf(right, operator.slice(0, -1), target.read, () => this.numberOf(right));
    }
    if (target.type === 'number') this.flushed();
    target.write();
  }

  private update({ argument, operator }: UpdateExpression): void {
    const target = this.target(argument);
    this.same(argument, target.type, 'number');
    target.read();
    this.code.number(1).op(operator === '++' ? OP.f64Add : OP.f64Sub);
    target.write();
  }
}
