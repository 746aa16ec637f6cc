/** Rounded forms of values for reading, where `print…` of `expressions.ts` is exact for typing. */
import { written } from './quantity.ts';
import { isSynced, type Timing, type TimeValue, barSeconds, beatSeconds, resolveTime } from './tempo.ts';

function round(value: number, digits: number): string {
  return written(Number(value.toFixed(digits)));
}

export function showSeconds(seconds: number): string {
  const size = Math.abs(seconds);
  if (size !== 0 && size < 1) return `${round(seconds * 1000, size < 0.1 ? 2 : 1)} ms`;
  return `${round(seconds, size < 10 ? 3 : 2)} s`;
}

export function showFrequency(hertz: number): string {
  return hertz >= 1000 ? `${round(hertz / 1000, 2)} kHz` : `${round(hertz, hertz < 10 ? 2 : 1)} Hz`;
}

const inTenths = (value: number) => `${value < 0 ? '\u2212' : ''}${Math.abs(value).toFixed(1)}`;

export function showLevel(decibels: number): string {
  if (decibels === -Infinity) return 'silent';
  return `${inTenths(decibels)} dB`;
}

/** `−23.1 LUFS`; a sound that has no loudness is silent. */
export function showLoudness(loudness: number | null): string {
  if (loudness === null || !Number.isFinite(loudness)) return 'silent';
  return `${inTenths(loudness)} LUFS`;
}

/** The same time in the units it was not written in: `8 beats` at 93 bpm → `5.161 s · 2 bars`. */
export function showOtherUnits(value: TimeValue, timing: Timing, sampleRate: number): string {
  const seconds = resolveTime(value, timing, sampleRate);
  const count = (length: number, unit: string) => `${round(length, 2)} ${unit}${round(length, 2) === '1' ? '' : 's'}`;
  const beats = count(seconds / beatSeconds(timing), 'beat');
  const bars = count(seconds / barSeconds(timing), 'bar');
  if (!isSynced(value)) {
    const asSeconds = typeof value === 'number' ? '' : `${showSeconds(seconds)} · `;
    return `${asSeconds}${beats}`;
  }
  return typeof value === 'object' && 'beats' in value
    ? `${showSeconds(seconds)} · ${bars}`
    : `${showSeconds(seconds)} · ${beats}`;
}

/** A place on the bars.beats ruler: 1.1 is the first beat of the first bar; before it the bars count −1, −2 … */
export function showBarsBeats(seconds: number, timing: Timing): string {
  const beatsPerBar = timing.meter[0];
  const beats = Math.floor(seconds / beatSeconds(timing) + 1e-9);
  const bar = Math.floor(beats / beatsPerBar);
  const beat = beats - bar * beatsPerBar + 1;
  return `${bar >= 0 ? bar + 1 : `\u2212${-bar}`}.${beat}`;
}
