import type { FunctionDeclaration } from 'acorn';
import { Code } from './code.ts';
import { stepsOf } from './cost.ts';
import { compileResting } from './restingCompiler.ts';
import { OUT, SOUND, WRITTEN, type ModuleBuilder } from './moduleBuilder.ts';
import { Scope, type Binding, type Compiled, type Library, type SettingPlace } from './scope.ts';
import type { ScriptParts } from './scriptParts.ts';
import { EMPTY_BLOCK, F64, I64_TRUNC_SAT_F64_S, OP, SATURATING } from './wasm.ts';

/** Where the numbers stand that say how large the sound is and what comes of it, as doubles. */
export interface ClipPlaces {
  readonly frames: number;
  readonly sides: number;
  readonly start: number;
  readonly end: number;
  readonly outFrames: number;
}

/** Between two samples the cubic through the four around (Lagrange), as lines are read. */
const READ_SOURCE = `function make() {
  function read(side, frame) {
    const at = Math.floor(frame);
    const t = frame - at;
    const here = soundAt(side, at);
    if (t === 0) return here;
    return (
      ((-t * (t - 1) * (t - 2)) / 6) * soundAt(side, at - 1) +
      (((t + 1) * (t - 1) * (t - 2)) / 2) * here +
      ((-(t + 1) * t * (t - 2)) / 2) * soundAt(side, at + 1) +
      (((t + 1) * t * (t - 1)) / 6) * soundAt(side, at + 2)
    );
  }
}`;

/** Operations of a sample that is read or written, as far as a script would have them in its own text. */
const READ_STEPS = 12;
const WRITE_STEPS = 12;

/**
 * Compiles `export function clip(sound, out, p)`, which is called once, as the export `clip`. The samples lie as 32-bit floats
 * behind the globals `sound` and `out`, side by side, in memory that whoever calls it has taken.
 */
export function compileClip(
  builder: ModuleBuilder,
  library: Library,
  parts: ScriptParts,
  outer: FunctionDeclaration,
  scope: Scope,
  settings: Readonly<Record<string, SettingPlace>>,
): ClipPlaces {
  const [sound, out, p] = outer.params;
  const written = 'A whole clip is worked on by: export function clip(sound, out, p)';
  if (outer.params.length < 2 || outer.params.length > 3) builder.refuse(outer, written);
  for (const one of outer.params) if (one.type !== 'Identifier') builder.refuse(one, written);
  const number = () => builder.allocateShared(1);
  const places = { frames: number(), sides: number(), start: number(), end: number(), outFrames: number() };
  const inner = new Scope(scope);
  const declare = (node: typeof sound | undefined, binding: Binding) => {
    if (node?.type === 'Identifier' && !inner.declare(node.name, binding))
      builder.refuse(node, `${node.name} stands here already.`);
  };
  const soundAt = defineSoundAt(builder, places);
  const read = parts.madeOf(outer, READ_SOURCE, { soundAt }).get('read')!;
  const { outFrames, ...values } = places;
  declare(sound, { kind: 'unit', functions: { read }, values });
  declare(out, { kind: 'unit', functions: { write: defineWrite(builder, places) }, values: { frames: outFrames } });
  declare(p, { kind: 'settings', settings });
  const body = new Scope(inner);
  const keeping = {
    scope: body,
    unitOf: (...asked: Parameters<ScriptParts['unitOf']>) => parts.unitOf(...asked),
    variables: false,
  };
  compileResting(builder, library, outer, keeping);
  return places;
}

/** Opens an `if` that is gone into where side and frame, the first two parameters, lie within. */
function within(code: Code, { sides }: ClipPlaces, frames: number, type: number): void {
  const number = (address: number) => code.integer(0).load(address);
  code.get(0).number(0).op(OP.f64Ge).get(0);
  number(sides).op(OP.f64Lt, OP.i32And);
  code.get(1).number(0).op(OP.f64Ge, OP.i32And).get(1);
  number(frames).op(OP.f64Lt, OP.i32And);
  code.open(OP.if, type);
}

/** The address of a sample of that side and frame. */
function place(code: Code, frames: number, begins: number): void {
  code.get(0).op(OP.f64Trunc).integer(0).load(frames).op(OP.f64Mul).get(1).op(OP.f64Trunc, OP.f64Add);
  code.op(SATURATING, I64_TRUNC_SAT_F64_S, OP.i32WrapI64).integer(4).op(OP.i32Mul, OP.globalGet, begins, OP.i32Add);
}

function defineSoundAt(builder: ModuleBuilder, places: ClipPlaces): Compiled {
  const index = builder.reserve();
  const code = new Code(2);
  within(code, places, places.frames, F64);
  place(code, places.frames, SOUND);
  code.op(OP.f32Load, 2, 0, OP.f64PromoteF32, OP.else).number(0).close();
  builder.define(index, { params: [F64, F64], results: [F64], locals: [], code: code.bytes, exported: undefined });
  return { index, params: ['number', 'number'], result: 'number', cost: stepsOf(READ_STEPS) };
}

function defineWrite(builder: ModuleBuilder, places: ClipPlaces): Compiled {
  const index = builder.reserve();
  const code = new Code(3);
  within(code, places, places.outFrames, EMPTY_BLOCK);
  place(code, places.outFrames, OUT);
  code.get(2).op(OP.f32DemoteF64, OP.f32Store, 2, 0);
  code.op(OP.globalGet, WRITTEN).number(1).op(OP.f64Add, OP.globalSet, WRITTEN).close();
  builder.define(index, { params: [F64, F64, F64], results: [], locals: [], code: code.bytes, exported: undefined });
  return { index, params: ['number', 'number', 'number'], result: undefined, cost: stepsOf(WRITE_STEPS) };
}
