import { RealFft } from './realFft.ts';
import { Oscillator, type OscillatorShape } from './oscillator.ts';
import { PI } from './portableMath.ts';
import type { Ramp } from '../model/ramp.ts';

/** Most partials that are kept in a table; waves lower than that needs round their steps instead, far above hearing. */
const MOST_PARTIALS = 1024;
const LEAST_POINTS = 2048;
/** Points for the highest partial of a table; read by a cubic they are true to −100 dB. */
const POINTS_PER_PARTIAL = 8;

interface Table {
  readonly partials: number;
  /** One turn, with a point before its first and two behind its last. */
  readonly points: Float64Array;
  readonly count: number;
}

const built = new Map<OscillatorShape, readonly Table[]>();

/** Tables of a wave with 1, 2, 4 … partials, as they sound together: amplitudes of sines, k from 1. */
function tablesOf(shape: OscillatorShape): readonly Table[] {
  const found = built.get(shape);
  if (found) return found;
  const made: Table[] = [];
  for (let partials = 1; partials <= MOST_PARTIALS; partials *= 2) {
    const count = Math.max(LEAST_POINTS, POINTS_PER_PARTIAL * partials);
    const re = new Float64Array(count / 2 + 1);
    const im = new Float64Array(count / 2 + 1);
    // An inverse transform divides by the count; a sine of amplitude a is −a/2 · count at its bin.
    for (let k = 1; k <= partials; k++) im[k] = (-count / 2) * partialOf(shape, k);
    const turn = new Float64Array(count);
    new RealFft(count).inverse(re, im, turn);
    const points = new Float64Array(count + 3);
    points.set(turn, 1);
    points[0] = turn[count - 1];
    points[count + 1] = turn[0];
    points[count + 2] = turn[1];
    made.push({ partials, points, count });
  }
  built.set(shape, made);
  return made;
}

function partialOf(shape: OscillatorShape, k: number): number {
  if (shape === 'saw') return -2 / (PI * k);
  if (k % 2 === 0) return 0;
  if (shape === 'square') return 4 / (PI * k);
  if (shape === 'triangle') return ((k % 4 === 1 ? 1 : -1) * 8) / (PI * PI * k * k);
  return k === 1 ? 1 : 0;
}

/**
 * The waves of `Oscillator` without partials above half the sample rate, to whichever frequency: read from tables, each
 * with twice the partials of the one before (the highest that fits is taken, and passed over to within a block). Allocates
 * nothing once made.
 */
export class BandlimitedWave {
  private readonly shape: OscillatorShape;
  private readonly sampleRate: number;
  private readonly tables: readonly Table[];
  private readonly rounded: Oscillator;
  private readonly other: Float64Array;
  private phase = 0;
  /** Index of the table of the last block; −1 for rounded steps; NaN at the beginning. */
  private last = NaN;

  constructor(shape: OscillatorShape, sampleRate: number, maxFrames: number) {
    this.shape = shape;
    this.sampleRate = sampleRate;
    this.tables = shape === 'sine' ? [] : tablesOf(shape);
    this.rounded = new Oscillator(sampleRate);
    this.other = new Float64Array(maxFrames);
  }

  /** As for `Oscillator`. */
  begin(position: number, frequency: number): void {
    if (!Number.isNaN(this.last)) return;
    const turns = (frequency * position) / this.sampleRate;
    this.phase = turns - Math.floor(turns);
  }

  reset(): void {
    this.phase = 0;
    this.last = NaN;
    this.rounded.reset();
  }

  /** Writes `frames` values of about −1…1; `frequency` in Hz, below half the sample rate. */
  fill(into: Float64Array, frames: number, frequency: Ramp): void {
    const now = this.indexFor(Math.max(frequency.start, frequency.end));
    const before = Number.isNaN(this.last) ? now : this.last;
    this.last = now;
    const { phase } = this;
    this.read(into, frames, frequency, now);
    if (before === now) return;
    const { other } = this;
    const end = this.phase;
    this.phase = phase;
    this.read(other, frames, frequency, before);
    this.phase = end;
    for (let i = 0; i < frames; i++) into[i] = other[i] + ((i + 1) / frames) * (into[i] - other[i]);
  }

  private indexFor(frequency: number): number {
    const { tables } = this;
    for (let n = tables.length - 1; n >= 0; n--)
      if (tables[n].partials * frequency <= this.sampleRate / 2)
        return n === tables.length - 1 && 2 * tables[n].partials * frequency <= this.sampleRate / 2 ? -1 : n;
    return tables.length === 0 ? -1 : 0;
  }

  /** Fills from the phase on and moves it. */
  private read(into: Float64Array, frames: number, frequency: Ramp, index: number): void {
    const { sampleRate } = this;
    if (index < 0) {
      this.rounded.phase = this.phase;
      this.rounded.fill(into, frames, this.shape, frequency);
      this.phase = this.rounded.phase;
      return;
    }
    const { points, count } = this.tables[index];
    let step = frequency.start / sampleRate;
    const growth = (frequency.end - frequency.start) / sampleRate / frames;
    let { phase } = this;
    for (let i = 0; i < frames; i++) {
      const place = phase * count;
      const whole = place | 0;
      const t = place - whole;
      const before = points[whole];
      const at = points[whole + 1];
      const next = points[whole + 2];
      const after = points[whole + 3];
      const cubic = (after - before) * (1 / 6) + (at - next) * 0.5;
      const square = (before + next) * 0.5 - at;
      const slope = next - before * (1 / 3) - at * 0.5 - after * (1 / 6);
      into[i] = ((cubic * t + square) * t + slope) * t + at;
      phase += step;
      if (phase >= 1) phase -= 1;
      step += growth;
    }
    this.phase = phase;
  }
}
