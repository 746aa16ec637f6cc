import { AllpassPair } from './allpassPair.ts';
import { primeNear } from './primes.ts';
import type { Ramp } from '../model/ramp.ts';
import { constant } from '../model/ramp.ts';
import { smoothStep } from './smoothStep.ts';

/** Seconds of the sections, left and right. */
const SECTIONS = [
  [0.0071, 0.0067],
  [0.0113, 0.0121],
  [0.0173, 0.0191],
  [0.0317, 0.0297],
];
const GAIN = constant(0.62);
/** Seconds in which sound is let in when it wakes, so that nothing in it begins with a jump. */
const WAKE_SECONDS = 0.012;
/** Seconds until it has fallen by 60 dB. */
export const DIFFUSER_TAIL = 0.6;

/** Smears a stereo sound over a tenth of a second, by as much as is asked for. Never makes it louder at any frequency. */
export class Diffuser {
  private readonly sections: AllpassPair[];
  private readonly plainLeft: Float64Array;
  private readonly plainRight: Float64Array;
  /** Frames since it woke; −1 while it rests. */
  private awake: number;
  private readonly wakeFrames: number;

  constructor(sampleRate: number, maxFrames: number) {
    this.sections = SECTIONS.map(
      ([left, right]) => new AllpassPair(primeNear(left * sampleRate), primeNear(right * sampleRate)),
    );
    this.wakeFrames = Math.round(WAKE_SECONDS * sampleRate);
    this.awake = this.wakeFrames;
    this.plainLeft = new Float64Array(maxFrames);
    this.plainRight = new Float64Array(maxFrames);
  }

  reset(): void {
    for (let s = 0; s < this.sections.length; s++) this.sections[s].reset();
    this.awake = this.wakeFrames;
  }

  /** Works in place; at an `amount` of 0 nothing is changed. */
  process(left: Float64Array, right: Float64Array, frames: number, amount: Ramp): void {
    const { start, end } = amount;
    if (start === 0 && end === 0) {
      if (this.awake >= 0) this.reset();
      this.awake = -1;
      return;
    }
    const { plainLeft, plainRight } = this;
    for (let i = 0; i < frames; i++) {
      plainLeft[i] = left[i];
      plainRight[i] = right[i];
    }
    if (this.awake < 0) this.awake = 0;
    if (this.awake < this.wakeFrames) this.letIn(left, right, frames);
    for (let s = 0; s < this.sections.length; s++) this.sections[s].process(left, right, frames, GAIN);
    const step = (end - start) / frames;
    let share = start;
    for (let i = 0; i < frames; i++) {
      left[i] = plainLeft[i] + share * (left[i] - plainLeft[i]);
      right[i] = plainRight[i] + share * (right[i] - plainRight[i]);
      share += step;
    }
  }

  private letIn(left: Float64Array, right: Float64Array, frames: number): void {
    for (let i = 0; i < frames; i++) {
      const share = smoothStep((this.awake + i) / this.wakeFrames);
      left[i] *= share;
      right[i] *= share;
    }
    this.awake += frames;
  }
}
