/** The few building blocks that the museum's sounds are made of. Times in seconds, frequencies in Hz. */
import { TAU, exp, sin, type Clip, type Random } from '@hexenkessel/core/model';

export const SAMPLE_RATE = 48000;

/** Tempo of the sounds that have one. */
export const MUSEUM_TEMPO = 93;
export const BEAT = 60 / MUSEUM_TEMPO;

export function silence(seconds: number, channels: 1 | 2): Clip {
  const frames = Math.round(seconds * SAMPLE_RATE);
  return {
    sampleRate: SAMPLE_RATE,
    origin: 0,
    channels: Array.from({ length: channels }, () => new Float32Array(frames)),
  };
}

/** Position between left (−1) and right (1) as gains of equal power; mono clips take the middle. */
function panGains(clip: Clip, pan: number): number[] {
  if (clip.channels.length === 1) return [1];
  const angle = ((pan + 1) * TAU) / 8;
  return [sin(TAU / 4 - angle), sin(angle)];
}

/** Adds `value(t)` for `length` seconds from `start` on, t counted from the start. */
export function addWave(clip: Clip, start: number, length: number, pan: number, value: (t: number) => number): void {
  const gains = panGains(clip, pan);
  const first = Math.round(start * SAMPLE_RATE);
  const frames = Math.min(Math.round(length * SAMPLE_RATE), clip.channels[0].length - first);
  for (let i = 0; i < frames; i++) {
    const sample = value(i / SAMPLE_RATE);
    clip.channels.forEach((samples, c) => (samples[first + i] += gains[c] * sample));
  }
}

/** A sine that dies away: `decay` seconds to 1/e, after an attack of `attack` seconds. */
export function ping(frequency: number, gain: number, decay: number, attack = 0.001): (t: number) => number {
  return (t) => gain * Math.min(1, t / attack) * exp(-t / decay) * sin(TAU * frequency * t);
}

/** An oscillator whose frequency moves; `shape` maps a phase in turns to a value. */
export function sweep(
  frequency: (t: number) => number,
  gain: (t: number) => number,
  shape = (phase: number) => sin(TAU * phase),
): (t: number) => number {
  let phase = 0;
  return (t) => {
    phase += frequency(t) / SAMPLE_RATE;
    return gain(t) * shape(phase - Math.floor(phase));
  };
}

/** A saw with its highest partials left out. */
export function softSaw(partials: number): (phase: number) => number {
  return (phase) => {
    let sum = 0;
    for (let n = 1; n <= partials; n++) sum += sin(TAU * n * phase) / n;
    return (2 / Math.PI) * sum;
  };
}

/** Rises and falls over `length`: 0 at both ends, 1 between `attack` and `release`. */
export function arch(length: number, attack: number, release: number): (t: number) => number {
  return (t) => Math.max(0, Math.min(1, t / attack, (length - t) / release));
}

/** Noise through a resonator at `frequency` with a bandwidth in Hz. */
export function resonantNoise(random: Random, frequency: number, bandwidth: number): () => number {
  const radius = exp((-Math.PI * bandwidth) / SAMPLE_RATE);
  const turn = 2 * radius * sin(TAU / 4 - (TAU * frequency) / SAMPLE_RATE);
  let y1 = 0;
  let y2 = 0;
  return () => {
    const y = (1 - radius) * (random() - random()) + turn * y1 - radius * radius * y2;
    y2 = y1;
    y1 = y;
    return y;
  };
}

/** Brings the largest sample to the amplitude `peak`. */
export function toPeak(clip: Clip, peak: number): Clip {
  let largest = 0;
  for (const samples of clip.channels) for (const sample of samples) largest = Math.max(largest, Math.abs(sample));
  for (const samples of clip.channels) for (let i = 0; i < samples.length; i++) samples[i] *= peak / largest;
  return clip;
}
