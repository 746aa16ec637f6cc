import type { Catalogue } from '../../catalogue/catalogue.ts';
import { STAGE_PARAMS } from '../../stages/stageParams.ts';
import { createRandom } from '../../dsp/random.ts';
import { HELD, OVERDUE, type LiveProcessor, type Prepared } from '../../stages/contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { branchWord, type Params } from '../../params/params.ts';
import { DryWet } from './dryWet.ts';
import type { ModulationBus } from '../modulation/modulationBus.ts';
import { ModulatedSettings } from '../modulation/modulatedSettings.ts';
import { prepareStage } from '../plan/prepare.ts';
import { latencyOf, liveStageOf, pathLatency, wordsOf } from '../plan/plan.ts';
import type { Planned } from '../plan/planned.ts';
import type { TimelineShift } from '../plan/tempoLanes.ts';
import type { BranchAtWork, BranchMaker, UnitAtWork } from './row.ts';
import { TimeGuard } from './timeGuard.ts';
import { UNWATCHED, type Watch } from './watch.ts';

/** Stands in for a processor that could not be made. */
const MUTE: LiveProcessor<Params> = {
  memoryFrames: 0,
  reset: () => undefined,
  process: () => undefined,
};

/** Below this an output counts as silent: −300 dB, far under the last bit of any format. */
const SILENCE = 1e-15;

/**
 * One live stage at work: its processor, its mix with the equally late dry sound, its level. Settings are followed
 * without a click. It falls asleep when it has been silent longer than it remembers, which also keeps numbers from
 * becoming so small that they slow the machine down; it starts afresh when its output is no number. Where faults are
 * silenced and its processor throws, it is silent from there on until it is reset.
 */
export class StageUnit implements UnitAtWork {
  readonly id: string;
  readonly kind: string;
  readonly title: string;
  readonly output: Float32Array[];
  readonly latency: number;
  /** Frames by which its input lags the timeline: the latency of what comes before. */
  late = 0;
  /** Highest sample since `takePeak`. */
  private peak = 0;
  /** How often it had to be started afresh. */
  failures = 0;
  /** True while it is silent because it threw. */
  faulted = false;
  /** True when its processor could not be made: then it is silent for good. */
  private mute = false;
  /** Microseconds used since `takeCost`, by the clock given. */
  private cost = 0;
  /** Of a stage of one's own: what it does is not known before it is heard. */
  private readonly guard: TimeGuard | undefined;
  private readonly watch: Watch;
  readonly branches: readonly BranchAtWork[];
  private readonly key: string;
  /** One for all channels, or one a side. */
  private readonly processors: readonly LiveProcessor<Params>[];
  /** What the processors read. */
  private readonly settings: readonly ModulatedSettings[];
  private readonly mixing: DryWet;
  private readonly movement: ModulationBus;
  /** A piece of a block that is cut. */
  private readonly pieceIn: readonly Float32Array[];
  private readonly pieceOut: readonly Float32Array[];
  /** The sides one by one, for as many processors. */
  private readonly sidesIn: readonly Float32Array[][];
  private readonly sidesOut: readonly Float32Array[][];
  /** Frames it can be silent for and still have something to say, branches included. */
  readonly memoryFrames: number;
  /** True once something was run through it since it was made or reset. */
  private used = false;
  private readonly shifts: readonly TimelineShift[];
  private silentFrames = 0;
  private asleep = false;
  private readonly catalogue: Catalogue;

  /** `makeBranch` puts its branches to work; `earlier` are those that are run before this stage in every block. */
  constructor(
    catalogue: Catalogue,
    planned: Planned,
    movement: ModulationBus,
    inputChannels: number,
    makeBranch: BranchMaker,
    watch: Watch = UNWATCHED,
    earlier: readonly BranchAtWork[] = [],
  ) {
    this.catalogue = catalogue;
    const { sampleRate } = movement;
    this.shifts = planned.shifts ?? [];
    this.watch = watch;
    this.movement = movement;
    const stage = liveStageOf(catalogue, planned);
    this.id = planned.id;
    this.kind = planned.kind;
    this.title = stage.title;
    this.guard = stage.steps && watch.silencesFaults ? new TimeGuard(sampleRate) : undefined;
    this.key = unitKey(catalogue, planned, sampleRate, inputChannels);
    const outputChannels = stage.widens ? 2 : inputChannels;
    this.output = Array.from({ length: outputChannels }, () => new Float32Array(BLOCK_FRAMES));
    this.latency = latencyOf(catalogue, planned, sampleRate);
    const { holds } = stage;
    const longest = Math.max(0, ...planned.branches.map(({ stages }) => pathLatency(catalogue, stages, sampleRate)));
    const branches: BranchAtWork[] = [];
    if (holds)
      for (const [index, branch] of planned.branches.entries())
        branches.push(
          makeBranch(catalogue, branch, {
            movement,
            inputChannels: holds.inputChannels(planned.values, inputChannels),
            placement: holds.placement(planned.values, index),
            latency: longest,
            watch,
            earlier: [...earlier, ...branches],
          }),
        );
    this.branches = branches;
    const sides = planned.apart && outputChannels === 2 ? 2 : 1;
    const context = (prepared: Prepared | undefined) => ({
      sampleRate,
      kernels: catalogue.kernels,
      prepared,
      beats: planned.beats ?? [],
      inputChannels: inputChannels / sides,
      outputChannels: outputChannels / sides,
      random: createRandom(planned.seed),
      sounds: planned.sounds,
      side: (key: string) => earlier.find(({ id }) => branchWord(id) === planned.values[key]),
      branches: this.branches,
    });
    try {
      const prepared = planned.prepared ?? prepareStage(catalogue, planned, sampleRate);
      this.processors = Array.from({ length: sides }, () => stage.create(context(prepared), planned.values));
    } catch (error) {
      if (!watch.silencesFaults) throw error;
      this.mute = true;
      this.faulted = true;
      this.processors = Array.from({ length: sides }, () => MUTE);
    }
    this.pieceIn = Array.from({ length: inputChannels }, () => new Float32Array(BLOCK_FRAMES));
    this.pieceOut = this.output.map(() => new Float32Array(BLOCK_FRAMES));
    this.sidesIn = [[this.output[0]], [this.output[0]]];
    this.sidesOut = [[this.output[0]], [this.output[0]]];
    const inside = stage.takesUpLatency ? 0 : longest;
    const padding = this.latency - inside - (stage.latencyFrames?.(planned.values, sampleRate) ?? 0);
    this.memoryFrames =
      this.processors[0].memoryFrames +
      this.latency +
      Math.max(0, ...this.branches.map((branch) => branch.memoryFrames));
    const { latency } = this;
    this.mixing = new DryWet(planned, stage.mixLaw, outputChannels, { latency, padding }, sampleRate);
    this.settings = this.processors.map(() => new ModulatedSettings(stage.params, planned.values, sampleRate));
    this.setMoves(planned);
  }

  private setMoves({ moves }: Planned): void {
    this.mixing.setMoves(moves, this.movement);
    const own = moves.filter(({ key }) => !(key in STAGE_PARAMS));
    this.settings.forEach((settings, side) => settings.setMoves(own, this.movement, side));
  }

  /** True when this unit can run the planned stage by taking on its numbers. */
  fits(planned: Planned, sampleRate: number, inputChannels: number): boolean {
    return unitKey(this.catalogue, planned, sampleRate, inputChannels) === this.key;
  }

  /** Takes on another plan that it fits. Allocates. */
  update(planned: Planned): void {
    this.setMoves(planned);
    for (let b = 0; b < this.branches.length; b++) this.branches[b].update(planned.branches[b]);
  }

  /** Takes its numbers from a list in the order of `flatValues`; returns the place behind them. Allocates nothing. */
  setValues(flat: ArrayLike<number>, from: number): number {
    const { settings: mix } = this.mixing;
    let at = mix.setValues(flat, from);
    const own = at;
    for (let s = 0; s < this.settings.length; s++) at = this.settings[s].setValues(flat, own);
    at = mix.setDepths(flat, at);
    const depths = at;
    for (let s = 0; s < this.settings.length; s++) at = this.settings[s].setDepths(flat, depths);
    for (let b = 0; b < this.branches.length; b++) at = this.branches[b].setValues(flat, at);
    return at;
  }

  /** Makes it as it was when created, but for its settings. Costs nothing where nothing was run since. */
  reset(): void {
    this.faulted = this.mute;
    this.guard?.reset();
    this.mixing.settings.reset();
    for (let s = 0; s < this.settings.length; s++) this.settings[s].reset();
    if (!this.used) return;
    this.used = false;
    for (let p = 0; p < this.processors.length; p++) this.processors[p].reset();
    this.mixing.reset();
    for (let c = 0; c < this.output.length; c++) this.output[c].fill(0);
    for (let b = 0; b < this.branches.length; b++) this.branches[b].reset();
  }

  /** Goes on where another unit of the same stage is; see `LiveProcessor.takeOver`. Allocates. */
  takeOver(before: StageUnit): boolean {
    const { processors } = before;
    if (before.id !== this.id || processors.length !== this.processors.length) return false;
    const taken = this.processors.map((own, p) => own.takeOver?.(processors[p]) ?? false);
    this.used ||= taken.includes(true);
    return taken.every(Boolean);
  }

  get givenUp(): number {
    let place = this.guard?.overdue ? OVERDUE : 0;
    for (let p = 0; p < this.processors.length; p++) {
      const own = this.processors[p].givenUp ?? 0;
      // What is graver than being held, on either side.
      if (place === 0 || (place === HELD && own !== 0)) place = own;
    }
    return place;
  }

  /** Highest sample since the last call. */
  takePeak(): number {
    const peak = this.peak;
    this.peak = 0;
    return peak;
  }

  /** Microseconds used since the last call. */
  takeCost(): number {
    const cost = this.cost;
    this.cost = 0;
    return cost;
  }

  /**
   * Processes the first `frames` frames of `input` into `output`; `position` is that of the run's own input. Allocates
   * nothing.
   */
  process(input: readonly Float32Array[], frames: number, position: number): void {
    const began = this.watch.clock();
    if (this.guard?.overdue) this.silence(frames);
    else if (this.watch.silencesFaults) this.workSafely(input, frames, position - this.late);
    else this.work(input, frames, position - this.late);
    const took = this.watch.clock() - began;
    this.cost += took;
    if (this.guard?.note(took, frames)) this.fadeOut(frames);
  }

  private workSafely(input: readonly Float32Array[], frames: number, position: number): void {
    if (!this.faulted) {
      try {
        this.work(input, frames, position);
        return;
      } catch {
        this.faulted = true;
      }
    }
    this.silence(frames);
  }

  private silence(frames: number): void {
    for (let c = 0; c < this.output.length; c++) this.output[c].fill(0, 0, frames);
  }

  /** The last block that is heard ends at silence. */
  private fadeOut(frames: number): void {
    for (let c = 0; c < this.output.length; c++) {
      const samples = this.output[c];
      for (let i = 0; i < frames; i++) samples[i] *= 1 - (i + 1) / frames;
    }
  }

  private work(input: readonly Float32Array[], frames: number, position: number): void {
    this.mixing.settings.advance(position, frames);
    for (let s = 0; s < this.settings.length; s++) this.settings[s].advance(position, frames);
    const silent = isSilent(input, frames);
    if (silent && this.asleep) {
      this.silence(frames);
      return;
    }
    this.asleep = false;
    this.used = true;
    for (let at = 0; at < frames;) {
      let end = this.mixing.settings.endOfPiece(at);
      for (let s = 0; s < this.settings.length; s++) {
        const own = this.settings[s].endOfPiece(at);
        if (own < end) end = own;
      }
      if (at === 0 && end === frames) this.runPiece(input, this.output, 0, frames, position);
      else this.cutPiece(input, at, end - at, position);
      at = end;
    }
    this.inspect(silent, frames);
  }

  /** Runs a piece of a block out of the middle of its arrays. */
  private cutPiece(input: readonly Float32Array[], at: number, count: number, position: number): void {
    const { pieceIn, pieceOut, output } = this;
    for (let c = 0; c < pieceIn.length; c++) {
      const from = input[c];
      const to = pieceIn[c];
      for (let i = 0; i < count; i++) to[i] = from[at + i];
    }
    this.runPiece(pieceIn, pieceOut, at, count, position);
    for (let c = 0; c < output.length; c++) {
      const from = pieceOut[c];
      const to = output[c];
      for (let i = 0; i < count; i++) to[at + i] = from[i];
    }
  }

  /** Runs `count` frames that stand at the beginning of the arrays; `at`: where in the block they belong. */
  private runPiece(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    at: number,
    count: number,
    position: number,
  ): void {
    this.mixing.settings.over(at, count);
    for (let s = 0; s < this.settings.length; s++) this.settings[s].over(at, count);
    const { processors, settings } = this;
    const place = this.counted(position + at);
    if (processors.length === 1) processors[0].process(input, output, count, settings[0].values, place);
    else {
      for (let side = 0; side < 2; side++) {
        this.sidesIn[side][0] = input[side];
        this.sidesOut[side][0] = output[side];
        const values = settings[side].values;
        processors[side].process(this.sidesIn[side], this.sidesOut[side], count, values, place);
      }
    }
    this.mixing.process(input, output, count);
  }

  /** A place of the timeline as the stage has it counted; see `Planned.shifts`. */
  private counted(position: number): number {
    const { shifts } = this;
    let shift = 0;
    for (let n = 0; n < shifts.length && shifts[n].frame <= position; n++) shift = shifts[n].shift;
    return position + shift;
  }

  /** Looks at the output: its peak, whether it is all numbers, whether it has gone silent for good. */
  private inspect(silentInput: boolean, frames: number): void {
    let peak = 0;
    let odd = 0;
    for (let c = 0; c < this.output.length; c++) {
      const out = this.output[c];
      for (let i = 0; i < frames; i++) {
        const size = Math.abs(out[i]);
        if (size > peak) peak = size;
        odd += out[i] * 0; // no number times zero is no number
      }
    }
    if (odd !== 0) {
      this.failures++;
      this.reset();
      this.silence(frames);
      return;
    }
    if (peak > this.peak) this.peak = peak;
    this.silentFrames = silentInput && peak < SILENCE ? this.silentFrames + frames : 0;
    if (this.silentFrames <= this.memoryFrames) return;
    this.asleep = true;
    this.silentFrames = 0;
    this.reset();
  }
}

/** What a running unit cannot change: see `shapeOf`; and, for a stage that holds stages, the latency of its branches. */
function unitKey(catalogue: Catalogue, planned: Planned, sampleRate: number, inputChannels: number): string {
  const { id, kind, definition, seed, branches, apart, beats } = planned;
  return JSON.stringify([
    id,
    kind,
    definition?.key,
    seed,
    apart,
    inputChannels,
    wordsOf(catalogue, planned),
    branches.map((branch) => [branch.id, pathLatency(catalogue, branch.stages, sampleRate)]),
    beats,
  ]);
}

function isSilent(input: readonly Float32Array[], frames: number): boolean {
  for (let c = 0; c < input.length; c++) {
    const samples = input[c];
    for (let i = 0; i < frames; i++) if (samples[i] !== 0) return false;
  }
  return true;
}
