import { kaiser } from './kaiser.ts';
import { PI, sin } from './portableMath.ts';
import { readBetween } from './resample.ts';

/** How many octaves there are at the most: bends go no further. */
const MOST = 6;
/** Frames that a copy begins before the sound and ends behind it, where halving its band makes it ring. */
const MARGIN = 128;
/** Frames on either side that a frame of a copy is made from, and the window over them: 110 dB. */
const REACH = 39;
const BETA = 11;
/** A copy is read at a density up to twice this: what its making leaves to fold lies above, and is not let through. */
const SPARSE = 0.4;

/**
 * Reads a sound between its samples at a density that moves, as `readBetween` does. Where it is passed at more than two and
 * a half times its speed it is read from a copy at half its rate, or a quarter, …, whose narrower band needs no wider kernel.
 */
export class Octaves {
  /** The sound and its copies; frame i of a copy lies at frame 2 (i − MARGIN) of the one before. */
  private readonly octaves: Float32Array[];

  constructor(samples: Float32Array) {
    this.octaves = [samples];
  }

  read(place: number, density: number): number {
    if (density > SPARSE) return readBetween(this.octaves[0], place, density);
    let octave = 0;
    let near = place;
    let dense = density;
    while (dense <= SPARSE && octave < MOST) {
      octave++;
      near = 0.5 * near + MARGIN;
      dense *= 2;
    }
    while (this.octaves.length <= octave) this.octaves.push(halved(this.octaves[this.octaves.length - 1]));
    return readBetween(this.octaves[octave], near, dense);
  }
}

/**
 * A sound at half its rate, MARGIN frames longer at either end, by a half-band filter: every second weight is 0 but the
 * middle one (F. Mintzer, "On half-band, third-band and Nth-band FIR filters", 1982). What it leaves to fold lies above
 * 0.4 of the new rate.
 */
function halved(sound: Float32Array): Float32Array {
  const weights = (halfBand ??= halfBandWeights());
  const out = new Float32Array((sound.length >> 1) + 2 * MARGIN);
  for (let i = 0; i < out.length; i++) {
    const middle = 2 * (i - MARGIN);
    let sum = 0.5 * frameOf(sound, middle);
    if (middle >= REACH && middle + REACH < sound.length) {
      for (let w = 0, k = 1; w < weights.length; w++, k += 2)
        sum += weights[w] * (sound[middle - k] + sound[middle + k]);
    } else {
      for (let w = 0, k = 1; w < weights.length; w++, k += 2)
        sum += weights[w] * (frameOf(sound, middle - k) + frameOf(sound, middle + k));
    }
    out[i] = sum;
  }
  return out;
}

const frameOf = (sound: Float32Array, frame: number) => (frame >= 0 && frame < sound.length ? sound[frame] : 0);

let halfBand: Float64Array | undefined;

/** Those of odd distances from the middle, up to REACH. */
function halfBandWeights(): Float64Array {
  return Float64Array.from({ length: (REACH + 1) / 2 }, (_, w) => {
    const k = 2 * w + 1;
    return (kaiser(k / (REACH + 1), BETA) * sin(0.5 * PI * k)) / (PI * k);
  });
}
