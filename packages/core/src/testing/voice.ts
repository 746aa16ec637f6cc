/** A sung vowel for tests: harmonics under three formants, made with plain Math. */
import type { Clip } from '../model/clip.ts';
import { spectrumOf } from './spectrum.ts';

const FORMANTS = [
  [620, 90, 1],
  [1180, 110, 0.6],
  [2600, 160, 0.3],
] as const;

/** `pitch` in hertz at a time in seconds; 0 is silence. */
export function vowel(pitch: (t: number) => number, seconds: number, sampleRate = 48000): Clip {
  const samples = new Float32Array(Math.round(seconds * sampleRate));
  let phase = 0;
  for (let i = 0; i < samples.length; i++) {
    const hertz = pitch(i / sampleRate);
    if (hertz === 0) continue;
    phase += hertz / sampleRate;
    let sum = 0;
    for (let h = 1; h * hertz < 5000; h++) {
      const gain = FORMANTS.reduce(
        (all, [at, width, weight]) => all + weight / (1 + ((h * hertz - at) / width) ** 2),
        0.02,
      );
      sum += (gain / Math.sqrt(h)) * Math.sin(2 * Math.PI * h * phase);
    }
    samples[i] = 0.2 * sum;
  }
  return { sampleRate, origin: 0, channels: [samples] };
}

/**
 * Pitch around a frame in hertz, by the highest point of the autocorrelation of 60 ms between two bounds, found between
 * frames by a parabola. Another way than the core's.
 */
export function pitchBy(
  samples: Float32Array,
  centre: number,
  lowest: number,
  highest: number,
  sampleRate = 48000,
): number {
  const half = Math.round(0.03 * sampleRate);
  const correlation = (lag: number) => {
    let sum = 0;
    let a = 0;
    let b = 0;
    for (let i = centre - half; i < centre + half; i++) {
      const x = samples[i - (lag >> 1)] ?? 0;
      const y = samples[i - (lag >> 1) + lag] ?? 0;
      sum += x * y;
      a += x * x;
      b += y * y;
    }
    return sum / Math.sqrt(a * b + 1e-12);
  };
  let best = Math.floor(sampleRate / highest);
  const all = new Map<number, number>();
  const at = (lag: number) => {
    if (!all.has(lag)) all.set(lag, correlation(lag));
    return all.get(lag)!;
  };
  for (let lag = best; lag <= sampleRate / lowest; lag++) if (at(lag) > at(best)) best = lag;
  const [before, here, behind] = [at(best - 1), at(best), at(best + 1)];
  return sampleRate / (best + (0.5 * (before - behind)) / (before - 2 * here + behind));
}

export const cents = (hertz: number, wanted: number): number => 1200 * Math.log2(hertz / wanted);

/** Frames, between samples, at which a wave rises through zero. */
export function risingZeros(samples: Float32Array): number[] {
  const zeros: number[] = [];
  for (let i = 1; i < samples.length; i++) {
    const [a, b] = [samples[i - 1], samples[i]];
    if (a < 0 && b >= 0) zeros.push(i - 1 + a / (a - b));
  }
  return zeros;
}

/** Where the spectrum in the middle of a sound, smoothed over a fifth of an octave's worth of partials, is highest between two frequencies. */
export function formantOf(samples: Float32Array, pitch: number, low: number, high: number, length = 65536): number {
  const { bins, hertz } = spectrumOf(samples.subarray((samples.length - length) >> 1).subarray(0, length), 48000);
  const partials = Array.from({ length: Math.floor(6000 / pitch) }, (_, n) => {
    const middle = Math.round(((n + 1) * pitch) / hertz);
    return { f: (n + 1) * pitch, level: Math.log(Math.max(...bins.subarray(middle - 3, middle + 4))) };
  });
  const inside = partials.filter(({ f }) => f > low && f < high);
  const top = inside.reduce((best, partial) => (partial.level > best.level ? partial : best));
  const at = partials.indexOf(top);
  const [a, b, c] = [partials[at - 1], top, partials[at + 1]].map((partial) => partial?.level ?? -20);
  return top.f + (pitch * (a - c)) / (2 * (a - 2 * b + c));
}
