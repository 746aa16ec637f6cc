import { Code } from './code.ts';
import { BASE, type ModuleBuilder } from './moduleBuilder.ts';
import type { Binding } from './scope.ts';
import { F64, I64_TRUNC_SAT_F64_S, OP, SATURATING, unsigned } from './wasm.ts';

/** Frames beside a place that are read for it. */
const BESIDE = 4;

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
      },
      write: { index: defineWrite(builder, { frames, count, samples }), params: ['number'], result: undefined },
    },
  };
}

interface Line {
  readonly frames: number;
  readonly count: number;
  readonly samples: number;
}

/** The address of a sample, by its number as a double on the stack. */
function place(code: Code, frames: number): Code {
  return code
    .op(SATURATING, I64_TRUNC_SAT_F64_S, OP.i32WrapI64)
    .integer(frames - 1)
    .op(OP.i32And)
    .integer(4)
    .op(OP.i32Mul, OP.globalGet, BASE, OP.i32Add);
}

function defineWrite(builder: ModuleBuilder, { frames, count, samples }: Line): number {
  const index = builder.reserve();
  const code = new Code(1);
  const written = code.newLocal('number');
  code.op(OP.globalGet, BASE).load(count).set(written);
  place(code.get(written), frames)
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
  const [written, at, first, t] = [0, 1, 2, 3].map(() => code.newLocal('number'));
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
  code.op(OP.f64Sub).tee(at).op(OP.f64Floor).set(first);
  code.get(at).get(first).op(OP.f64Sub).set(t);
  const sample = (offset: number) => {
    // The last one that was written stands for those that come.
    code.get(first).number(offset).op(OP.f64Add).get(written).number(1).op(OP.f64Sub, OP.f64Min);
    place(code, frames).op(OP.f32Load, 2, ...unsigned(samples), OP.f64PromoteF32);
  };
  /** (t − a)(t − b)(t − c) · by */
  const weight = (a: number, b: number, c: number, by: number) => {
    for (const root of [a, b, c]) code.get(t).number(root).op(OP.f64Sub);
    code.op(OP.f64Mul, OP.f64Mul).number(by).op(OP.f64Mul);
  };
  [
    [0, 1, 2, -1 / 6],
    [-1, 1, 2, 1 / 2],
    [-1, 0, 2, -1 / 2],
    [-1, 0, 1, 1 / 6],
  ].forEach(([a, b, c, by], n) => {
    sample(n - 1);
    weight(a, b, c, by);
    code.op(OP.f64Mul);
    if (n > 0) code.op(OP.f64Add);
  });
  builder.define(index, { params: [F64], results: [F64], locals: code.locals, code: code.bytes, exported: undefined });
  return index;
}
