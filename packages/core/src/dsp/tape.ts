import { ringSize } from './lagrange.ts';
import { smoothStep } from './smoothStep.ts';

/**
 * The recent past of a sound, left and right, read by heads that move at any speed. Frames are counted from the start;
 * `written` is the next one.
 */
export class Tape {
  written = 0;
  /** What lies before this frame is not looked at, not even to read between this one and the next. */
  earliest = -Infinity;
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly mask: number;

  constructor(frames: number) {
    const size = ringSize(Math.ceil(frames) + 16);
    this.left = new Float32Array(size);
    this.right = new Float32Array(size);
    this.mask = size - 1;
  }

  reset(): void {
    this.left.fill(0);
    this.right.fill(0);
    this.written = 0;
    this.earliest = -Infinity;
  }

  write(left: Float32Array | Float64Array, right: Float32Array | Float64Array, frames: number): void {
    const { mask, written } = this;
    for (let i = 0; i < frames; i++) {
      this.left[(written + i) & mask] = left[i];
      this.right[(written + i) & mask] = right[i];
    }
    this.written = written + frames;
  }

  /**
   * Copies or adds `count` frames read from `place` on at a steady speed, to `offset` of the output, weighed by a gain
   * that moves in a straight line. Places are frames of the tape, parts of them too; `now` is the frame that comes in while
   * the first one is put out.
   */
  add(
    outLeft: Float32Array | Float64Array,
    outRight: Float32Array | Float64Array,
    offset: number,
    count: number,
    now: number,
    place: number,
    speed: number,
    gain: number,
    gainStep: number,
  ): void {
    const { left, right, mask, earliest } = this;
    let level = gain;
    if (speed === 1 && Number.isInteger(place)) {
      for (let i = 0; i < count; i++) {
        outLeft[offset + i] += level * left[(place + i) & mask];
        outRight[offset + i] += level * right[(place + i) & mask];
        level += gainStep;
      }
      return;
    }
    for (let i = 0; i < count; i++) {
      // Never ahead of the present.
      const at = Math.min(place + i * speed, now + i);
      const whole = Math.floor(at);
      // Close behind the present the polynomial goes through the last four frames: what comes later may not be there yet.
      const last = now + i - 2;
      const base = whole < last ? whole : last;
      const t = at - base;
      const k0 = (base - 1 < earliest ? earliest : base - 1) & mask;
      const k1 = (base < earliest ? earliest : base) & mask;
      const k2 = (base + 1) & mask;
      const k3 = (base + 2) & mask;
      const w0 = (-t * (t - 1) * (t - 2)) / 6;
      const w1 = ((t + 1) * (t - 1) * (t - 2)) / 2;
      const w2 = (-(t + 1) * t * (t - 2)) / 2;
      const w3 = ((t + 1) * t * (t - 1)) / 6;
      outLeft[offset + i] += level * (w0 * left[k0] + w1 * left[k1] + w2 * left[k2] + w3 * left[k3]);
      outRight[offset + i] += level * (w0 * right[k0] + w1 * right[k1] + w2 * right[k2] + w3 * right[k3]);
      level += gainStep;
    }
  }
}

/** Frames over which a fade is as good as straight. */
const PIECE = 8;

/** A place on a tape, moving; with a level and a life of its own. */
export class TapeHead {
  place = 0;
  speed = 1;
  gain = 1;
  /** Frames until it has to be silent; it fades out before. */
  left = Infinity;
  /** Frames over which it fades out then. */
  endFade = 1;
  /** How much of it is heard, 0…1, and how that goes on: frames of its fade in and out. */
  share = 0;
  private target = 0;

  set(place: number, speed: number, gain: number, left: number): void {
    this.place = place;
    this.speed = speed;
    this.gain = gain;
    this.left = left;
  }

  copy(other: TapeHead): void {
    this.set(other.place, other.speed, other.gain, other.left);
    this.endFade = other.endFade;
    this.share = other.share;
    this.target = other.target;
  }

  get silent(): boolean {
    return this.share === 0 && this.target === 0;
  }

  /** Lets it be heard or not, from now on; `atOnce` without a fade. */
  open(target: 0 | 1, atOnce = false): void {
    this.target = target;
    if (atOnce) this.share = target;
  }

  /** Adds `count` frames and moves on; a fade takes `fadeFrames`. */
  run(
    tape: Tape,
    outLeft: Float32Array | Float64Array,
    outRight: Float32Array | Float64Array,
    offset: number,
    count: number,
    now: number,
    fadeFrames: number,
  ): void {
    if (this.silent) {
      this.place += count * this.speed;
      this.left -= count;
      return;
    }
    for (let done = 0; done < count;) {
      // In pieces in which a fade is as good as straight.
      const steady = this.share === this.target && this.left > this.endFade + count;
      const piece = Math.min(count - done, steady ? count : PIECE);
      const from = smoothStep(this.share) * this.ending();
      const step = piece / fadeFrames;
      this.share = this.target > this.share ? Math.min(1, this.share + step) : Math.max(this.target, this.share - step);
      this.left -= piece;
      const to = smoothStep(this.share) * this.ending();
      tape.add(
        outLeft,
        outRight,
        offset + done,
        piece,
        now + done,
        this.place,
        this.speed,
        this.gain * from,
        (this.gain * (to - from)) / piece,
      );
      this.place += piece * this.speed;
      done += piece;
    }
  }

  private ending(): number {
    return this.left >= this.endFade ? 1 : smoothStep(this.left / this.endFade);
  }
}
