import { BLOCK_FRAMES } from '../model/block.ts';
import type { Params } from '../params/params.ts';
import { HELD, type BlockValues, type LiveContext, type LiveProcessor } from '../stages/contract.ts';
import type { Ramp } from '../model/ramp.ts';
import type { FormFacts } from './compileForm.ts';
import type { PlaceName } from './scriptParts.ts';
import type { PreparedScript } from './scriptRuntime.ts';
import { STEPS_A_SAMPLE } from './cost.ts';
import { STEPS_TO_START } from './scriptBegin.ts';
import { instanceOf, type ScriptExports } from './scriptInstance.ts';

/** What comes out is held within it. */
const MOST = 64;

/** A setting as the script reads it: a double for each frame of a block. */
interface Fed {
  readonly key: string;
  readonly frames: Float64Array;
  readonly words: readonly string[] | undefined;
  /** What all frames are at, or NaN where they differ. */
  standing: number;
}

/** Why a script passes its input on as it is: none, too many steps, a value that is not finite. */
export type ScriptFailure = 'none' | 'too long' | 'not finite';

/** A script at work: one instance with a memory of its own, in which both sides have their places. */
export class ScriptProcessor<P extends Params> implements LiveProcessor<P> {
  // In silence, too, it may count, or make a sound.
  readonly memoryFrames = Infinity;
  failure: ScriptFailure = 'none';
  /** Line at which it had worked too long. */
  lateLine = 0;
  get givenUp(): number {
    if (this.failure === 'none') return this.held ? HELD : 0;
    return this.failure === 'too long' ? this.lateLine : -1;
  }
  /** True once what came out had to be held. */
  held = false;
  private readonly exports: ScriptExports;
  private readonly facts: FormFacts;
  private readonly fed: readonly Fed[];
  private readonly places: readonly { readonly name: PlaceName; readonly frames: Float64Array }[];
  private readonly inputs: readonly Float64Array[];
  private readonly outputs: readonly Float64Array[];
  private readonly watches: readonly Float64Array[];
  private readonly own: Float64Array;
  private readonly ownBytes: Uint8Array;
  private readonly begun: PreparedScript['begun'];
  private readonly seeds: readonly number[];
  private readonly context: LiveContext;
  private steps = 0;
  private beat = 0;
  /** True once something that came out was no number. */
  private odd = false;

  constructor(prepared: PreparedScript, params: Params, context: LiveContext) {
    const { facts, begun } = prepared;
    this.context = context;
    this.facts = facts;
    this.begun = begun;
    this.exports = instanceOf(prepared);
    const { buffer } = this.exports.memory;
    const at = (address: number) => new Float64Array(buffer, address, BLOCK_FRAMES);
    this.inputs = facts.inputs.map(at);
    this.outputs = facts.outputs.map(at);
    this.fed = Object.entries(facts.settings).map(([key, address]) => {
      const param = params[key];
      return { key, frames: at(address), words: param.type === 'choice' ? param.options : undefined, standing: NaN };
    });
    this.places = facts.places.map(([name, address]) => ({ name, frames: at(address) }));
    this.watches = facts.watched.map(([, address]) => at(address));
    this.own = new Float64Array(buffer, facts.bases[0]);
    this.ownBytes = new Uint8Array(buffer, facts.bases[0]);
    this.seeds = facts.bases.map(() => 1 + Math.floor(context.random() * 4294967294));
    this.begin();
  }

  /** The nth of the values that it watches, for each frame of the last block. */
  watched(n: number): Float64Array {
    return this.watches[n];
  }

  /** Goes on with what another text of the script has kept: what is there under the same name and of the same kind. */
  takeOver(before: LiveProcessor<never>): boolean {
    if (!(before instanceof ScriptProcessor) || before.failure !== 'none' || this.failure !== 'none') return false;
    const { bases } = before.facts;
    if (bases.length !== this.facts.bases.length) return false;
    for (const place of this.facts.kept) {
      const found = before.facts.kept.find(({ name, kind }) => name === place.name && kind === place.kind);
      if (!found) continue;
      this.facts.bases.forEach((base, side) => {
        const from = { buffer: before.exports.memory.buffer, base: bases[side], place: found };
        const to = { buffer: this.exports.memory.buffer, base, place };
        if (place.kind === 'line') copyLine(from, to);
        else copyNumbers(from, to);
      });
    }
    return true;
  }

  reset(): void {
    this.own.fill(0);
    this.failure = 'none';
    this.lateLine = 0;
    this.held = false;
    this.begin();
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: BlockValues<P>,
    position: number,
  ): void {
    if (this.failure !== 'none') {
      this.pass(input, output, frames);
      return;
    }
    this.feed(values, frames);
    this.place(frames, position);
    this.steps = Math.min(STEPS_A_SAMPLE * BLOCK_FRAMES, this.steps + STEPS_A_SAMPLE * frames);
    const left = this.steps;
    if (this.facts.form === 'pair') this.pair(input, output, frames);
    else
      for (let c = 0; c < output.length; c++) {
        this.exports.steps.value = left;
        this.side(input[c], output[c], frames, c);
      }
    if (this.exports.late.value !== 0) {
      this.failure = 'too long';
      this.lateLine = this.exports.late.value;
    }
    if (this.odd) {
      this.odd = false;
      this.failure = 'not finite';
    }
  }

  private side(input: Float32Array, output: Float32Array, frames: number, side: number): void {
    const { exports } = this;
    const into = this.inputs[0];
    for (let i = 0; i < frames; i++) into[i] = input[i];
    exports.base.value = this.facts.bases[side];
    exports.process(frames);
    this.steps = Math.min(this.steps, exports.steps.value);
    this.give(this.outputs[0], output, frames);
  }

  private pair(input: readonly Float32Array[], output: readonly Float32Array[], frames: number): void {
    const { exports, inputs } = this;
    const left = input[0];
    const right = input[input.length - 1];
    for (let i = 0; i < frames; i++) {
      inputs[0][i] = left[i];
      inputs[1][i] = right[i];
    }
    exports.base.value = this.facts.bases[0];
    exports.steps.value = this.steps;
    exports.process(frames);
    this.steps = exports.steps.value;
    for (let c = 0; c < output.length; c++) this.give(this.outputs[c], output[c], frames);
  }

  /** What came out, held within bounds; what is no number becomes silence. */
  private give(from: Float64Array, to: Float32Array, frames: number): void {
    for (let i = 0; i < frames; i++) {
      const y = from[i];
      if (y >= -MOST && y <= MOST) to[i] = y;
      else if (y - y === 0) {
        to[i] = y > 0 ? MOST : -MOST;
        this.held = true;
      } else {
        to[i] = 0;
        this.odd = true;
      }
    }
  }

  private pass(input: readonly Float32Array[], output: readonly Float32Array[], frames: number): void {
    for (let c = 0; c < output.length; c++) {
      const from = input[c < input.length ? c : 0];
      const to = output[c];
      for (let i = 0; i < frames; i++) to[i] = from[i];
    }
  }

  private feed(values: BlockValues<P>, frames: number): void {
    for (let n = 0; n < this.fed.length; n++) {
      const one = this.fed[n];
      const value = values[one.key] as Ramp | string | boolean;
      if (typeof value === 'object') {
        if (value.start === value.end) stand(one, value.start);
        else {
          const step = (value.end - value.start) / frames;
          for (let i = 0; i < frames; i++) one.frames[i] = value.start + i * step;
          one.standing = NaN;
        }
      } else if (typeof value === 'boolean') stand(one, value ? 1 : 0);
      else if (one.words) stand(one, one.words.indexOf(value));
    }
  }

  private place(frames: number, position: number): void {
    const { beats, sampleRate } = this.context;
    for (let n = 0; n < this.places.length; n++) {
      const { name, frames: to } = this.places[n];
      for (let i = 0; i < frames; i++) {
        if (name === 'seconds') to[i] = (position + i) / sampleRate;
        else {
          const { frame, quarter, tempo } = beats[this.beatAt(position + i)];
          to[i] = name === 'tempo' ? tempo : quarter + ((position + i - frame) * tempo) / (60 * sampleRate);
        }
      }
    }
  }

  /** Which of the tempos counts at a frame. */
  private beatAt(position: number): number {
    const { beats } = this.context;
    let n = this.beat;
    while (n > 0 && beats[n].frame > position) n--;
    while (n + 1 < beats.length && beats[n + 1].frame <= position) n++;
    this.beat = n;
    return n;
  }

  /** Makes each side ready. */
  private begin(): void {
    const { exports, facts } = this;
    exports.late.value = 0;
    this.steps = 0;
    if (this.begun) {
      this.ownBytes.set(this.begun);
      return;
    }
    for (let side = 0; side < facts.bases.length; side++) {
      exports.base.value = facts.bases[side];
      if (facts.noise !== undefined)
        this.own[(facts.bases[side] - facts.bases[0] + facts.noise) / 8] = this.seeds[side];
      exports.steps.value = STEPS_TO_START;
      exports.start();
    }
    if (exports.late.value !== 0) {
      this.failure = 'too long';
      this.lateLine = exports.late.value;
    }
  }
}

interface Kept {
  readonly buffer: ArrayBuffer;
  readonly base: number;
  readonly place: FormFacts['kept'][number];
}

function copyNumbers(from: Kept, to: Kept): void {
  const doubles = Math.min(from.place.doubles, to.place.doubles);
  const [source, target] = [from, to].map(({ buffer, base, place }) =>
    place.kind === 'boolean'
      ? new Int32Array(buffer, base + place.address, doubles)
      : new Float64Array(buffer, base + place.address, doubles),
  );
  target.set(source);
}

/** The newest part of a line, where another one is as long or not: each is a ring that is counted round. */
function copyLine(from: Kept, to: Kept): void {
  const [source, target] = [from, to].map(({ buffer, base, place }) => ({
    samples: new Float32Array(buffer, base + place.address, 2 * place.doubles),
    count: new Float64Array(buffer, base + place.count!, 1),
  }));
  const [written] = source.count;
  target.count[0] = written;
  const [sourceFrames, targetFrames] = [source.samples.length, target.samples.length];
  // In pieces up to the end of either ring: a sample at a time would take tens of milliseconds.
  for (let n = Math.max(0, written - Math.min(sourceFrames, targetFrames)); n < written;) {
    const [out, into] = [n % sourceFrames, n % targetFrames];
    const frames = Math.min(written - n, sourceFrames - out, targetFrames - into);
    target.samples.set(source.samples.subarray(out, out + frames), into);
    n += frames;
  }
}

/** All frames at one value. */
function stand(fed: Fed, value: number): void {
  if (fed.standing === value) return;
  fed.frames.fill(value);
  fed.standing = value;
}
