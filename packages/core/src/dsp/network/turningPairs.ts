import { cos, exp, log, sin } from '../portableMath.ts';
import type { Random } from '../random.ts';
import { SlowOscillator } from '../slowOscillator.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';

/** How fast pairs turn, in Hz. */
const SLOWEST = 1.4;
const SPREAD = 1.6;
/** How far, in radians, at size 100 %; a smaller hall has fewer modes and turns further, one whose walls move turns less. */
const WIDEST = 2.1;
const SIZE_POWER = -0.65;
const MOVED_LESS = 0.65;
/** Seconds in which it comes to two thirds of another width. */
const TURN_SECONDS = 0.3;

/**
 * Turns the lines of each pair into one another by an angle that wanders: it loses nothing, bends no pitch, and no mode
 * keeps its frequency long enough to ring (S. Schlecht & E. Habets, "Time-varying feedback matrices in feedback delay
 * networks and their application in artificial reverberation", 2015). Line l and line l + `pairs` are a pair.
 */
export class TurningPairs {
  private readonly pairs: number;
  private readonly sampleRate: number;
  private readonly turns: SlowOscillator[];
  /** Angles at the end of the last block. */
  private readonly turned: Float64Array;
  private widest = 0;
  private reach = NaN;

  constructor(pairs: number, sampleRate: number, random: Random) {
    this.pairs = pairs;
    this.sampleRate = sampleRate;
    this.turns = Array.from(
      { length: pairs },
      () => new SlowOscillator(SLOWEST + SPREAD * random(), random(), sampleRate),
    );
    this.turned = new Float64Array(pairs).fill(NaN);
  }

  reset(): void {
    for (let pair = 0; pair < this.pairs; pair++) this.turns[pair].reset();
    this.turned.fill(NaN);
    this.reach = NaN;
  }

  /** Before its first frames: as for a `SlowOscillator`. */
  begin(position: number): void {
    for (let pair = 0; pair < this.pairs; pair++) this.turns[pair].begin(position);
  }

  resize(size: number): void {
    this.widest = WIDEST * exp(SIZE_POWER * log(size));
  }

  /** Takes over how much the lines move, 0…1, for the next `frames` frames. */
  tune(movement: number, frames: number): void {
    const reach = this.widest * (1 - MOVED_LESS * movement);
    // A turn that jumped would click.
    const share = Math.min(1, frames / (TURN_SECONDS * this.sampleRate));
    this.reach = Number.isNaN(this.reach) ? reach : this.reach + share * (reach - this.reach);
  }

  /** Works on `lines` in place; line l stands at [l · BLOCK_FRAMES …]. */
  process(lines: Float64Array, frames: number): void {
    const { turns, turned, reach, pairs } = this;
    for (let pair = 0; pair < pairs; pair++) {
      const oscillator = turns[pair];
      const start = Number.isNaN(turned[pair]) ? reach * oscillator.value : turned[pair];
      oscillator.advance(frames);
      const end = reach * oscillator.value;
      turned[pair] = end;
      // The angle moves evenly: a cosine that moved in a straight line would lose a little on every pass.
      const step = (end - start) / frames;
      const cStep = cos(step);
      const sStep = sin(step);
      let c = cos(start);
      let s = sin(start);
      const a = pair * BLOCK_FRAMES;
      const b = (pair + pairs) * BLOCK_FRAMES;
      for (let i = 0; i < frames; i++) {
        const x = lines[a + i];
        const y = lines[b + i];
        lines[a + i] = c * x + s * y;
        lines[b + i] = c * y - s * x;
        const before = c;
        c = cStep * before - sStep * s;
        s = cStep * s + sStep * before;
      }
    }
  }
}
