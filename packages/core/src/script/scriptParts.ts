import { BLOCK_FRAMES } from '../model/block.ts';
import type { CallExpression, Expression, FunctionDeclaration, Node } from 'acorn';
import { constantOf } from './constants.ts';
import { delayLine } from './delayLine.ts';
import { compileFunction, compileStart } from './functionCompiler.ts';
import { GIVEN_FUNCTIONS, GIVEN_UNITS, NOISE_SOURCE, type GivenUnit, type Taken } from './givenUnits.ts';
import type { ModuleBuilder } from './moduleBuilder.ts';
import { parseScript } from './parse.ts';
import { Scope, type Binding, type Compiled, type Library } from './scope.ts';

const SIDES = 2;
/** Bytes of memory of a stage, and the rate at which they are counted, so that a script is allowed at all rates or none. */
const MOST_BYTES = 16 * 1024 * 1024;
const COUNTED_RATE = 192_000;
const MOST_WATCHED = 16;
const MOMENTARY: ReadonlySet<string> = new Set(['tempo', 'seconds', 'beat', 'watch']);
const FACTORS: readonly unknown[] = [2, 4, 8];

/** Doubles for each frame of a block that say where it lies, and how fast the music goes there. */
export type PlaceName = 'seconds' | 'beat' | 'tempo';

/** What a script turns out to use while it is compiled. */
export interface Facts {
  /** Seconds of its lines. */
  lineSeconds: number;
  /** Frames by which it is late by what it uses. */
  latency: number;
  /** Where the state of `noise()` stands, from the base of a side on; undefined where it is not used. */
  noise: number | undefined;
  readonly places: Map<PlaceName, number>;
  /** Watched values by what they are called: where a double for each frame of a block stands. */
  readonly watched: Map<string, number>;
}

interface Made {
  readonly start: number;
  readonly functions: ReadonlyMap<string, Compiled>;
}

/** Makes what a script is given as it is asked for: units in its outer function, and names that stand for themselves. */
export class ScriptParts {
  readonly facts: Facts = { lineSeconds: 0, latency: 0, noise: undefined, places: new Map(), watched: new Map() };
  private readonly builder: ModuleBuilder;
  private readonly library: Library;
  private readonly sampleRate: number;
  private bytesAtMost = 0;
  /** Where the script uses the unit that is being made: faults in its text are told there. */
  private user: Node | undefined;
  private noiseMade: Made | undefined;

  /** False for a whole clip, which has no moment. */
  private readonly runs: boolean;

  constructor(builder: ModuleBuilder, library: Library, sampleRate: number, runs = true) {
    this.builder = builder;
    this.library = library;
    this.sampleRate = sampleRate;
    this.runs = runs;
  }

  /** The functions of a text of ours, which may call what stands beside it. `node`: where the script uses it. */
  madeOf(node: Node, source: string, beside: Readonly<Record<string, Compiled>>): ReadonlyMap<string, Compiled> {
    const scope = this.innerScope();
    for (const [name, does] of Object.entries(beside)) scope.declare(name, { kind: 'unit', functions: { '': does } });
    return this.made(node, source, scope).functions;
  }

  /** What a name stands for that is given; undefined for all others. */
  find(name: string): Binding | undefined {
    if (!this.runs && MOMENTARY.has(name)) return undefined;
    switch (name) {
      case 'sampleRate':
        return { kind: 'constant', value: this.sampleRate };
      case 'tempo':
      case 'seconds':
      case 'beat':
        return { kind: 'frames', address: this.perFrame(this.facts.places, name) };
      case 'watch':
        return { kind: 'watch', placeOf: (watched) => this.watched(watched) };
      case 'noise':
        return this.noise();
      default:
        return Object.hasOwn(GIVEN_FUNCTIONS, name) ? this.givenFunction(name) : undefined;
    }
  }

  /** What is made by a call of something that is given; undefined for any other expression. */
  unitOf(node: Expression, scope: Scope): Binding | undefined {
    if (node.type !== 'CallExpression' || node.callee.type !== 'Identifier') return undefined;
    const { name } = node.callee;
    if (scope.find(name)) return undefined;
    if (name === 'delayLine') return this.line(node, this.size(node, name, scope));
    if (name === 'array') return this.array(node, this.size(node, name, scope));
    return Object.hasOwn(GIVEN_UNITS, name) ? this.unit(node, name, GIVEN_UNITS[name], scope) : undefined;
  }

  private refuse(node: Node, message: string): never {
    return this.builder.refuse(this.user ?? node, message);
  }

  private size(node: CallExpression, name: string, scope: Scope): number {
    const [size] = node.arguments;
    const value =
      size && size.type !== 'SpreadElement' && node.arguments.length === 1 ? constantOf(size, scope) : undefined;
    if (typeof value !== 'number' || !(value > 0))
      return this.refuse(node, `${name} takes one number that is known at once and above 0.`);
    return value;
  }

  private line(node: CallExpression, seconds: number): Binding {
    this.take(node, 4 * seconds * COUNTED_RATE);
    this.facts.lineSeconds += seconds;
    return delayLine(this.builder, seconds, this.sampleRate);
  }

  private array(node: CallExpression, length: number): Binding {
    if (!Number.isInteger(length)) this.refuse(node, `An array has a whole number of places; ${length} is none.`);
    this.take(node, 8 * length);
    const address = this.builder.allocate(length);
    this.builder.keep({ kind: 'array', address, doubles: length });
    return { kind: 'array', address, length };
  }

  /** Counts memory, which is refused before it is taken. */
  private take(node: CallExpression, bytes: number): void {
    this.bytesAtMost += SIDES * bytes;
    if (this.bytesAtMost > MOST_BYTES)
      this.refuse(
        node,
        `Lines and arrays take ${Math.ceil(this.bytesAtMost)} bytes for both sides at 192 kHz; at most ${MOST_BYTES} are allowed (10 s of lines).`,
      );
  }

  private unit(node: CallExpression, name: string, given: GivenUnit, scope: Scope): Binding {
    const { takes, functions } = given;
    if (node.arguments.length !== takes.length)
      this.refuse(node, `${name} takes ${takes.map((one) => one.name).join(' and ') || 'nothing'}.`);
    const inner = this.innerScope();
    let more: readonly string[] = [];
    takes.forEach((taken, n) => {
      const arg = node.arguments[n];
      if (arg.type === 'SpreadElement') return this.refuse(arg, '... is not allowed.');
      if (taken.takes === 'function') {
        const shape = this.shape(arg, scope);
        more = shape.node.params.slice(1).map((_, m) => `value${m}`);
        inner.declare(taken.name, shape);
      } else inner.declare(taken.name, { kind: 'constant', value: this.known(arg, taken, scope) });
      return undefined;
    });
    if (name === 'oversampled' && !FACTORS.includes(constantOf(node.arguments[0] as Expression, scope)))
      this.refuse(node, 'oversampled works with 2, 4 or 8 samples for each one.');
    this.facts.latency += given.latency ?? 0;
    const words = node.arguments.filter((_, n) => typeof takes[n].takes !== 'string' || name === 'oversampled');
    const kind = [name, ...words.map((one) => ('value' in one ? String(one.value) : ''))].join(' ');
    const made = this.builder.under(kind, () => this.made(node, given.source(more), inner));
    const named = Object.keys(functions).map((key) => [key, made.functions.get(key === '' ? 'run' : key)!]);
    return { kind: 'unit', start: made.start, functions: Object.fromEntries(named) as Record<string, Compiled> };
  }

  private known(arg: Expression, { name, takes, min = -Infinity, max = Infinity }: Taken, scope: Scope): number {
    if (typeof takes !== 'string') {
      const word = arg.type === 'Literal' ? arg.value : undefined;
      if (typeof word !== 'string' || !takes.includes(word))
        return this.refuse(arg, `This is one of ${takes.map((one) => `'${one}'`).join(', ')}.`);
      return takes.indexOf(word);
    }
    const value = constantOf(arg, scope);
    if (typeof value !== 'number' || !(value >= min && value <= max))
      return this.refuse(arg, `${name} is a number that is known at once, from ${min} to ${max}.`);
    return value;
  }

  /** A function that a unit is given. It is compiled at once, so that faults in it are told where they stand. */
  private shape(arg: Expression, scope: Scope): Extract<Binding, { kind: 'function' }> {
    const named = arg.type === 'Identifier' ? scope.find(arg.name) : undefined;
    const found =
      named?.kind === 'function'
        ? named
        : arg.type === 'ArrowFunctionExpression'
          ? ({ kind: 'function', node: arg, scope, compiled: undefined } as Extract<Binding, { kind: 'function' }>)
          : this.refuse(arg, 'A function of the sample is needed here: (x) => …');
    const args = found.node.params.map((): 'number' => 'number');
    const { result } = compileFunction(this.builder, this.library, found, { node: arg, args });
    if (args.length === 0 || result !== 'number') this.refuse(arg, 'The function takes a sample and gives one.');
    return found;
  }

  private givenFunction(name: string): Binding {
    const node = textOf(GIVEN_FUNCTIONS[name].source);
    return { kind: 'function', node, scope: new Scope(), compiled: undefined, library: { ...this.library, line: 0 } };
  }

  /** Its state is set from outside before anything runs, so what would make it ready is never called. */
  private noise(): Binding {
    this.facts.noise ??= this.builder.allocated.perSide;
    this.noiseMade ??= this.builder.under('noise', () => this.made(undefined, NOISE_SOURCE, this.innerScope()));
    return { kind: 'unit', functions: { '': this.noiseMade.functions.get('run')! } };
  }

  private made(node: Node | undefined, source: string, scope: Scope): Made {
    const { builder } = this;
    const make = textOf(source);
    const library: Library = { ...this.library, line: node?.loc?.start.line ?? 0 };
    const outer = this.user;
    this.user ??= node;
    const keeping = { scope, unitOf: (inside: Expression, within: Scope) => this.unitOf(inside, within) };
    const start = compileStart(builder, library, make, make.body.body, keeping);
    const functions = new Map<string, Compiled>();
    for (const one of make.body.body) {
      const found = one.type === 'FunctionDeclaration' ? scope.find(one.id.name) : undefined;
      if (one.type !== 'FunctionDeclaration' || found?.kind !== 'function') continue;
      const args = one.params.map((): 'number' => 'number');
      functions.set(one.id.name, compileFunction(builder, library, found, { node: one, args }));
    }
    this.user = outer;
    return { start, functions };
  }

  private perFrame<T>(places: Map<T, number>, name: T): number {
    const known = places.get(name);
    if (known !== undefined) return known;
    const address = this.builder.allocateShared(BLOCK_FRAMES);
    places.set(name, address);
    return address;
  }

  private watched(name: string): number | undefined {
    const { watched } = this.facts;
    return watched.has(name) || watched.size < MOST_WATCHED ? this.perFrame(watched, name) : undefined;
  }

  private innerScope(): Scope {
    const scope = new Scope();
    scope.declare('sampleRate', { kind: 'constant', value: this.sampleRate });
    return scope;
  }
}

const read = new Map<string, FunctionDeclaration>();

/** The function that a text of ours is. */
function textOf(source: string): FunctionDeclaration {
  let known = read.get(source);
  if (!known) read.set(source, (known = parseScript(source).body[0] as FunctionDeclaration));
  return known;
}

/** The outermost names of a script: its own, and what it is given. */
export class GivenScope extends Scope {
  private readonly parts: ScriptParts;
  private readonly asked = new Map<string, Binding | undefined>();

  constructor(parts: ScriptParts) {
    super();
    this.parts = parts;
  }

  override find(name: string): Binding | undefined {
    const own = super.find(name);
    if (own) return own;
    if (!this.asked.has(name)) this.asked.set(name, this.parts.find(name));
    return this.asked.get(name);
  }
}
