import type { Clip } from '../engine/clip.ts';
import { resample } from './resample.ts';

/** A whole sound at the rate of the stage that uses it, read along the timeline. */
export class HeldSound {
  readonly frames: number;
  readonly channels: readonly Float32Array[];

  constructor(channels: readonly Float32Array[]) {
    this.channels = channels;
    this.frames = channels[0].length;
  }

  /** The sound at the rate of the stage. */
  static from(clip: Clip, sampleRate: number): HeldSound {
    return new HeldSound(clip.channels.map((samples) => resample(samples, sampleRate / clip.sampleRate)));
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
