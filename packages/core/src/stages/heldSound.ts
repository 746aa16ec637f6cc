import type { Clip } from '../model/clip.ts';
import type { LiveContext, Prepared } from './contract.ts';
import type { Kernels } from '../dsp/kernels/contract.ts';
import { sharedSamples } from '../dsp/sharedMemory.ts';

type Surroundings = Pick<LiveContext, 'sampleRate' | 'prepared' | 'kernels'>;

/** `prepare` of a stage that holds sounds: those of another rate, brought to its own. */
export function prepareHeld({
  sampleRate,
  sounds,
  kernels,
}: Pick<LiveContext, 'sampleRate' | 'sounds' | 'kernels'>): Prepared | undefined {
  const others = Object.entries(sounds).flatMap(([key, clip]) =>
    clip === undefined || clip.sampleRate === sampleRate
      ? []
      : [[key, atRate(kernels, clip, sampleRate).map(sharedSamples)] as const],
  );
  return others.length === 0 ? undefined : Object.fromEntries(others);
}

const atRate = (kernels: Kernels, clip: Clip, sampleRate: number) =>
  clip.channels.map((samples) => kernels.resample(samples, sampleRate / clip.sampleRate));

/** A whole sound at the rate of the stage that uses it, read along the timeline. */
export class HeldSound {
  readonly frames: number;
  readonly channels: readonly Float32Array[];

  constructor(channels: readonly Float32Array[]) {
    this.channels = channels;
    this.frames = channels[0].length;
  }

  /** The sound of this name at the rate of the stage: the one worked out beforehand, where there is one. */
  static from(clip: Clip, key: string, { sampleRate, prepared, kernels }: Surroundings): HeldSound {
    const channels = prepared?.[key] as readonly Float32Array[] | undefined;
    return new HeldSound(channels ?? atRate(kernels, clip, sampleRate));
  }

  /**
   * Fills `into` with `frames` frames from `position` on, round and round when it is looped; silence where there is
   * nothing. A mono sound fills all channels.
   */
  read(into: readonly Float32Array[], frames: number, position: number, looped: boolean): void {
    const length = this.frames;
    for (let c = 0; c < into.length; c++) {
      const out = into[c];
      const samples = this.channels[c < this.channels.length ? c : 0];
      let at = looped ? ((position % length) + length) % length : position;
      for (let i = 0; i < frames; i++) {
        out[i] = at >= 0 && at < length ? samples[at] : 0;
        at++;
        if (looped && at === length) at = 0;
      }
    }
  }
}
