import { resample } from '../../dsp/resample.ts';
import { InputError } from '../../model/errors.ts';
import { LIMITS } from '../../model/limits.ts';
import type { Clip } from '../../model/clip.ts';

/** A clip at another sample rate; its origin moves with it. InputError for a rate that is not allowed. */
export function atRate(clip: Clip, sampleRate: number): Clip {
  const { min, max } = LIMITS.sampleRate;
  if (!Number.isInteger(sampleRate) || sampleRate < min || sampleRate > max)
    throw new InputError(`A sample rate of ${sampleRate} Hz is not allowed; allowed is ${min} to ${max} Hz.`);
  if (sampleRate === clip.sampleRate) return clip;
  const ratio = sampleRate / clip.sampleRate;
  return {
    sampleRate,
    origin: Math.round(clip.origin * ratio),
    channels: clip.channels.map((samples) => resample(samples, ratio)),
  };
}
