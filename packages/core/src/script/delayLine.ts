import { Code } from './code.ts';
import { stepsOf } from './cost.ts';
import { BASE, type ModuleBuilder } from './moduleBuilder.ts';
import type { Binding } from './scope.ts';
import { F64, I64_TRUNC_SAT_F64_S, OP, SATURATING, unsigned } from './wasm.ts';

/** Frames beside a place that are read for it. */
const BESIDE = 4;

/** Operations of either, as far as a script would have them in its own text. */
const READ_STEPS = 30;
const WRITE_STEPS = 5;

/**
 * A line of memory: what is written a sample at a time is read again so many seconds later, between two samples by the cubic
 * through the four around (Lagrange). It holds 32-bit floats and lies behind the base of its side.
 */
export function delayLine(builder: ModuleBuilder, seconds: number, sampleRate: number): Binding {
  let frames = 2 * BESIDE;
  while (frames < seconds * sampleRate + BESIDE) frames *= 2;
  // Samples that were written so far, then the samples themselves, two to a double.
  const count = builder.allocate(1);
  const samples = builder.allocate(frames / 2);
  builder.keep({ kind: 'line', address: samples, doubles: frames / 2, count });
  return {
    kind: 'unit',
    functions: {
      read: {
        index: defineRead(builder, { frames, count, samples, sampleRate }),
        params: ['number'],
        result: 'number',
        cost: stepsOf(READ_STEPS),
      },
      write: {
        index: defineWrite(builder, { frames, count, samples }),
        params: ['number'],
        result: undefined,
        cost: stepsOf(WRITE_STEPS),
      },
    },
  };
}

interface Line {
  readonly frames: number;
  readonly count: number;
  readonly samples: number;
}

/** The address of a sample behind the base of its side, by its number on the stack. */
function place(code: Code, frames: number): Code {
  return code
    .integer(frames - 1)
    .op(OP.i32And)
    .integer(2)
    .op(OP.i32Shl, OP.globalGet, BASE, OP.i32Add);
}

/** The lower 32 bits of the whole number that a double is. */
const whole = (code: Code) => code.op(SATURATING, I64_TRUNC_SAT_F64_S, OP.i32WrapI64);

function defineWrite(builder: ModuleBuilder, { frames, count, samples }: Line): number {
  const index = builder.reserve();
  const code = new Code(1);
  const written = code.newLocal('number');
  code.op(OP.globalGet, BASE).load(count).set(written);
  place(whole(code.get(written)), frames)
    .get(0)
    .op(OP.f32DemoteF64, OP.f32Store, 2, ...unsigned(samples));
  code.op(OP.globalGet, BASE).get(written).number(1).op(OP.f64Add).store(count);
  builder.define(index, { params: [F64], results: [], locals: code.locals, code: code.bytes, exported: undefined });
  return index;
}

function defineRead(builder: ModuleBuilder, line: Line & { readonly sampleRate: number }): number {
  const { frames, count, samples, sampleRate } = line;
  const index = builder.reserve();
  const code = new Code(1);
  const [written, at, first, t, above, below] = Array.from({ length: 6 }, () => code.newLocal('number'));
  const [before, left] = [0, 1].map(() => code.newLocal('boolean'));
  code.op(OP.globalGet, BASE).load(count).set(written);
  // At least one sample ago, at most all that the line holds; what is no number is one sample ago.
  code.get(written);
  code
    .get(0)
    .number(sampleRate)
    .op(OP.f64Mul)
    .number(1)
    .op(OP.f64Max)
    .number(frames - BESIDE)
    .op(OP.f64Min);
  code.op(OP.f64Sub).tee(at).op(OP.f64Floor).tee(first);
  whole(code).set(before);
  code.get(at).get(first).op(OP.f64Sub).set(t);
  // How many samples were written behind the place, which is at least 0.
  whole(code.get(written).get(first).op(OP.f64Sub)).integer(1).op(OP.i32Sub).set(left);
  const sample = (offset: number) => {
    code.get(before);
    // The last one that was written stands for those that come.
    if (offset > 0) {
      const far = () => code.integer(offset).get(left);
      far();
      far().op(OP.i32LtS, OP.select, OP.i32Add);
    } else if (offset < 0) code.integer(offset).op(OP.i32Add);
    place(code, frames).op(OP.f32Load, 2, ...unsigned(samples), OP.f64PromoteF32);
  };
  const product = (a: number, b: number, by: number) => code.get(a).get(b).op(OP.f64Mul).number(by).op(OP.f64Mul);
  // With a = (t + 1) t and b = (t − 1)(t − 2), what each sample counts for is b t, b (t + 1), a (t − 2) or a (t − 1).
  code.get(t).number(1).op(OP.f64Add).get(t).op(OP.f64Mul).set(above);
  code.get(t).number(1).op(OP.f64Sub).get(t).number(2).op(OP.f64Sub, OP.f64Mul).set(below);
  for (const [offset, root, rest, by] of [
    [-1, 0, below, -1 / 6],
    [0, -1, below, 1 / 2],
    [1, 2, above, -1 / 2],
    [2, 1, above, 1 / 6],
  ]) {
    sample(offset);
    code.get(t).number(root).op(OP.f64Sub).set(at);
    product(at, rest, by).op(OP.f64Mul);
    if (offset > -1) code.op(OP.f64Add);
  }
  builder.define(index, { params: [F64], results: [F64], locals: code.locals, code: code.bytes, exported: undefined });
  return index;
}
