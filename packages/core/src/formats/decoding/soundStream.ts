import { InputError } from '../../model/errors.ts';
import { LIMITS } from '../../model/limits.ts';
import type { SoundMarks } from '../common/soundMarks.ts';
import type { SoundFormat } from './soundFormat.ts';

/** A sound that is decoded piece by piece. */
export interface SoundStream {
  readonly format: SoundFormat;
  readonly sampleRate: number;
  /** One or two. */
  readonly channels: number;
  /** Of the file. */
  readonly fileChannels: number;
  readonly marks: SoundMarks;
  readonly timeReference: number | undefined;
  /** Frames, where the file says how many it has. */
  readonly promised?: number;
  /** What was wrong with the file and did not keep it from being read. */
  readonly warning?: string | undefined;
  /** One array a channel; InputError when the file is broken on the way. */
  pieces(): AsyncGenerator<Float32Array[]>;
}

/** InputError for a sample rate that is not allowed. */
export function refuseRate(sampleRate: number, name: string): void {
  const { min, max } = LIMITS.sampleRate;
  if (sampleRate < min || sampleRate > max)
    throw new InputError(`The ${name} file has a sample rate of ${sampleRate} Hz; allowed is ${min} to ${max} Hz.`);
}

/** InputError for a sound that is longer, or as floats larger, than any may be. */
export function refuseLongSound(frames: number, sampleRate: number, channels: number): void {
  const bytes = 4 * frames * channels;
  if (frames <= LIMITS.soundSeconds * sampleRate && bytes <= LIMITS.soundBytes) return;
  throw new InputError(
    `The sound has ${frames} frames × ${channels} channels at ${sampleRate} Hz or more; allowed are 6 hours and 4 GiB of 32-bit floats.`,
  );
}
