import { TAU, decibelsToGain, exp } from '../portableMath.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Ramp } from '../../model/ramp.ts';

/** How a network of lines decays. */
export interface NetworkValues {
  readonly decay: Ramp;
  readonly lowDecay: Ramp;
  readonly lowCrossover: Ramp;
  readonly highDecay: Ramp;
  readonly highCrossover: Ramp;
  readonly movement: Ramp;
  readonly hold: boolean;
}

/** Makes the exchange of sixteen lines lossless, 1/√16; taken here, where every line is multiplied anyway. */
export const EXCHANGE_SCALE = 0.25;

/** Seconds in which the hall is caught, and let go again. */
const HOLD_SECONDS = 0.03;

/**
 * What each line of the network loses per pass: so many decibels for its length, and by two first-order shelves more or
 * less of them for lows and highs (Jot's absorbent filters). At every frequency less comes out than goes in.
 */
export class LineDamping {
  private readonly sampleRate: number;
  private readonly gains: Float64Array;
  private readonly lowBoosts: Float64Array;
  private readonly highShares: Float64Array;
  /** The three as they were at the end of the last block. */
  private readonly lastGains: Float64Array;
  private readonly lastBoosts: Float64Array;
  private readonly lastShares: Float64Array;
  private changed = false;
  private fresh = true;
  /** How far the hall is held, 0…1. */
  private held = 0;
  private readonly lowStates: Float64Array;
  private readonly highStates: Float64Array;
  private lowStep = 0;
  private highStep = 0;
  /** Share of the energy that is left after a pass, on the mean of the lines and whether or not the hall is held. */
  energyKept = 0;
  private decay = NaN;
  private lowDecay = NaN;
  private highDecay = NaN;
  private lowCrossover = NaN;
  private highCrossover = NaN;

  /** `lines` is a multiple of four. */
  constructor(lines: number, sampleRate: number) {
    this.sampleRate = sampleRate;
    this.gains = new Float64Array(lines);
    this.lowBoosts = new Float64Array(lines);
    this.highShares = new Float64Array(lines);
    this.lastGains = new Float64Array(lines);
    this.lastBoosts = new Float64Array(lines);
    this.lastShares = new Float64Array(lines);
    this.lowStates = new Float64Array(lines);
    this.highStates = new Float64Array(lines);
  }

  reset(): void {
    this.lowStates.fill(0);
    this.highStates.fill(0);
    this.fresh = true;
  }

  /**
   * Takes over the values at the end of a block of `frames`, for lines of these lengths; works only when something has
   * changed. `process` then moves there from where the last block ended.
   */
  tune(values: NetworkValues, lengths: Float64Array, resized: boolean, frames: number): void {
    const goal = values.hold ? 1 : 0;
    const reach = this.fresh ? 1 : frames / (HOLD_SECONDS * this.sampleRate);
    const held = this.held + Math.max(-reach, Math.min(reach, goal - this.held));
    this.changed =
      resized ||
      this.fresh ||
      held !== this.held ||
      values.decay.end !== this.decay ||
      values.lowDecay.end !== this.lowDecay ||
      values.highDecay.end !== this.highDecay ||
      values.lowCrossover.end !== this.lowCrossover ||
      values.highCrossover.end !== this.highCrossover;
    if (!this.changed) return;
    this.held = held;
    this.decay = values.decay.end;
    this.lowDecay = values.lowDecay.end;
    this.highDecay = values.highDecay.end;
    this.lowCrossover = values.lowCrossover.end;
    this.highCrossover = values.highCrossover.end;
    this.lowStep = onePoleStep(this.lowCrossover, this.sampleRate);
    this.highStep = onePoleStep(this.highCrossover, this.sampleRate);
    const loose = 1 - held;
    let energy = 0;
    for (let l = 0; l < lengths.length; l++) {
      this.lastGains[l] = this.gains[l];
      this.lastBoosts[l] = this.lowBoosts[l];
      this.lastShares[l] = this.highShares[l];
      const loss = (-60 * lengths[l]) / (this.sampleRate * this.decay);
      const kept = decibelsToGain(loss);
      energy += kept * kept;
      this.gains[l] = EXCHANGE_SCALE * (held + loose * kept);
      this.lowBoosts[l] = loose * (decibelsToGain(loss / this.lowDecay - loss) - 1);
      this.highShares[l] = held + loose * decibelsToGain(loss / this.highDecay - loss);
    }
    this.energyKept = energy / lengths.length;
    if (!this.fresh) return;
    this.changed = false;
    this.fresh = false;
  }

  /** Damps line l, which stands at [l · BLOCK_FRAMES …], in place. */
  process(lines: Float64Array, frames: number): void {
    const lowsLast = this.held === 1 || this.lowDecay === 1;
    for (let first = 0; first < this.gains.length; first += 4) {
      if (this.changed) for (let l = first; l < first + 4; l++) this.dampMoving(lines, l, frames);
      else if (lowsLast) this.dampHighs(lines, first, frames);
      else this.dampAll(lines, first, frames);
    }
  }

  /** As `dampAll`, for one line, with all three moving in straight lines to where they shall be at the end of the block. */
  private dampMoving(lines: Float64Array, l: number, frames: number): void {
    const { lowStep, highStep } = this;
    const out = l * BLOCK_FRAMES;
    let gain = this.lastGains[l];
    let boost = this.lastBoosts[l];
    let share = this.lastShares[l];
    const gainStep = (this.gains[l] - gain) / frames;
    const boostStep = (this.lowBoosts[l] - boost) / frames;
    const shareStep = (this.highShares[l] - share) / frames;
    let low = this.lowStates[l];
    let high = this.highStates[l];
    for (let i = 0; i < frames; i++) {
      const x = lines[out + i];
      low += lowStep * (x - low);
      const lifted = x + boost * low;
      high += highStep * (lifted - high);
      lines[out + i] = gain * (share * lifted + (1 - share) * high);
      gain += gainStep;
      boost += boostStep;
      share += shareStep;
    }
    this.lowStates[l] = low;
    this.highStates[l] = high;
  }

  /** Four lines from `first` on, lows and highs. */
  private dampAll(lines: Float64Array, first: number, frames: number): void {
    const { gains, lowBoosts, highShares, lowStates, highStates } = this;
    const lowStep = this.lowStep;
    const lowKeep = 1 - lowStep;
    const highStep = this.highStep;
    const highKeep = 1 - highStep;
    const out = first * BLOCK_FRAMES;
    const aGain = gains[first];
    const aBoost = lowBoosts[first];
    const aShare = highShares[first];
    let aLow = lowStates[first];
    let aHigh = highStates[first];
    const bGain = gains[first + 1];
    const bBoost = lowBoosts[first + 1];
    const bShare = highShares[first + 1];
    let bLow = lowStates[first + 1];
    let bHigh = highStates[first + 1];
    const cGain = gains[first + 2];
    const cBoost = lowBoosts[first + 2];
    const cShare = highShares[first + 2];
    let cLow = lowStates[first + 2];
    let cHigh = highStates[first + 2];
    const dGain = gains[first + 3];
    const dBoost = lowBoosts[first + 3];
    const dShare = highShares[first + 3];
    let dLow = lowStates[first + 3];
    let dHigh = highStates[first + 3];
    for (let i = 0; i < frames; i++) {
      const a = lines[out + i];
      aLow = lowKeep * aLow + lowStep * a;
      const aLifted = a + aBoost * aLow;
      aHigh = highKeep * aHigh + highStep * aLifted;
      lines[out + i] = aGain * (aShare * aLifted + (1 - aShare) * aHigh);
      const b = lines[out + BLOCK_FRAMES + i];
      bLow = lowKeep * bLow + lowStep * b;
      const bLifted = b + bBoost * bLow;
      bHigh = highKeep * bHigh + highStep * bLifted;
      lines[out + BLOCK_FRAMES + i] = bGain * (bShare * bLifted + (1 - bShare) * bHigh);
      const c = lines[out + 2 * BLOCK_FRAMES + i];
      cLow = lowKeep * cLow + lowStep * c;
      const cLifted = c + cBoost * cLow;
      cHigh = highKeep * cHigh + highStep * cLifted;
      lines[out + 2 * BLOCK_FRAMES + i] = cGain * (cShare * cLifted + (1 - cShare) * cHigh);
      const d = lines[out + 3 * BLOCK_FRAMES + i];
      dLow = lowKeep * dLow + lowStep * d;
      const dLifted = d + dBoost * dLow;
      dHigh = highKeep * dHigh + highStep * dLifted;
      lines[out + 3 * BLOCK_FRAMES + i] = dGain * (dShare * dLifted + (1 - dShare) * dHigh);
    }
    lowStates[first] = aLow;
    highStates[first] = aHigh;
    lowStates[first + 1] = bLow;
    highStates[first + 1] = bHigh;
    lowStates[first + 2] = cLow;
    highStates[first + 2] = cHigh;
    lowStates[first + 3] = dLow;
    highStates[first + 3] = dHigh;
  }

  /** As `dampAll`, for lows that last as long as the middle: a third less work, and the usual case. */
  private dampHighs(lines: Float64Array, first: number, frames: number): void {
    const { gains, highShares, highStates } = this;
    const step = this.highStep;
    const keep = 1 - step;
    const out = first * BLOCK_FRAMES;
    const aDirect = gains[first] * highShares[first];
    const aThrough = gains[first] - aDirect;
    let aHigh = highStates[first];
    const bDirect = gains[first + 1] * highShares[first + 1];
    const bThrough = gains[first + 1] - bDirect;
    let bHigh = highStates[first + 1];
    const cDirect = gains[first + 2] * highShares[first + 2];
    const cThrough = gains[first + 2] - cDirect;
    let cHigh = highStates[first + 2];
    const dDirect = gains[first + 3] * highShares[first + 3];
    const dThrough = gains[first + 3] - dDirect;
    let dHigh = highStates[first + 3];
    for (let i = 0; i < frames; i++) {
      const a = lines[out + i];
      aHigh = keep * aHigh + step * a;
      lines[out + i] = aDirect * a + aThrough * aHigh;
      const b = lines[out + BLOCK_FRAMES + i];
      bHigh = keep * bHigh + step * b;
      lines[out + BLOCK_FRAMES + i] = bDirect * b + bThrough * bHigh;
      const c = lines[out + 2 * BLOCK_FRAMES + i];
      cHigh = keep * cHigh + step * c;
      lines[out + 2 * BLOCK_FRAMES + i] = cDirect * c + cThrough * cHigh;
      const d = lines[out + 3 * BLOCK_FRAMES + i];
      dHigh = keep * dHigh + step * d;
      lines[out + 3 * BLOCK_FRAMES + i] = dDirect * d + dThrough * dHigh;
    }
    highStates[first] = aHigh;
    highStates[first + 1] = bHigh;
    highStates[first + 2] = cHigh;
    highStates[first + 3] = dHigh;
  }
}

function onePoleStep(frequency: number, sampleRate: number): number {
  return 1 - exp((-TAU * Math.min(frequency, 0.45 * sampleRate)) / sampleRate);
}
