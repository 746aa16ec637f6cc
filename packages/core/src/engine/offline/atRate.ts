import { resample } from '../../dsp/resample.ts';
import { InputError } from '../../model/errors.ts';
import { LIMITS } from '../../model/limits.ts';
import { frameCount, type Clip } from '../../model/clip.ts';

/** What is converted is held whole twice over. */
const MOST_SAMPLES = 2 * LIMITS.clipSamples;

/** A clip at another sample rate; its origin moves with it. InputError for a rate that is not allowed, or too long. */
export function atRate(clip: Clip, sampleRate: number): Clip {
  const { min, max } = LIMITS.sampleRate;
  if (!Number.isInteger(sampleRate) || sampleRate < min || sampleRate > max)
    throw new InputError(`A sample rate of ${sampleRate} Hz is not allowed; allowed is ${min} to ${max} Hz.`);
  if (sampleRate === clip.sampleRate) return clip;
  const ratio = sampleRate / clip.sampleRate;
  const frames = Math.ceil(frameCount(clip) * ratio);
  if (frames * clip.channels.length > MOST_SAMPLES)
    throw new InputError(
      `At ${sampleRate} Hz the sound would have ${frames} frames × ${clip.channels.length} channels; allowed are ${MOST_SAMPLES} samples (an hour of stereo at 48 kHz).`,
    );
  return {
    sampleRate,
    origin: Math.round(clip.origin * ratio),
    channels: clip.channels.map((samples) => resample(samples, ratio)),
  };
}
