import { showSeconds } from '../timing/display.ts';

/** Where a source without a time reference of its own is taken to lie: 01:00:00, as sessions usually do. */
export const ASSUMED_START_SECONDS = 3600;

/** The time reference of a sound, or the assumed one, in frames from midnight. */
export function timeReferenceOf(own: number | undefined | null, sampleRate: number): number {
  return own ?? ASSUMED_START_SECONDS * sampleRate;
}

/**
 * Time reference of a render that starts `originFrames` after its source. Files cannot say what lies before midnight: then
 * it is undefined, for a wrong place would put the sound too late.
 */
export function renderTimeReference(source: number, originFrames: number): number | undefined {
  const place = source + originFrames;
  return place < 0 ? undefined : place;
}

/** `01:00:02.500` for frames from midnight. */
export function showTimeOfDay(frames: number, sampleRate: number): string {
  const milliseconds = Math.round((frames / sampleRate) * 1000);
  const part = (value: number, digits = 2) => String(value).padStart(digits, '0');
  const seconds = Math.floor(milliseconds / 1000);
  return `${part(Math.floor(seconds / 3600))}:${part(Math.floor(seconds / 60) % 60)}:${part(seconds % 60)}.${part(milliseconds % 1000, 3)}`;
}

/** Where a sound lies, in words: where its file does not say, it is taken to lie where sources do, unless it is a render. */
export function placeText(sound: {
  readonly kind: 'source' | 'render' | 'signal';
  readonly timeReference: number | null;
  readonly sampleRate: number;
}): string {
  const { kind, timeReference, sampleRate } = sound;
  if (timeReference === null && kind === 'render') return 'begins before midnight';
  const place = showTimeOfDay(timeReferenceOf(timeReference, sampleRate), sampleRate);
  return timeReference === null ? `${place} (assumed)` : place;
}

/** `−398494 samples (−8.302 s)`: where a render begins, seen from its source. */
export function showOffset({ originFrames, sampleRate }: { originFrames: number; sampleRate: number }): string {
  const sign = originFrames < 0 ? '\u2212' : '+';
  return `${sign}${Math.abs(originFrames)} samples (${sign}${showSeconds(Math.abs(originFrames) / sampleRate)})`;
}
