import { BLOCK_FRAMES } from '../model/block.ts';
import type {
  ArrowFunctionExpression,
  ExportNamedDeclaration,
  FunctionDeclaration,
  Node,
  Pattern,
  Program,
  Statement,
} from 'acorn';
import type { Param } from '../params/params.ts';
import { Code } from './code.ts';
import { compileClip, type ClipPlaces } from './compileClip.ts';
import { constantOf } from './constants.ts';
import { STEPS_A_SAMPLE, type Cost } from './cost.ts';
import { counting } from './nameCompiler.ts';
import { ScriptError } from './faults.ts';
import { compileFunction, compileStart } from './functionCompiler.ts';
import { mathLibrary } from './library.ts';
import { FRAME, LATE, STEPS, ModuleBuilder, type KeptPlace } from './moduleBuilder.ts';
import { Scope, type Binding, type Compiled, type Library, type ScriptType, type SettingPlace } from './scope.ts';
import { GivenScope, ScriptParts, type PlaceName } from './scriptParts.ts';
import { EMPTY_BLOCK, I32, OP } from './wasm.ts';
import { GIVEN } from './words.ts';

/** What is called: for each sample of each channel, for both sides at once, or once for a whole clip. */
export const FORMS = ['channel', 'pair', 'clip'] as const;
export type Form = (typeof FORMS)[number];

/** A script as a module, and where in its memory what stands. Plain data but for the bytes. */
export interface CompiledForm {
  readonly form: Form;
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** Where a block of samples is handed in and given out, as doubles: one each for a channel, two for a pair. */
  readonly inputs: readonly number[];
  readonly outputs: readonly number[];
  /** Where the settings stand, a block of doubles each. */
  readonly settings: Readonly<Record<string, number>>;
  readonly places: readonly (readonly [PlaceName, number])[];
  readonly watched: readonly (readonly [string, number])[];
  /** What the global `base` is for each side; a pair has one. */
  readonly bases: readonly number[];
  /** What is kept from sample to sample. */
  readonly kept: readonly KeptPlace[];
  /** Where the state of `noise()` stands behind a base. */
  readonly noise: number | undefined;
  /** Bytes of its memory that are taken before any clip. */
  readonly bytesOfMemory: number;
  /** Of a whole clip. */
  readonly clip?: ClipPlaces;
  /** What a sample costs, of a channel for each side; undefined for a whole clip. */
  readonly cost: Cost | undefined;
  /** Frames by which it is late by what it uses. */
  readonly latency: number;
  readonly lineSeconds: number;
}

/** What a form is but for its code. */
export type FormFacts = Omit<CompiledForm, 'bytes'>;

/**
 * Compiles `export function channel(…)` or `pair(…)`, which takes all memory and gives what is called once a sample, or
 * `clip(sound, out, p)`, see `compileClip`. The
 * module exports `start()`, once for each side, and `process(frames)`; before either the global `base` says for which side,
 * and `steps` how many of them it may take. ScriptError for what is not allowed.
 */
export function compileForm(
  program: Program,
  params: Readonly<Record<string, Param>>,
  sampleRate: number,
): CompiledForm {
  const builder = new ModuleBuilder();
  return builder.whole(() => compiledForm(builder, program, params, sampleRate));
}

function compiledForm(
  builder: ModuleBuilder,
  program: Program,
  params: Readonly<Record<string, Param>>,
  sampleRate: number,
): CompiledForm {
  const library = mathLibrary();
  const { form, outer } = formOf(program, builder);
  const parts = new ScriptParts(builder, library, sampleRate, form !== 'clip');
  const scope = topOf(builder, program, parts);
  const block = () => builder.allocateShared(BLOCK_FRAMES);
  const places = Object.fromEntries(Object.entries(params).map(([name, param]) => [name, placeOf(param, block())]));
  const sides = form === 'channel' ? 1 : form === 'pair' ? 2 : 0;
  const inputs = Array.from({ length: sides }, block);
  const outputs = Array.from({ length: sides }, block);
  const clip = form === 'clip' ? compileClip(builder, library, parts, outer, scope, places) : undefined;
  let cost: Cost | undefined;
  if (!clip) {
    const { statements, sample } = partsOf(builder, form, outer);
    const keptScope = new Scope(scope);
    checkContext(builder, outer);
    const keeping = {
      scope: keptScope,
      unitOf: (...asked: Parameters<ScriptParts['unitOf']>) => parts.unitOf(...asked),
    };
    compileStart(builder, library, outer, statements, keeping, 'start');
    const inner = new Scope(keptScope);
    const p = sample.params[sides];
    if (p) inner.declare((p as { name: string }).name, { kind: 'settings', settings: places });
    const compiled = compileSample(builder, library, sample, inner, sides);
    ({ cost } = compiled);
    if (cost.always > STEPS_A_SAMPLE)
      builder.refuse(sample, `This takes ${cost.always} steps for each sample; at most ${STEPS_A_SAMPLE} are allowed.`);
    defineProcess(builder, { ...compiled, line: sample.loc?.start.line ?? 0 }, inputs, outputs);
  }
  const { perSide, shared } = builder.allocated;
  const bases = form === 'channel' ? [shared, shared + perSide] : [shared];
  const { facts } = parts;
  return {
    form,
    bytes: builder.encode(bases.length, form === 'clip'),
    bytesOfMemory: shared + bases.length * perSide,
    inputs,
    outputs,
    settings: Object.fromEntries(Object.entries(places).map(([name, { address }]) => [name, address])),
    places: [...facts.places],
    watched: [...facts.watched],
    bases,
    noise: facts.noise,
    kept: builder.kept,
    cost,
    latency: facts.latency,
    lineSeconds: facts.lineSeconds,
    ...(clip && { clip }),
  };
}

function placeOf(param: Param, address: number): SettingPlace {
  if (param.type === 'choice') return { address, words: param.options };
  return param.type === 'toggle' ? { address, toggle: true } : { address };
}

/** The function that is exported, by its form. */
function formOf(
  { body }: Program,
  builder: ModuleBuilder,
): { readonly form: Form; readonly outer: FunctionDeclaration } {
  const found: { form: Form; outer: FunctionDeclaration }[] = [];
  for (const { type, ...statement } of body) {
    const node = type === 'ExportNamedDeclaration' ? (statement as ExportNamedDeclaration).declaration : undefined;
    if (node?.type !== 'FunctionDeclaration') continue;
    const form = FORMS.find((one) => one === node.id.name);
    if (!form)
      return builder.refuse(node, `A script exports ${FORMS.join(' or ')}; ${node.id.name} stands without export.`);
    found.push({ form, outer: node });
  }
  const [first, second] = found;
  if (second) builder.refuse(second.outer, `A script has one form; ${first.form} stands there already.`);
  if (first) return first;
  throw new ScriptError([
    {
      line: 1,
      column: 1,
      message: `There is no "export function channel" in it, nor one of ${FORMS.slice(1).join(' and ')}.`,
    },
  ]);
}

/** What stands outside of functions. */
function topOf(builder: ModuleBuilder, { body }: Program, parts: ScriptParts): Scope {
  const scope = new GivenScope(parts);
  for (const node of body) {
    if (node.type === 'EmptyStatement' || (node.type === 'ExportNamedDeclaration' && node.declaration)) continue;
    builder.attempt(() => declareTop(builder, node, scope));
  }
  return scope;
}

function declareTop(builder: ModuleBuilder, node: Program['body'][number], scope: Scope): void {
  if (node.type === 'VariableDeclaration') return constants(builder, node.declarations, node.kind, scope);
  if (node.type !== 'FunctionDeclaration')
    return builder.refuse(node, 'Outside of functions stand only const, functions and what is exported.');
  const { name } = node.id;
  if (GIVEN.has(name)) builder.refuse(node, `${name} is given already; call it something else.`);
  if (!scope.declare(name, { kind: 'function', node, scope, compiled: undefined }))
    builder.refuse(node, `${name} stands here already.`);
}

function constants(
  builder: ModuleBuilder,
  declarations: readonly { readonly id: Pattern; readonly init?: Parameters<typeof constantOf>[0] | null }[],
  kind: string,
  scope: Scope,
): void {
  for (const { id, init } of declarations) {
    const value = init ? constantOf(init, scope) : undefined;
    if (kind !== 'const' || id.type !== 'Identifier' || value === undefined) {
      if (id.type === 'Identifier') scope.declare(id.name, { kind: 'unknown' });
      return builder.refuse(id, 'Outside of functions a const stands for a number that is known at once.');
    }
    if (GIVEN.has(id.name)) builder.refuse(id, `${id.name} is given already; call it something else.`);
    if (!scope.declare(id.name, { kind: 'constant', value })) builder.refuse(id, `${id.name} stands here already.`);
  }
}

/** `channel({ sampleRate })`: names that are given anyway, said once more; or nothing. */
function checkContext(builder: ModuleBuilder, { params, id }: FunctionDeclaration): void {
  const [context, more] = params as (Pattern | undefined)[];
  if (more) builder.refuse(more, `${id.name} takes one thing: what it is given, as { sampleRate }.`);
  if (!context) return;
  const names = context.type === 'ObjectPattern' ? context.properties : [];
  for (const one of names)
    if (one.type !== 'Property' || !one.shorthand || one.value.type !== 'Identifier' || one.value.name !== 'sampleRate')
      builder.refuse(one, `${id.name} is given { sampleRate }.`);
  if (names.length === 0) builder.refuse(context, `${id.name} is given { sampleRate }.`);
}

/** What is done once, and what for each sample: the function that is returned at the end. */
function partsOf(builder: ModuleBuilder, form: Form, outer: FunctionDeclaration) {
  const { body } = outer.body;
  const last: Statement | undefined = body.at(-1);
  const sample = last?.type === 'ReturnStatement' ? last.argument : undefined;
  const names = form === 'pair' ? ['left', 'right', 'p'] : ['x', 'p'];
  const written = `(${names.join(', ')}) => …`;
  if (sample?.type !== 'ArrowFunctionExpression')
    return builder.refuse(last ?? outer, `${form} ends with what is done for each sample: return ${written}`);
  const count = sample.params.length;
  if (count < names.length - 1 || count > names.length || sample.params.some(({ type }) => type !== 'Identifier'))
    builder.refuse(
      sample,
      `For each sample there are ${form === 'pair' ? 'both sides' : 'a sample'} and the settings: ${written}`,
    );
  return { statements: body.slice(0, -1), sample };
}

function compileSample(
  builder: ModuleBuilder,
  library: Library,
  sample: ArrowFunctionExpression,
  scope: Scope,
  sides: number,
): Compiled {
  const called: Extract<Binding, { kind: 'function' }> = {
    kind: 'function',
    node: { ...sample, params: sample.params.slice(0, sides) } as ArrowFunctionExpression,
    scope,
    compiled: undefined,
  };
  const args = Array.from({ length: sides }, (): ScriptType => 'number');
  const compiled = compileFunction(builder, library, called, { node: sample as Node, args });
  const { result } = compiled;
  if (sides === 1 && result !== 'number') builder.refuse(sample, 'For each sample a number is given back.');
  if (sides === 2 && result !== 'pair')
    builder.refuse(sample, 'For each sample both sides are given back: [left, right].');
  return compiled;
}

/** `process(frames)`: a sample after the other; once the steps are used up the sound passes as it is. */
function defineProcess(
  builder: ModuleBuilder,
  sample: Compiled & { readonly line: number },
  inputs: readonly number[],
  outputs: readonly number[],
): void {
  const index = builder.reserve();
  const code = new Code(1);
  const results = outputs.map(() => code.newLocal('number'));
  const frame = () => code.op(OP.globalGet, FRAME);
  code.integer(0).op(OP.globalSet, FRAME);
  const done = code.open(OP.block, EMPTY_BLOCK);
  const top = code.open(OP.loop, EMPTY_BLOCK);
  frame().get(0).integer(8).op(OP.i32Mul, OP.i32GeS).branch(done, OP.brIf);
  for (const input of inputs) frame().load(input);
  code.op(...counting(sample.cost.always)).call(sample.index);
  for (const local of [...results].reverse()) code.set(local);
  // Loops look at their steps themselves; branches may have taken what was left, too.
  code.op(OP.globalGet, LATE, OP.i32Eqz, OP.globalGet, STEPS).number(0).op(OP.f64Lt, OP.i32And);
  code.open(OP.if, EMPTY_BLOCK);
  code.integer(sample.line).op(OP.globalSet, LATE).close();
  code.op(OP.globalGet, LATE);
  code.open(OP.if, EMPTY_BLOCK);
  inputs.forEach((input, side) => frame().load(input).set(results[side]));
  code.close();
  outputs.forEach((output, side) => frame().get(results[side]).store(output));
  frame().integer(8).op(OP.i32Add, OP.globalSet, FRAME).branch(top).close().close();
  builder.define(index, { params: [I32], results: [], locals: code.locals, code: code.bytes, exported: 'process' });
}
