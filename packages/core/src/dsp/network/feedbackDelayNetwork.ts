import type { Ramp } from '../../model/ramp.ts';
import { smoothStep } from '../smoothStep.ts';
import { quinticWeights, ringSize } from '../lagrange.ts';
import { exp, log } from '../portableMath.ts';
import { primeNear } from '../primes.ts';
import type { Random } from '../random.ts';
import { SlowOscillator } from '../slowOscillator.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { EXCHANGE_SCALE, LineDamping, type NetworkValues } from './lineDamping.ts';
import { TurningPairs } from './turningPairs.ts';

/** Seconds that a change of size takes. */
export const SIZE_FADE_SECONDS = 0.05;
const LINES = 16;
const MOVING = 8; // lines 0…7 move: enough to blur the modes, at half the cost and half the loss of highs
const SHORTEST = 0.0213; // seconds at size 100 %
const LONGEST = 0.0971;
const MOVEMENT_SECONDS = 0.001; // greatest swing of a moving line
const SPREAD = log(LONGEST / SHORTEST) / (LINES - 1);

/**
 * Feedback delay network of 16 lines with exact decay (J.-M. Jot & A. Chaigne, "Digital delay networks for designing
 * artificial reverberators", 1991): each line loses as many decibels per pass as its length asks for, so that all modes
 * die at the same rate. The
 * exchange between the lines is a Hadamard matrix, which loses nothing; what every line returns is smaller than what went
 * in, at every frequency; so the network is stable at any setting.
 *
 * Resting lines are worked on in fours, written out: a loop a line costs three times as much here (`npm run bench`).
 */
export class FeedbackDelayNetwork {
  private readonly sampleRate: number;
  /** Ring l begins at l · stride; the stride is no power of two, or all rings would fall on the same cache lines. */
  private readonly memory: Float32Array;
  private readonly mask: number;
  private readonly stride: number;
  private position = 0;
  /** What came out of line l in this block, at [l · BLOCK_FRAMES …]. */
  private readonly lines = new Float64Array(LINES * BLOCK_FRAMES);
  private readonly nextLines = new Float64Array(LINES * BLOCK_FRAMES);
  private readonly seconds: number[];
  private readonly oscillators: SlowOscillator[];
  private delays = new Int32Array(LINES);
  private nextDelays = new Int32Array(LINES);
  /** How long each line is in effect: between the two while one fades into the other. */
  private readonly lengths = new Float64Array(LINES);
  private readonly fadeFrames: number;
  private faded = 0;
  private fading = false;
  /** How far the moving lines stand from their rest at the block's first frame and behind its last. */
  private readonly swingStarts = new Float64Array(MOVING);
  private readonly swingEnds = new Float64Array(MOVING);
  private swing = 0;
  private readonly weights = new Float64Array(14);
  private readonly turning: TurningPairs;
  private readonly damping: LineDamping;
  private size = NaN;

  constructor(sampleRate: number, maxSize: number, random: Random) {
    this.sampleRate = sampleRate;
    this.fadeFrames = Math.round(SIZE_FADE_SECONDS * sampleRate);
    this.damping = new LineDamping(LINES, sampleRate);
    // Lengths alternate between the moving and the resting half, so that both span short and long.
    this.seconds = Array.from(
      { length: LINES },
      (_, l) => SHORTEST * exp(SPREAD * (l < MOVING ? 2 * l : 2 * (l - MOVING) + 1)),
    );
    this.oscillators = Array.from(
      { length: MOVING },
      () => new SlowOscillator(0.31 + 0.53 * random(), random(), sampleRate),
    );
    this.turning = new TurningPairs(LINES / 2, sampleRate, random);
    const size = ringSize((LONGEST * maxSize + MOVEMENT_SECONDS) * sampleRate * 1.02 + 64 + BLOCK_FRAMES);
    this.mask = size - 1;
    this.stride = size + 80;
    this.memory = new Float32Array(LINES * this.stride);
  }

  reset(): void {
    this.memory.fill(0);
    this.position = 0;
    this.size = NaN;
    this.fading = false;
    this.damping.reset();
    for (let line = 0; line < MOVING; line++) this.oscillators[line].reset();
    this.turning.reset();
  }

  /** Before its first frames: what moves in it stands where it would had it run from frame 0 on. */
  begin(position: number): void {
    for (let line = 0; line < MOVING; line++) this.oscillators[line].begin(position);
    this.turning.begin(position);
  }

  /** The most frames that can be run at once: no line may be asked for what is yet to be written. */
  get maxFrames(): number {
    const shortest = this.fading ? Math.min(this.delays[0], this.nextDelays[0]) : this.delays[0];
    return Math.max(1, Math.floor(shortest - MOVEMENT_SECONDS * this.sampleRate) - 5);
  }

  /** Share of the energy that is left after a pass through the lines, on the mean of them. */
  get energyKept(): number {
    return this.damping.energyKept;
  }

  /** Takes over the size; a change of it fades from the old lengths to the new ones. */
  resize(size: number): void {
    if (size === this.size || this.fading) return;
    const first = Number.isNaN(this.size);
    this.size = size;
    this.turning.resize(size);
    const delays = first ? this.delays : this.nextDelays;
    for (let l = 0; l < LINES; l++) delays[l] = Math.max(8, primeNear(this.seconds[l] * size * this.sampleRate));
    this.fading = !first;
    this.faded = 0;
    if (!first) return;
    this.lengths.set(this.delays);
    this.swingEnds.fill(NaN);
  }

  /** Takes over the other values for the next `frames` ≤ maxFrames frames. */
  tune(values: NetworkValues, frames: number): void {
    this.swing = MOVEMENT_SECONDS * this.sampleRate * values.movement.end;
    this.turning.tune(values.movement.end, frames);
    if (this.fading) {
      const share = smoothStep((this.faded + frames) / this.fadeFrames);
      for (let l = 0; l < LINES; l++) this.lengths[l] = this.delays[l] + share * (this.nextDelays[l] - this.delays[l]);
    }
    this.damping.tune(values, this.lengths, this.fading, frames);
  }

  /**
   * Runs `frames` ≤ maxFrames frames: feeds `left` and `right` in and adds what comes out, energy for energy, at the level `gain`,
   * to `wetLeft` and `wetRight`.
   */
  process(
    left: Float64Array,
    right: Float64Array,
    wetLeft: Float64Array,
    wetRight: Float64Array,
    gain: Ramp,
    frames: number,
  ): void {
    for (let line = 0; line < MOVING; line++) {
      const oscillator = this.oscillators[line];
      const first = Number.isNaN(this.swingEnds[line]);
      const start = first ? this.swing * oscillator.value : this.swingEnds[line];
      oscillator.advance(frames);
      const way = this.swing * oscillator.value - start;
      // Lines move slowly: turned up, the movement sets in with a glide.
      this.swingStarts[line] = start;
      this.swingEnds[line] = start + Math.max(-FASTEST, Math.min(FASTEST, way));
    }
    this.read(this.delays, this.lines, frames);
    if (this.fading) this.fade(frames);
    this.damping.process(this.lines, frames);
    this.turning.process(this.lines, frames);
    this.exchange(left, right, wetLeft, wetRight, gain, frames);
    this.position = (this.position + frames) & this.mask;
  }

  private read(delays: Int32Array, lines: Float64Array, frames: number): void {
    for (let line = 0; line < MOVING; line++) this.readMoving(delays, lines, line, frames);
    for (let first = MOVING; first < LINES; first += 4) this.readResting(delays, lines, first, frames);
  }

  private fade(frames: number): void {
    const { lines, nextLines } = this;
    this.read(this.nextDelays, nextLines, frames);
    for (let i = 0; i < frames; i++) {
      const share = smoothStep((this.faded + i) / this.fadeFrames);
      for (let at = i; at < lines.length; at += BLOCK_FRAMES) lines[at] += share * (nextLines[at] - lines[at]);
    }
    this.faded += frames;
    if (this.faded < this.fadeFrames) return;
    const delays = this.delays;
    this.delays = this.nextDelays;
    this.nextDelays = delays;
    this.fading = false;
  }

  /** A few frames at a time: weights that moved far in a straight line would blur the highs. */
  private readMoving(delays: Int32Array, lines: Float64Array, line: number, frames: number): void {
    const rest = this.position + this.mask + 1 - delays[line];
    const swing = this.swingStarts[line];
    const step = (this.swingEnds[line] - swing) / frames;
    for (let done = 0; done < frames; done += STRETCH) {
      const count = Math.min(STRETCH, frames - done);
      const start = rest + done - swing - step * done;
      this.readStretch(lines, line, done, count, start, start - step * count);
    }
  }

  /**
   * Reads `count` frames of a moving line, which stands at `start` and at `end` against its rest. The delay moves by less
   * than a sample, so the seven samples around the place are weighed, and the weights, not the place, move in a straight
   * line: one load a frame, and a gain that stays below 1.
   */
  private readStretch(
    lines: Float64Array,
    line: number,
    done: number,
    count: number,
    start: number,
    end: number,
  ): void {
    const { memory, mask, weights } = this;
    const whole = Math.floor(Math.min(start, end));
    quinticWeights(start - whole, weights, 0);
    quinticWeights(end - whole, weights, 7);
    let w0 = weights[0];
    let w1 = weights[1];
    let w2 = weights[2];
    let w3 = weights[3];
    let w4 = weights[4];
    let w5 = weights[5];
    let w6 = weights[6];
    const step0 = (weights[7] - w0) / count;
    const step1 = (weights[8] - w1) / count;
    const step2 = (weights[9] - w2) / count;
    const step3 = (weights[10] - w3) / count;
    const step4 = (weights[11] - w4) / count;
    const step5 = (weights[12] - w5) / count;
    const step6 = (weights[13] - w6) / count;
    const base = line * this.stride;
    let x0 = 0;
    let x1 = memory[base + ((whole - 2) & mask)];
    let x2 = memory[base + ((whole - 1) & mask)];
    let x3 = memory[base + (whole & mask)];
    let x4 = memory[base + ((whole + 1) & mask)];
    let x5 = memory[base + ((whole + 2) & mask)];
    let x6 = memory[base + ((whole + 3) & mask)];
    const out = line * BLOCK_FRAMES + done;
    for (let i = 0; i < count; i++) {
      x0 = x1;
      x1 = x2;
      x2 = x3;
      x3 = x4;
      x4 = x5;
      x5 = x6;
      x6 = memory[base + ((whole + 4 + i) & mask)];
      lines[out + i] = w0 * x0 + w1 * x1 + w2 * x2 + w3 * x3 + w4 * x4 + w5 * x5 + w6 * x6;
      w0 += step0;
      w1 += step1;
      w2 += step2;
      w3 += step3;
      w4 += step4;
      w5 += step5;
      w6 += step6;
    }
  }

  private readResting(delays: Int32Array, lines: Float64Array, first: number, frames: number): void {
    const { memory, mask, stride } = this;
    const aBase = (first + 0) * stride;
    const a = this.position + mask + 1 - delays[first + 0];
    const bBase = (first + 1) * stride;
    const b = this.position + mask + 1 - delays[first + 1];
    const cBase = (first + 2) * stride;
    const c = this.position + mask + 1 - delays[first + 2];
    const dBase = (first + 3) * stride;
    const d = this.position + mask + 1 - delays[first + 3];
    const out = first * BLOCK_FRAMES;
    for (let i = 0; i < frames; i++) {
      lines[out + i] = memory[aBase + ((a + i) & mask)];
      lines[out + BLOCK_FRAMES + i] = memory[bBase + ((b + i) & mask)];
      lines[out + 2 * BLOCK_FRAMES + i] = memory[cBase + ((c + i) & mask)];
      lines[out + 3 * BLOCK_FRAMES + i] = memory[dBase + ((d + i) & mask)];
    }
  }

  /** Taps the lines for the output, mixes them by the Hadamard matrix (scaled already, by the damping), adds the input and writes them back. */
  private exchange(
    left: Float64Array,
    right: Float64Array,
    wetLeft: Float64Array,
    wetRight: Float64Array,
    gain: Ramp,
    frames: number,
  ): void {
    const { lines, memory, mask, stride, position } = this;
    let outGain = gain.start * TAP;
    const gainStep = ((gain.end - gain.start) * TAP) / frames;
    for (let i = 0; i < frames; i++) {
      const x0 = lines[i];
      const x1 = lines[BLOCK_FRAMES + i];
      const x2 = lines[2 * BLOCK_FRAMES + i];
      const x3 = lines[3 * BLOCK_FRAMES + i];
      const x4 = lines[4 * BLOCK_FRAMES + i];
      const x5 = lines[5 * BLOCK_FRAMES + i];
      const x6 = lines[6 * BLOCK_FRAMES + i];
      const x7 = lines[7 * BLOCK_FRAMES + i];
      const x8 = lines[8 * BLOCK_FRAMES + i];
      const x9 = lines[9 * BLOCK_FRAMES + i];
      const x10 = lines[10 * BLOCK_FRAMES + i];
      const x11 = lines[11 * BLOCK_FRAMES + i];
      const x12 = lines[12 * BLOCK_FRAMES + i];
      const x13 = lines[13 * BLOCK_FRAMES + i];
      const x14 = lines[14 * BLOCK_FRAMES + i];
      const x15 = lines[15 * BLOCK_FRAMES + i];
      wetLeft[i] += outGain * (x0 - x2 + x4 - x6 + x8 - x10 + x12 - x14);
      wetRight[i] += outGain * (x1 - x3 + x5 - x7 + x9 - x11 + x13 - x15);
      outGain += gainStep;
      const a0 = x0 + x8;
      const a8 = x0 - x8;
      const a1 = x1 + x9;
      const a9 = x1 - x9;
      const a2 = x2 + x10;
      const a10 = x2 - x10;
      const a3 = x3 + x11;
      const a11 = x3 - x11;
      const a4 = x4 + x12;
      const a12 = x4 - x12;
      const a5 = x5 + x13;
      const a13 = x5 - x13;
      const a6 = x6 + x14;
      const a14 = x6 - x14;
      const a7 = x7 + x15;
      const a15 = x7 - x15;
      const b0 = a0 + a4;
      const b4 = a0 - a4;
      const b1 = a1 + a5;
      const b5 = a1 - a5;
      const b2 = a2 + a6;
      const b6 = a2 - a6;
      const b3 = a3 + a7;
      const b7 = a3 - a7;
      const b8 = a8 + a12;
      const b12 = a8 - a12;
      const b9 = a9 + a13;
      const b13 = a9 - a13;
      const b10 = a10 + a14;
      const b14 = a10 - a14;
      const b11 = a11 + a15;
      const b15 = a11 - a15;
      const c0 = b0 + b2;
      const c2 = b0 - b2;
      const c1 = b1 + b3;
      const c3 = b1 - b3;
      const c4 = b4 + b6;
      const c6 = b4 - b6;
      const c5 = b5 + b7;
      const c7 = b5 - b7;
      const c8 = b8 + b10;
      const c10 = b8 - b10;
      const c9 = b9 + b11;
      const c11 = b9 - b11;
      const c12 = b12 + b14;
      const c14 = b12 - b14;
      const c13 = b13 + b15;
      const c15 = b13 - b15;
      const fedLeft = INJECTION * left[i] + DENORMAL_GUARD;
      const fedRight = INJECTION * right[i] + DENORMAL_GUARD;
      const at = (position + i) & mask;
      memory[at] = c0 + c1 + fedLeft;
      memory[stride + at] = c0 - c1 + fedRight;
      memory[2 * stride + at] = c2 + c3 + fedLeft;
      memory[3 * stride + at] = c2 - c3 + fedRight;
      memory[4 * stride + at] = c4 + c5 - fedLeft;
      memory[5 * stride + at] = c4 - c5 - fedRight;
      memory[6 * stride + at] = c6 + c7 - fedLeft;
      memory[7 * stride + at] = c6 - c7 - fedRight;
      memory[8 * stride + at] = c8 + c9 + fedLeft;
      memory[9 * stride + at] = c8 - c9 + fedRight;
      memory[10 * stride + at] = c10 + c11 + fedLeft;
      memory[11 * stride + at] = c10 - c11 + fedRight;
      memory[12 * stride + at] = c12 + c13 - fedLeft;
      memory[13 * stride + at] = c12 - c13 - fedRight;
      memory[14 * stride + at] = c14 + c15 - fedLeft;
      memory[15 * stride + at] = c14 - c15 - fedRight;
    }
  }
}

/** Most frames that a line may move in a block: it is read within seven samples. */
const FASTEST = 0.9;

/** Frames of a moving line that are read with weights in a straight line. */
const STRETCH = 32;

/** A side feeds eight lines, each with this weight, so that energy stays the same. */
const INJECTION = 1 / Math.sqrt(LINES / 2);

/** Each side hears eight lines with this weight. */
const TAP = 1.47 / EXCHANGE_SCALE;

/** Far below the least step of the output; keeps the lines from running into numbers so small that they slow down. */
const DENORMAL_GUARD = 1e-25;
