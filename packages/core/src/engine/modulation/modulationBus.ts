import { createRandom } from '../../dsp/random.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { CONTROL_FRAMES, type ModulatorProcessor } from '../../modulation/modulators/contract.ts';
import { PhaseTable } from '../../modulation/modulators/phaseAccumulator.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Params } from '../../params/params.ts';
import type { Span } from '../../model/clip.ts';
import { PASS_SECONDS } from './modulatedParameter.ts';
import { ModulatedSettings } from './modulatedSettings.ts';
import { countedFor, modulatorDefinition, modulatorShape, type PlannedModulator } from '../plan/plannedModulation.ts';
import type { ModulationSource, Mover } from './modulationSource.ts';
import { PhaseAhead } from './phaseAhead.ts';

/** Values kept of each modulator and side at the least; a power of two. */
const LEAST_KEPT = 256;
const STEPS = BLOCK_FRAMES / CONTROL_FRAMES;
/**
 * Blocks, times modulators, that are summed up ahead in the time of one block, at some 2 µs each; and while nothing plays.
 */
const AHEAD = 48;
const AHEAD_AT_REST = 256;
/** The longest sound that it is summed up over, in blocks: 46 minutes at 48 kHz, 8 MB a modulator. */
const MOST_AHEAD = 1 << 20;
/** Turns apart that nobody hears. */
const SAME_TURNS = 1e-4;

/** A modulator at work. */
interface RunningModulator extends Mover {
  planned: PlannedModulator;
  readonly settings: ModulatedSettings;
  readonly processor: ModulatorProcessor<Params>;
  kept: readonly [Float64Array, Float64Array];
  /** Where it was when its settings were changed, and how many frames ago. */
  readonly from: Float64Array;
  passed: number;
  changed: boolean;
  /** True once it has thrown; it stands still from then on, until playing begins anew. */
  failed: boolean;
}

interface BusOptions {
  /** A modulator that throws stands still, and nothing is thrown. */
  readonly silencesFaults?: boolean;
  /** Frames by which the latest stage is late. */
  readonly latency?: number;
  /** Playing may begin anywhere, jump, and be changed: moved rates are summed up beside it. */
  readonly sumsAhead?: boolean;
  /** Turns of modulators whose rate is moved, where the run begins; by id. */
  readonly begun?: ReadonlyMap<string, number>;
}

/**
 * The modulators of a chain at work, one for all stages that run together. Whoever runs the stages lets it hear each block
 * first; the stages then ask for a modulator's value where their own sound is, however late that comes. Allocates nothing
 * once made, but for `update`.
 */
export class ModulationBus implements ModulationSource {
  readonly sampleRate: number;
  /** Where the source lies, in frames of the timeline. */
  readonly span: Span;
  private movers: RunningModulator[] = [];
  /** Those that the plan knows no more and that stages on their way out still listen to; the latest to leave first. */
  private leaving: RunningModulator[] = [];
  private readonly options: BusOptions;
  private ahead: PhaseAhead | undefined;
  private aheadShape = '';
  /** Those of its modulators that `ahead` runs too, and whether it covered the last block. */
  private runAhead: readonly boolean[] = [];
  private covered = false;
  /** Where the block that was heard last begins, and which of the kept values stands there. */
  private position = 0;
  private written = 0;
  private fresh = true;
  private readonly passFrames: number;
  /** Of the rings. */
  private size = LEAST_KEPT;

  constructor(modulators: readonly PlannedModulator[], sampleRate: number, span: Span, options: BusOptions = {}) {
    this.options = options;
    this.sampleRate = sampleRate;
    this.passFrames = PASS_SECONDS * sampleRate;
    this.span = span;
    this.update(modulators, options.latency);
  }

  /** A modulator of the latest plan. Whoever moves by it holds on to it and hears it until `release`. */
  find(id: string): RunningModulator | undefined {
    return this.movers.find(({ planned }) => planned.key === id);
  }

  /**
   * Passes over to other modulators; one that is still there and has the same words goes on. Those that are not run on
   * until `release`.
   */
  update(modulators: readonly PlannedModulator[], latency = 0): void {
    this.keepFor(latency);
    const before = this.movers;
    this.movers = [];
    for (const planned of modulators) {
      const shape = modulatorShape(planned);
      const old = before.find((mover) => modulatorShape(mover.planned) === shape);
      const mover = old ?? this.create(planned);
      // New numbers come by `setValues`, which also has it pass over to them.
      if (old) old.planned = planned;
      this.movers.push(mover);
      // Only those before it can move it.
      mover.settings.setMoves(planned.moves, this);
    }
    // In front: one that has left before may be moved by one that leaves now, never the other way round.
    this.leaving = [...before.filter((mover) => !this.movers.includes(mover)), ...this.leaving];
    if (this.options.sumsAhead) this.sumAhead();
  }

  /** Keeps as many values as a stage so late asks for; what is kept by now stays. */
  private keepFor(latency: number): void {
    let size = this.size;
    while (size < latency / CONTROL_FRAMES + 2 * STEPS) size *= 2;
    if (size === this.size) return;
    const grown = (from: Float64Array) => {
      const into = new Float64Array(size);
      for (let at = this.written + STEPS - from.length + 1; at <= this.written + STEPS; at++)
        into[at & (size - 1)] = from[at & (from.length - 1)];
      return into;
    };
    for (const mover of [...this.movers, ...this.leaving]) mover.kept = [grown(mover.kept[0]), grown(mover.kept[1])];
    this.size = size;
  }

  /** Has the turns of moved rates summed up; goes on with the sums there are where nothing of them is new. */
  private sumAhead(): void {
    const { sampleRate, span, movers } = this;
    const planned = countedFor(movers.map((mover) => mover.planned));
    const shape = planned.map(modulatorShape).join('\n');
    this.runAhead = movers.map((mover) => planned.includes(mover.planned));
    if (shape === this.aheadShape) return;
    this.aheadShape = shape;
    this.covered = false;
    this.ahead = undefined;
    for (const mover of movers) if (mover.processor.turns) mover.processor.turns.table = undefined;
    if (planned.length === 0) return;
    const blocks = Math.min(MOST_AHEAD, Math.ceil(Math.max(0, span.end) / BLOCK_FRAMES));
    const runner = new ModulationBus(planned, sampleRate, span);
    const counted = movers.flatMap(({ planned: { key }, processor: { turns } }) => {
      const same = runner.find(key)?.processor.turns;
      if (!turns?.moved || !same) return [];
      const table = new PhaseTable(blocks);
      turns.table = table;
      return [{ turns: same, table }];
    });
    const numbers = runner.movers.reduce((sum, { settings }) => sum + settings.count + settings.depths, 0);
    this.ahead = new PhaseAhead(runner, counted, { blocks, numbers, size: planned.length });
  }

  /** How many stand still because they threw. */
  get faults(): number {
    let faults = 0;
    for (let m = 0; m < this.movers.length; m++) if (this.movers[m].failed) faults++;
    return faults;
  }

  /** Tells that no stage is on its way out any more. Allocates nothing. */
  release(): void {
    this.leaving.length = 0;
  }

  private create(planned: PlannedModulator): RunningModulator {
    const definition = modulatorDefinition(planned.kind);
    const { sampleRate, span } = this;
    const settings = new ModulatedSettings(definition.params, planned.values, sampleRate);
    const processor = definition.create(
      {
        sampleRate,
        span,
        seed: planned.seed,
        random: createRandom(planned.seed),
        sounds: planned.sounds,
        moves: (key) => planned.moves.some((move) => move.key === key),
      },
      planned.values,
    );
    if (processor.turns) processor.turns.begun = this.options.begun?.get(planned.key);
    const kept = [new Float64Array(this.size), new Float64Array(this.size)] as const;
    if (!this.fresh) {
      // It comes in while others run.
      settings.advance(this.position, BLOCK_FRAMES);
      settings.over(0, BLOCK_FRAMES);
      processor.start(this.position, settings.values);
      kept.forEach((side, s) => side.fill(processor.output[s]));
    }
    return {
      planned,
      polarity: definition.polarity,
      settings,
      processor,
      kept,
      from: new Float64Array(2),
      passed: Infinity,
      changed: false,
      failed: false,
    };
  }

  /** Takes numbers from a list in the order of `flatValues`; returns the place behind them. */
  setValues(flat: ArrayLike<number>, from: number): number {
    let at = from;
    for (let m = 0; m < this.movers.length; m++) {
      const mover = this.movers[m];
      // Its settings jump and its value passes over: a rate on its way would run wild through the turns.
      if (mover.settings.jumpTo(flat, at)) mover.changed = true;
      const next = mover.settings.setDepths(flat, at + mover.settings.count);
      if (this.ahead && this.runAhead[m]) this.ahead.giveNumbers(flat, at, next - at);
      at = next;
    }
    this.ahead?.endNumbers();
    return at;
  }

  reset(): void {
    this.fresh = true;
    this.written = 0;
    this.leaving.length = 0;
    for (let m = 0; m < this.movers.length; m++) {
      this.movers[m].failed = false;
      this.movers[m].settings.reset();
    }
  }

  /** To be called instead of `advance` while nothing plays: sums on, so that it is done when playing begins. */
  rest(): void {
    if (this.ahead) this.ahead.run(Math.ceil(AHEAD_AT_REST / this.ahead.size));
  }

  /** Hears a block, whose first frame is at `position` of the timeline, and moves on through it. */
  advance(input: readonly Float32Array[], position: number): void {
    if (this.movers.length === 0 && this.leaving.length === 0) return;
    if (!this.fresh) this.written += STEPS;
    this.position = position;
    if (this.ahead) this.catchUp(this.ahead, position);
    for (let m = 0; m < this.movers.length; m++) this.run(this.movers[m], input, position);
    for (let m = 0; m < this.leaving.length; m++) this.run(this.leaving[m], input, position);
    this.fresh = false;
  }

  /** Sums on; when the sums reach the sound, those that have gone another way pass over to where they belong. */
  private catchUp(ahead: PhaseAhead, position: number): void {
    ahead.run(Math.ceil(AHEAD / ahead.size));
    const covers = ahead.covers(position + BLOCK_FRAMES);
    if (covers && !this.covered && !this.fresh)
      for (let m = 0; m < this.movers.length; m++) {
        const { turns } = this.movers[m].processor;
        if (turns?.table && Math.abs(turns.table.at(position) - turns.turns) > SAME_TURNS)
          this.movers[m].changed = true;
      }
    this.covered = covers;
  }

  private run(mover: RunningModulator, input: readonly Float32Array[], position: number): void {
    if (!this.options.silencesFaults) this.advanceOne(mover, input, position);
    else {
      if (!mover.failed) {
        try {
          this.advanceOne(mover, input, position);
        } catch {
          mover.failed = true;
        }
      }
      if (mover.failed) this.standStill(mover);
    }
  }

  private advanceOne(mover: RunningModulator, input: readonly Float32Array[], position: number): void {
    const { settings, processor } = mover;
    const left = mover.kept[0];
    const right = mover.kept[1];
    settings.advance(position, BLOCK_FRAMES);
    for (let step = 0; step < STEPS; step++) {
      const at = step * CONTROL_FRAMES;
      settings.over(at, CONTROL_FRAMES);
      if (this.fresh && step === 0) {
        processor.start(position, settings.values);
        left[this.written & (this.size - 1)] = processor.output[0];
        right[this.written & (this.size - 1)] = processor.output[1];
      }
      processor.advance(input, at, CONTROL_FRAMES, position + at, settings.values);
      const place = (this.written + step + 1) & (this.size - 1);
      if (mover.changed) {
        mover.changed = false;
        mover.passed = this.fresh ? Infinity : 0;
        mover.from[0] = left[this.written & (this.size - 1)];
        mover.from[1] = right[this.written & (this.size - 1)];
      }
      mover.passed += CONTROL_FRAMES;
      const way = smoothStep(mover.passed / this.passFrames);
      left[place] = way === 1 ? processor.output[0] : mover.from[0] + (processor.output[0] - mover.from[0]) * way;
      right[place] = way === 1 ? processor.output[1] : mover.from[1] + (processor.output[1] - mover.from[1]) * way;
    }
  }

  /** Repeats the value it had before the block. */
  private standStill({ kept }: RunningModulator): void {
    for (let side = 0; side < 2; side++)
      for (let step = 0; step < STEPS; step++)
        kept[side][(this.written + step + 1) & (this.size - 1)] = kept[side][this.written & (this.size - 1)];
  }

  /** A modulator's value on a side at a place of the timeline, not behind the block that was heard last. */
  value({ kept }: Mover, side: number, position: number): number {
    const values = kept[side];
    const steps = (position - this.position) / CONTROL_FRAMES;
    const oldest = Math.max(-this.written, STEPS + 1 - this.size);
    const bounded = steps < oldest ? oldest : steps > STEPS ? STEPS : steps;
    const whole = Math.floor(bounded);
    const share = bounded - whole;
    const from = values[(this.written + whole) & (this.size - 1)];
    return share === 0 ? from : from + share * (values[(this.written + whole + 1) & (this.size - 1)] - from);
  }
}
