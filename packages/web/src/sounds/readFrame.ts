import { InputError, isSynced, parseNumber, parseTime, resolveTime } from '@hexenkessel/core/model';

const PLAIN = /^[\s\d.,+\u2212-]+$/;

/**
 * Reads a place in a sound: a plain number counts samples, all else is a time. `tempo` is the sound's, null where it is not
 * known. InputError for what is no whole place from `low` to `high`.
 */
export function readFrame(text: string, sampleRate: number, tempo: number | null, low: number, high: number): number {
  const frame = PLAIN.test(text) ? parseNumber(text) : framesOf(text, sampleRate, tempo);
  if (!Number.isInteger(frame) || frame < low || frame > high)
    throw new InputError(`${text} is not allowed; write a whole number of samples from ${low} to ${high}, or a time.`);
  return frame;
}

function framesOf(text: string, sampleRate: number, tempo: number | null): number {
  const time = parseTime(text);
  if (tempo === null && isSynced(time))
    throw new InputError(`The tempo of the sound is not known; say it first, or write ${text} in seconds or samples.`);
  return Math.round(resolveTime(time, { tempo: tempo ?? 120, meter: [4, 4] }, sampleRate) * sampleRate);
}
