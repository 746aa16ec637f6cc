import type { FunctionDeclaration, IfStatement, Statement } from 'acorn';
import { FunctionCompiler } from './functionCompiler.ts';
import { loopsIn, type LoopNode } from './statements.ts';
import type { Keeping } from './nameCompiler.ts';
import { REST, RESTING, STEPS, type ModuleBuilder } from './moduleBuilder.ts';
import type { Library, ScriptType } from './scope.ts';
import { EMPTY_BLOCK, F64, I32, OP, unsigned } from './wasm.ts';

/**
 * Compiles the function that works on a whole clip, as the export `clip`. Whoever calls it says in `rest` with how many steps
 * left it is to rest: then it comes back from the loop it is in, with that loop’s number in `resting`, and goes on there when
 * it is called again. Only its own loops rest, not those of functions that it calls.
 */
export function compileResting(
  builder: ModuleBuilder,
  library: Library,
  node: FunctionDeclaration,
  keeping: Keeping,
): void {
  const index = builder.reserve();
  const compiler = new RestingCompiler(builder, library, { ...node, params: [] }, keeping.scope, [], keeping);
  compiler.compile(node.body.body);
  const { locals, bytes } = compiler.code;
  builder.define(index, { params: [], results: [], locals, code: bytes, exported: 'clip' });
}

/**
 * WebAssembly cannot be left and entered again in the middle. So what was going on is written down – all locals, and the number
 * of the loop –, and on the way back to it all that stands before it is passed over. Loops are numbered as they begin in the text.
 */
class RestingCompiler extends FunctionCompiler {
  private readonly begun = { loops: 0 };
  /** The local with the loop that is to be gone on with; 0 once it has been. */
  private readonly next = this.code.newLocal('boolean');
  private leaves = 0;

  compile(statements: readonly Statement[]): void {
    const { code, next } = this;
    this.leaves = code.open(OP.block, EMPTY_BLOCK);
    this.statements(statements);
    code.op(OP.return).close();
    // Only now is known how many locals there are.
    const places = code.locals.map((type, local) => {
      const kind: ScriptType = type === F64 ? 'number' : 'boolean';
      return { local, kind, address: this.builder.allocateShared(1) };
    });
    for (const { local, kind, address } of places) code.integer(0).get(local).store(address, kind);
    code.get(next).op(OP.globalSet, RESTING);
    const before = code.bytes.length;
    code.op(OP.globalGet, RESTING);
    code.open(OP.if, EMPTY_BLOCK);
    for (const { local, kind, address } of places) code.integer(0).load(address, kind).set(local);
    code.close().op(OP.globalGet, RESTING).set(next).integer(0).op(OP.globalSet, RESTING);
    code.insert(0, code.bytes.splice(before));
  }

  override statements(list: readonly Statement[]): void {
    let passed: Statement[] = [];
    const { code } = this;
    const pass = () => {
      const together = passed;
      passed = [];
      if (together.length > 0) this.passing(() => super.statements(together));
    };
    for (const statement of list) {
      const loops = loopsIn(statement);
      if (loops === 0) passed.push(statement);
      else {
        pass();
        const end = code.open(OP.block, EMPTY_BLOCK);
        const lastThere = this.begun.loops + loops;
        code.get(this.next).integer(lastThere).op(OP.i32GtU).branch(end, OP.brIf);
        this.attempted(statement);
        code.close();
      }
    }
    pass();
  }

  protected override chosen(node: IfStatement): void {
    if (loopsIn(node) === 0) return super.chosen(node);
    const { code, next } = this;
    const lastThere = this.begun.loops + loopsIn(node.consequent);
    code.get(next).op(OP.i32Eqz);
    code.open(OP.if, I32);
    super.chosen(node);
    code.op(OP.else).get(next).integer(lastThere).op(OP.i32LeU).close();
  }

  protected override beforeLoop(node: LoopNode, init: () => void): void {
    const { code, next } = this;
    const own = ++this.begun.loops;
    this.passing(() => super.beforeLoop(node, init));
    code.get(next).integer(own).op(OP.i32Eq);
    code.open(OP.if, EMPTY_BLOCK);
    code.integer(0).set(next).close();
  }

  protected override beforeRound(node: LoopNode, test: () => void): void {
    // A loop without others in it is never passed through.
    if (loopsIn(node.body) === 0) return super.beforeRound(node, test);
    this.passing(() => super.beforeRound(node, test));
  }

  protected override whenLate(node: LoopNode, breaks: number): void {
    const { code, next } = this;
    const own = this.begun.loops;
    code.op(OP.globalGet, STEPS, OP.globalGet, REST, OP.f64Lt);
    code.open(OP.if, EMPTY_BLOCK);
    super.whenLate(node, breaks);
    code.integer(own).set(next).branch(this.leaves).close();
  }

  protected override countingBranch(steps: number): readonly number[] {
    return [
      OP.block,
      EMPTY_BLOCK,
      OP.localGet,
      ...unsigned(this.next),
      OP.brIf,
      0,
      ...super.countingBranch(steps),
      OP.end,
    ];
  }

  /** What is passed over on the way to where it goes on. */
  private passing(work: () => void): void {
    const { code } = this;
    const end = code.open(OP.block, EMPTY_BLOCK);
    code.get(this.next).branch(end, OP.brIf);
    work();
    code.close();
  }
}
