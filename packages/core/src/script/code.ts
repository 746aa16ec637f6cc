import { F64, I32, OP, double, signed, unsigned, type ValueType } from './wasm.ts';
import type { ScriptType } from './scope.ts';

export const wasmType = (type: ScriptType): ValueType => (type === 'number' ? F64 : I32);

/** The instructions of one function as they are written, its locals and how deep its blocks stand. */
export class Code {
  readonly bytes: number[] = [];
  readonly locals: ValueType[] = [];
  private readonly params: number;
  private depth = 0;

  constructor(params: number) {
    this.params = params;
  }

  op(...bytes: readonly number[]): this {
    for (const byte of bytes) this.bytes.push(byte);
    return this;
  }

  /** Puts instructions in between others, where no block begins or ends. */
  insert(at: number, bytes: readonly number[]): this {
    this.bytes.splice(at, 0, ...bytes);
    return this;
  }

  newLocal(type: ScriptType): number {
    return this.params + this.locals.push(wasmType(type)) - 1;
  }

  get(local: number): this {
    return this.op(OP.localGet, ...unsigned(local));
  }

  set(local: number): this {
    return this.op(OP.localSet, ...unsigned(local));
  }

  tee(local: number): this {
    return this.op(OP.localTee, ...unsigned(local));
  }

  number(value: number): this {
    return this.op(OP.f64Const, ...double(value));
  }

  integer(value: number): this {
    return this.op(OP.i32Const, ...signed(value));
  }

  call(index: number): this {
    return this.op(OP.call, ...unsigned(index));
  }

  /** What lies so many bytes behind the address on the stack. */
  load(address: number, type: ScriptType = 'number'): this {
    return this.op(...(type === 'number' ? [OP.f64Load, 3] : [OP.i32Load, 2]), ...unsigned(address));
  }

  /** Stores what is on the stack so many bytes behind the address below it. */
  store(address: number, type: ScriptType = 'number'): this {
    return this.op(...(type === 'number' ? [OP.f64Store, 3] : [OP.i32Store, 2]), ...unsigned(address));
  }

  /** The whole number that a double is, which must lie within 32 bits. */
  whole(): this {
    return this.op(OP.i32TruncF64S);
  }

  /** Opens a block, loop or `if` of a type; gives how deep it stands, which `branch` goes by. */
  open(kind: typeof OP.block | typeof OP.loop | typeof OP.if, type: number): number {
    this.op(kind, type);
    this.depth += 1;
    return this.depth;
  }

  close(): this {
    this.depth -= 1;
    return this.op(OP.end);
  }

  /** Goes to the end of a block, or to the beginning of a loop, that stands so deep. */
  branch(to: number, op: typeof OP.br | typeof OP.brIf = OP.br): this {
    return this.op(op, ...unsigned(this.depth - to));
  }

  /** A number on the stack as true or false: 0 and what is no number are false. */
  truth(): this {
    return this.op(OP.f64Abs).number(0).op(OP.f64Gt);
  }
}
