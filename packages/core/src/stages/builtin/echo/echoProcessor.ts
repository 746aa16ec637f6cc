import { Diffuser } from '../../../dsp/diffuser.ts';
import { BypassableFilter } from '../../../dsp/bypassableFilter.ts';
import { GainRamp } from '../../../dsp/gainRamp.ts';
import { Lfo, type LfoShape } from '../../../dsp/lfo.ts';
import { LevelFollower } from '../../../dsp/levelFollower.ts';
import { TAU, decibelsToGain, exp, log, tanh } from '../../../dsp/portableMath.ts';
import { constant, valueAt, type Ramp } from '../../../model/ramp.ts';
import { SHARP_REACH } from '../../../dsp/sharpRead.ts';
import type { BranchProcessor, LiveContext } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { DuckerCurve } from '../dynamics/ducker.ts';
import { GainTrack } from '../dynamics/gainTrack.ts';
import { EchoLine } from './echoLine.ts';
import type { Change } from './echoTime.ts';
import { LoopDrive } from './loopDrive.ts';

export const LAYOUTS = ['single', 'left/right', 'crossed', 'middle/sides'] as const;
type Layout = (typeof LAYOUTS)[number];
/** Seconds. */
export const SHORTEST = 0.001;
export const LONGEST = 8;
/** Hz at which the cuts do nothing. */
export const LOWEST_CUT = 20;
export const HIGHEST_CUT = 20000;

/** Frames that a line is read behind what is written, at least. */
const LEAST = 8;
/** Up to here the loop is straight; above, it bends towards half as much again. */
const CEILING = 1;
const ABOVE_CEILING = 0.5;
const DC_CUT = 4; // Hz
const CENT = log(2) / 1200;
/** Seconds from which on a delay comes to rest on a whole frame, the nearest. */
const WHOLE_FROM = 0.02;
/** Swings take no more than this share of the delay. */
const MOST_SWING = 0.45;
/** Seconds of the greatest swing of all kinds together, for memory. */
const SWING_ROOM = 0.15;
const AHEAD = constant(1);
const NOISE_OFF = -96;

interface EchoValues {
  readonly layout: Layout;
  readonly time: Ramp;
  readonly secondTime: Ramp;
  readonly feedback: Ramp;
  readonly lowCut: Ramp;
  readonly highCut: Ramp;
  readonly drive: Ramp;
  readonly diffusion: Ramp;
  readonly diffusionPlace: 'before' | 'inside' | 'after';
  readonly movement: Ramp;
  readonly filterMovement: Ramp;
  readonly movementRate: Ramp;
  readonly movementShape: LfoShape;
  readonly filterRate: Ramp;
  readonly filterShape: LfoShape;
  readonly movementPhase: Ramp;
  readonly drift: Ramp;
  readonly driftRate: Ramp;
  readonly flutter: Ramp;
  readonly flutterRate: Ramp;
  readonly noise: Ramp;
  readonly noiseColour: Ramp;
  readonly ducking: Ramp;
  readonly duckingThreshold: Ramp;
  readonly recovery: Ramp;
  readonly change: Change;
  readonly glide: Ramp;
}

/**
 * Two delay lines and the loop behind them. What is read from the lines goes through the loop – cuts, drive, diffusion,
 * the designer's stages, a ceiling – and is heard; a share of it is written again together with the input.
 */
export class EchoProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly layout: Layout;
  private readonly loop: BranchProcessor;
  /** Frames by which the stages of the loop are late; taken off the lines. */
  private readonly loopLatency: number;
  private readonly lines: EchoLine[];
  private readonly movement: Lfo;
  private readonly filterMovement: Lfo;
  private readonly drift: Lfo;
  private readonly flutter: Lfo;
  /** What each line is moved by, in frames. */
  private readonly swings = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly scratch = new Float64Array(BLOCK_FRAMES);
  private readonly heard = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly fed = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly sent = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  private readonly lowCuts: BypassableFilter[];
  private readonly highCuts: BypassableFilter[];
  private readonly diffuser: Diffuser;
  private readonly drive = new GainRamp();
  private readonly drives: LoopDrive[];
  /** Whether anything moves the lines in this block. */
  private moved = false;
  /** The drive over the part of the block that is worked on. */
  private readonly pushed: Ramp = constant(1);
  private readonly cut: Ramp = constant(0);
  private readonly lag: Ramp = constant(1);
  private readonly filterSwing: Ramp[] = [constant(0), constant(0)];
  private readonly follower: LevelFollower;
  private readonly track = new GainTrack();
  private readonly curve = new DuckerCurve();
  private readonly duckValues = { threshold: constant(0), amount: constant(0) };
  private readonly gains = new Float64Array(BLOCK_FRAMES);
  private readonly bedFollower: LevelFollower;
  private readonly noiseGain = new GainRamp();
  private readonly noiseCuts: BypassableFilter[];
  private readonly noiseSeeds: Int32Array;
  private readonly noiseStates: Int32Array;
  /** Direct current of each side of the loop. */
  private readonly means = new Float64Array(2);
  private readonly meanStep: number;
  /** Amplitudes of the two unsteadinesses in frames, and what they were worked out for. */
  private readonly unsteady = new Float64Array(6).fill(NaN);
  private readonly reaches = new Float64Array(2).fill(NaN);

  constructor(
    { sampleRate, branches, random }: LiveContext,
    { layout, change }: { readonly layout: Layout; readonly change: Change },
  ) {
    this.sampleRate = sampleRate;
    this.layout = layout;
    this.loop = branches[0];
    this.loopLatency = this.loop.latency;
    const room = Math.ceil((LONGEST + SWING_ROOM) * sampleRate) + 2 * BLOCK_FRAMES + 16;
    this.lines = [0, 1].map(() => new EchoLine(room, change, sampleRate));
    this.drives = [0, 1].map(() => new LoopDrive(sampleRate, BLOCK_FRAMES));
    this.memoryFrames = (LONGEST + SWING_ROOM) * sampleRate;
    this.movement = new Lfo(sampleRate, random);
    this.drift = new Lfo(sampleRate, random);
    this.flutter = new Lfo(sampleRate, random);
    this.lowCuts = [0, 1].map(() => new BypassableFilter('high', LOWEST_CUT, sampleRate));
    this.highCuts = [0, 1].map(() => new BypassableFilter('low', HIGHEST_CUT, sampleRate));
    this.diffuser = new Diffuser(sampleRate, BLOCK_FRAMES);
    this.follower = new LevelFollower(sampleRate);
    this.bedFollower = new LevelFollower(sampleRate);
    this.noiseCuts = [0, 1].map(() => new BypassableFilter('low', HIGHEST_CUT, sampleRate));
    this.noiseSeeds = Int32Array.from([0, 1], () => 1 + Math.floor(random() * 2147483646));
    this.noiseStates = Int32Array.from(this.noiseSeeds);
    // Drawn last, so that all else stays as it was.
    this.filterMovement = new Lfo(sampleRate, random);
    this.meanStep = 1 - exp((-TAU * DC_CUT) / sampleRate);
    this.curve.values = this.duckValues;
  }

  reset(): void {
    for (let side = 0; side < 2; side++) {
      this.lines[side].reset();
      this.drives[side].reset();
      this.lowCuts[side].reset();
      this.highCuts[side].reset();
      this.noiseCuts[side].reset();
      this.noiseStates[side] = this.noiseSeeds[side];
    }
    this.movement.reset();
    this.filterMovement.reset();
    this.drift.reset();
    this.flutter.reset();
    this.diffuser.reset();
    this.follower.reset();
    this.bedFollower.reset();
    this.track.reset();
    this.drive.reset();
    this.noiseGain.reset();
    this.means.fill(0);
    this.reaches.fill(NaN);
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: EchoValues,
    position: number,
  ): void {
    this.movement.begin(position, values.movementRate.start);
    this.filterMovement.begin(position, values.filterRate.start);
    this.drift.begin(position, values.driftRate.start);
    this.flutter.begin(position, values.flutterRate.start);
    this.aim(values, frames);
    this.swing(values, frames);
    this.takeIn(input, frames, values);
    const { heard, fed, lines } = this;
    // No more at once than the shortest way round the loop: what is read has been written.
    const most = this.mostFrames();
    const fedStep = (values.feedback.end - values.feedback.start) / frames;
    const driveStart = this.drive.start;
    const driveStep = (this.drive.end - driveStart) / frames;
    for (let done = 0; done < frames;) {
      const count = Math.min(most, frames - done);
      for (let side = 0; side < 2; side++)
        lines[side].read(heard[side], this.swings[side], this.moved, done, count, frames);
      if (this.layout === 'middle/sides') decode(heard[0], heard[1], count);
      this.pushed.start = driveStart + driveStep * done;
      this.pushed.end = driveStart + driveStep * (done + count);
      this.runLoop(values, done, count, frames, position + done);
      for (let side = 0; side < 2; side++) {
        const out = output[side];
        const own = heard[side];
        for (let i = 0; i < count; i++) out[done + i] = own[i];
      }
      if (this.layout === 'middle/sides') encode(heard[0], heard[1], count);
      for (let side = 0; side < 2; side++)
        lines[side].write(
          fed[side],
          done,
          heard[this.layout === 'crossed' ? 1 - side : side],
          count,
          values.feedback.start + fedStep * done,
          fedStep,
        );
      done += count;
    }
    this.finish(input, output, frames, values);
  }

  /** Brings the two delays on their way. */
  private aim({ layout, time, secondTime, glide, drive }: EchoValues, frames: number): void {
    this.drive.advance(drive.end);
    const second = layout === 'single' ? time : secondTime;
    this.advance(0, time, glide.end, frames);
    this.advance(1, second, glide.end, frames);
  }

  /** A long delay that does not move comes to rest on a whole frame: there, no treble is lost. */
  private advance(side: number, time: Ramp, glide: number, frames: number): void {
    const settled = time.start === time.end;
    const wanted = Math.max(LEAST, time.end * this.sampleRate - this.loopLatency);
    const goal = settled && wanted >= WHOLE_FROM * this.sampleRate ? Math.round(wanted) : wanted;
    this.lines[side].time.advance(goal, settled, glide, frames);
  }

  /** Works out by how many frames each line is moved, and by how many octaves the cuts are. */
  private swing(values: EchoValues, frames: number): void {
    const { swings, moves, lag, filterSwing, unsteady, sampleRate } = this;
    lag.start = 1 - values.movementPhase.start / 360;
    lag.end = 1 - values.movementPhase.end / 360;
    if (values.drift.end !== unsteady[0] || values.driftRate.end !== unsteady[1]) {
      unsteady[0] = values.drift.end;
      unsteady[1] = values.driftRate.end;
      // A smooth walk from one value to the next is steepest in its middle: 3/2 of its way a turn. It seldom goes all
      // the way; half of it counts.
      unsteady[2] = (2 * sampleRate * (exp(unsteady[0] * CENT) - 1)) / (1.5 * unsteady[1]);
    }
    if (values.flutter.end !== unsteady[3] || values.flutterRate.end !== unsteady[4]) {
      unsteady[3] = values.flutter.end;
      unsteady[4] = values.flutterRate.end;
      unsteady[5] = (2 * sampleRate * (exp(unsteady[3] * CENT) - 1)) / (TAU * unsteady[4]);
    }
    this.movement.read(moves[0], frames, values.movementShape, values.movementRate, AHEAD);
    this.movement.read(moves[1], frames, values.movementShape, values.movementRate, lag);
    this.movement.advance(frames, values.movementRate);
    const reach = values.movement.start * sampleRate;
    const reachStep = ((values.movement.end - values.movement.start) * sampleRate) / frames;
    for (let side = 0; side < 2; side++) {
      const swing = swings[side];
      const move = moves[side];
      let far = reach;
      for (let i = 0; i < frames; i++) {
        swing[i] = far * (move[i] - 0.5);
        far += reachStep;
      }
    }
    this.filterMovement.read(moves[0], frames, values.filterShape, values.filterRate, AHEAD);
    this.filterMovement.read(moves[1], frames, values.filterShape, values.filterRate, lag);
    this.filterMovement.advance(frames, values.filterRate);
    for (let side = 0; side < 2; side++) {
      filterSwing[side].start = values.filterMovement.start * (2 * moves[side][0] - 1);
      filterSwing[side].end = values.filterMovement.end * (2 * moves[side][frames - 1] - 1);
    }
    this.moved = values.movement.start > 0 || values.movement.end > 0;
    this.wander(this.drift, 'random', values.driftRate, unsteady[2], 0, frames);
    this.wander(this.flutter, 'sine', values.flutterRate, unsteady[5], 1, frames);
    for (let side = 0; side < 2; side++) {
      const { now } = this.lines[side].time;
      const most = MOST_SWING * Math.min(now.start, now.end);
      const swing = swings[side];
      for (let i = 0; i < frames; i++) swing[i] = swing[i] > most ? most : swing[i] < -most ? -most : swing[i];
    }
  }

  /** Adds an unsteadiness; `which` is where its reach at the end of the last block is kept. */
  private wander(lfo: Lfo, shape: LfoShape, rate: Ramp, goal: number, which: number, frames: number): void {
    const { scratch, reaches } = this;
    const before = Number.isNaN(reaches[which]) ? goal : reaches[which];
    reaches[which] = goal;
    if (goal > 0 || before > 0) {
      this.moved = true;
      const step = (goal - before) / frames;
      lfo.read(scratch, frames, shape, rate, AHEAD);
      for (let side = 0; side < 2; side++) {
        const swing = this.swings[side];
        let reach = before;
        for (let i = 0; i < frames; i++) {
          swing[i] += reach * (scratch[i] - 0.5);
          reach += step;
        }
      }
    }
    lfo.advance(frames, rate);
  }

  /** Puts the input into `fed`, for the two lines. */
  private takeIn(input: readonly Float32Array[], frames: number, { diffusion, diffusionPlace }: EchoValues): void {
    const { fed } = this;
    const left = input[0];
    const right = input[input.length - 1];
    for (let i = 0; i < frames; i++) {
      fed[0][i] = left[i];
      fed[1][i] = right[i];
    }
    if (diffusionPlace === 'before') this.diffuser.process(fed[0], fed[1], frames, diffusion);
    if (this.layout === 'middle/sides') encode(fed[0], fed[1], frames);
  }

  private mostFrames(): number {
    let least = BLOCK_FRAMES + LEAST;
    for (let side = 0; side < 2; side++) {
      const { shortest } = this.lines[side];
      // Without any swing nothing has to be kept free for it.
      const free = this.moved ? Math.max(LEAST, (1 - MOST_SWING) * shortest) : shortest;
      if (free < least) least = free;
    }
    // A sharp reading takes as many frames on its newer side; where it is too short for that, the cubic takes two.
    const kept = least >= 2 * SHARP_REACH ? SHARP_REACH : 4;
    return Math.max(1, Math.floor(least) - kept);
  }

  /** Sends `heard` once through the loop. */
  private runLoop(values: EchoValues, done: number, count: number, frames: number, position: number): void {
    const { heard, sent, loop, cut, pushed } = this;
    for (let side = 0; side < 2; side++) {
      const swing = this.filterSwing[side];
      this.moveCut(values.lowCut, swing, done, count, frames);
      this.lowCuts[side].process(heard[side], count, cut);
      this.moveCut(values.highCut, swing, done, count, frames);
      this.highCuts[side].process(heard[side], count, cut);
      if (pushed.start > 1 || pushed.end > 1) this.drives[side].process(heard[side], count, pushed.start, pushed.end);
      else this.drives[side].reset();
    }
    if (values.diffusionPlace === 'inside') this.diffuser.process(heard[0], heard[1], count, values.diffusion);
    for (let side = 0; side < 2; side++) {
      const own = heard[side];
      const into = sent[side];
      for (let i = 0; i < count; i++) into[i] = own[i];
    }
    loop.process(sent, count, position);
    for (let side = 0; side < 2; side++) this.hold(side, count);
  }

  /** The cut over this part of the block, moved by the swing. */
  private moveCut(set: Ramp, swing: Ramp, done: number, count: number, frames: number): void {
    const { cut } = this;
    cut.start = valueAt(set, done / frames);
    cut.end = valueAt(set, (done + count) / frames);
    if (swing.start === 0 && swing.end === 0) return;
    const least = LOWEST_CUT;
    const most = HIGHEST_CUT;
    const from = cut.start * exp(LN2 * valueAt(swing, done / frames));
    const to = cut.end * exp(LN2 * valueAt(swing, (done + count) / frames));
    cut.start = Math.max(least, Math.min(most, from));
    cut.end = Math.max(least, Math.min(most, to));
  }

  /** Takes what the loop's stages gave, under the ceiling and without its direct current. */
  private hold(side: number, count: number): void {
    const { means, meanStep } = this;
    const from = this.loop.output[side];
    const out = this.heard[side];
    // A first-order cut whose own output, bent by the ceiling, is what it takes the mean of: so a lopsided wave that the
    // ceiling bends leaves none behind either.
    let mean = means[side];
    for (let i = 0; i < count; i++) {
      let x = from[i] - mean;
      const size = x < 0 ? -x : x;
      if (size > CEILING) {
        const held = CEILING + ABOVE_CEILING * tanh((size - CEILING) / ABOVE_CEILING);
        x = x < 0 ? -held : held;
      }
      mean += meanStep * x;
      out[i] = x;
    }
    means[side] = mean;
  }

  /** What is done to the repeats alone, not to what goes round: diffusion behind, the bed of noise, ducking. */
  private finish(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: EchoValues,
  ): void {
    const { heard, gains } = this;
    for (let side = 0; side < 2; side++) {
      const own = heard[side];
      const out = output[side];
      for (let i = 0; i < frames; i++) own[i] = out[i];
    }
    if (values.diffusionPlace === 'after') this.diffuser.process(heard[0], heard[1], frames, values.diffusion);
    if (values.noise.start > NOISE_OFF || values.noise.end > NOISE_OFF) this.layBed(output, frames, values);
    if (values.ducking.start > 0 || values.ducking.end > 0) {
      this.follower.process(input, gains, frames, 0.004, values.recovery.end / 2);
      this.duckValues.threshold.start = values.duckingThreshold.start;
      this.duckValues.threshold.end = values.duckingThreshold.end;
      this.duckValues.amount.start = values.ducking.start;
      this.duckValues.amount.end = values.ducking.end;
      this.track.process(gains, frames, this.curve);
      for (let side = 0; side < 2; side++) {
        const own = heard[side];
        for (let i = 0; i < frames; i++) own[i] *= gains[i];
      }
    }
    for (let side = 0; side < 2; side++) {
      const own = heard[side];
      const out = output[side];
      for (let i = 0; i < frames; i++) out[i] = own[i];
    }
  }

  /** Adds noise that is as loud as it is set while the repeats are there, and goes with them. */
  private layBed(repeats: readonly Float32Array[], frames: number, { noise, noiseColour }: EchoValues): void {
    const { gains, scratch, heard, noiseStates, noiseGain } = this;
    this.bedFollower.process(repeats, gains, frames, 0.02, 0.06);
    noiseGain.advance(noise.end);
    const off = decibelsToGain(NOISE_OFF);
    for (let side = 0; side < 2; side++) {
      let state = noiseStates[side];
      for (let i = 0; i < frames; i++) {
        state ^= state << 13;
        state ^= state >>> 17;
        state ^= state << 5;
        scratch[i] = state * 4.656612873077393e-10;
      }
      noiseStates[side] = state;
      this.noiseCuts[side].process(scratch, frames, noiseColour);
      const step = (noiseGain.end - noiseGain.start) / frames;
      let gain = noiseGain.start - off;
      const own = heard[side];
      for (let i = 0; i < frames; i++) {
        const presence = gains[i] < BED_LEVEL ? gains[i] * (1 / BED_LEVEL) : 1;
        own[i] += gain * presence * scratch[i];
        gain += step;
      }
    }
  }
}

/** Level of the repeats above which the bed is there in full: −46 dB. */
const BED_LEVEL = 0.005;
const LN2 = log(2);

/** Middle and sides, in place of left and right. */
function encode(left: Float64Array, right: Float64Array, frames: number): void {
  for (let i = 0; i < frames; i++) {
    const middle = 0.5 * (left[i] + right[i]);
    right[i] = 0.5 * (left[i] - right[i]);
    left[i] = middle;
  }
}

function decode(middle: Float64Array, sides: Float64Array, frames: number): void {
  for (let i = 0; i < frames; i++) {
    const left = middle[i] + sides[i];
    sides[i] = middle[i] - sides[i];
    middle[i] = left;
  }
}
