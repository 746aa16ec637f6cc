import { Code } from './code.ts';
import type { ModuleBuilder } from './moduleBuilder.ts';
import { EMPTY_BLOCK, I32, F64, OP } from './wasm.ts';

/** Products that are summed side by side: the adding of one need not wait for that of another. */
export const DOT_WIDTH = 4;

const BYTES = 8 * DOT_WIDTH;

/**
 * `dot(a, b, end)`: the sum of the products of the doubles from address a and from address b on, up to where a has come to
 * `end`, a whole number of times DOT_WIDTH further. It stands in no loop of the language, where each place that is read is
 * looked at first.
 */
export function defineDot(builder: ModuleBuilder): number {
  const index = builder.reserve();
  const code = new Code(3);
  const [a, b, end] = [0, 1, 2];
  const sums = Array.from({ length: DOT_WIDTH }, () => code.newLocal('number'));
  const done = code.open(OP.block, EMPTY_BLOCK);
  const top = code.open(OP.loop, EMPTY_BLOCK);
  code.get(a).get(end).op(OP.i32GeU).branch(done, OP.brIf);
  sums.forEach((sum, n) => {
    code.get(sum);
    code.get(a).load(8 * n);
    code.get(b).load(8 * n);
    code.op(OP.f64Mul, OP.f64Add).set(sum);
  });
  for (const at of [a, b]) code.get(at).integer(BYTES).op(OP.i32Add).set(at);
  code.branch(top).close().close();
  sums.forEach((sum, n) => {
    code.get(sum);
    if (n > 0) code.op(OP.f64Add);
  });
  builder.define(index, {
    params: [I32, I32, I32],
    results: [F64],
    locals: code.locals,
    code: code.bytes,
    exported: undefined,
  });
  return index;
}
