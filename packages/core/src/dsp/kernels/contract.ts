/**
 * The hot loops behind a contract, so that they can be done elsewhere than in TypeScript – in WebAssembly, in a memory of
 * their own – while all else stays as it is. A stage gets them in its context and takes nothing else in their place.
 *
 * All memory is taken when a kernel is made; nothing else takes any. What a kernel gives out of its own memory (`buffer`)
 * is a view that is good until the next call: a memory that has grown makes its views anew. So it is asked for where it is
 * used, every time, and never kept.
 */
import type { Ramp } from '../../model/ramp.ts';
import type { ImpulseParts } from '../convolver.ts';
import type { NetworkValues } from '../network/lineDamping.ts';
import type { Random } from '../random.ts';

/** Samples that are handed in or taken out. */
export type Samples = Float32Array | Float64Array;

/** A Fourier transform of `size` real samples; bins 0 … size / 2. */
export interface TransformKernel {
  readonly size: number;
  forward(samples: Samples, re: Float64Array, im: Float64Array): void;
  /** Divided by the size, so that it gives back what `forward` was given. */
  inverse(re: Float64Array, im: Float64Array, samples: Samples): void;
}

/** Raises the sample rate of a block, lets it be worked on, and lowers it again. Mono. */
export interface OversamplerKernel {
  /** 1, 2, 4 or 8. */
  readonly factor: number;
  /** Frames, at the low rate, by which a sound comes out late; a whole number. */
  readonly latency: number;
  /** The sound at the high rate, between `up` and `down`. To be asked for after `up`. */
  readonly buffer: Float64Array;
  reset(): void;
  up(samples: Samples, frames: number): void;
  down(samples: Samples, frames: number): void;
}

/** Delays that feed each other, as in a hall. Stereo. */
export interface NetworkKernel {
  /** The most frames that can be run at once. */
  readonly maxFrames: number;
  /** Share of the energy that is left after a pass through the delays, on the mean of them. */
  readonly energyKept: number;
  reset(): void;
  /** Before its first frames: what moves in it stands where it would had it run from frame 0 on. */
  begin(position: number): void;
  resize(size: number): void;
  /** Takes over the other values for the next `frames` ≤ maxFrames frames. */
  tune(values: NetworkValues, frames: number): void;
  /** Feeds `left` and `right` in and adds what comes out, at the level `gain`, to `wetLeft` and `wetRight`. */
  process(
    left: Float64Array,
    right: Float64Array,
    wetLeft: Float64Array,
    wetRight: Float64Array,
    gain: Ramp,
    frames: number,
  ): void;
}

/** Convolution with an impulse response, without latency. Mono. */
export interface ConvolverKernel {
  /** Frames of the impulse response. */
  readonly length: number;
  reset(): void;
  process(input: Samples, output: Samples, frames: number): void;
}

/** One way to do them: a kernel of each kind. */
export interface Kernels {
  transform(size: number): TransformKernel;
  /** `inside`: samples by which what is done at the high rate is late. */
  oversampler(factor: number, maxFrames: number, inside?: number): OversamplerKernel;
  network(sampleRate: number, maxSize: number, random: Random): NetworkKernel;
  /** The samples at `ratio` times their rate. */
  resample(samples: Float32Array, ratio: number): Float32Array;
  /** Works out what convolving needs of an impulse response: plain data over memory that threads share. */
  partImpulse(impulse: ArrayLike<number>): ImpulseParts;
  convolver(parts: ImpulseParts): ConvolverKernel;
}
