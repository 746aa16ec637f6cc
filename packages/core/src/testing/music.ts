/** Sounds that a designer would try a stage on, all equally loud. */
import { integratedLoudness } from '../analysis/loudness.ts';
import type { Clip } from '../model/clip.ts';
import { noise, sine } from './signals.ts';
import { vowel } from './voice.ts';

export const TRIED_SOUNDS = ['voice', 'drums', 'chord', 'sine', 'noise'] as const;
export type TriedSound = (typeof TRIED_SOUNDS)[number];

/** Three strokes a second over two seconds: a low thud, a burst of noise, a short high one. */
function drums(seconds: number, rate: number): Clip {
  const samples = new Float32Array(Math.round(seconds * rate));
  const hiss = noise(samples.length, rate).channels[0];
  const strokes = [
    (t: number) => Math.sin(2 * Math.PI * (50 * t - 6 * Math.exp(-30 * t))) * Math.exp(-12 * t),
    (t: number, x: number) => (0.5 * x + 0.4 * Math.sin(2 * Math.PI * 190 * t)) * Math.exp(-18 * t),
    (t: number, x: number) => 0.3 * x * Math.exp(-60 * t),
  ];
  const gap = Math.round(rate / 6);
  for (let n = 0; n * gap < samples.length; n++) {
    const stroke = strokes[[0, 2, 1, 2, 0, 0, 1, 2][n % 8]];
    for (let i = 0; n * gap + i < samples.length; i++) samples[n * gap + i] += stroke(i / rate, hiss[n * gap + i]);
  }
  return { sampleRate: rate, origin: 0, channels: [samples] };
}

/** Four notes with overtones that fall away. */
function chord(seconds: number, rate: number): Clip {
  const samples = Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) =>
    [220, 261.63, 329.63, 392].reduce(
      (sum, f) =>
        sum + [1, 2, 3, 4, 5].reduce((tone, h) => tone + Math.sin((2 * Math.PI * f * h * i) / rate) / h ** 1.5, 0),
      0,
    ),
  );
  return { sampleRate: rate, origin: 0, channels: [samples] };
}

/** Mono, brought to a loudness in LUFS. */
export function tried(sound: TriedSound, seconds = 2, rate = 48000, lufs = -18): Clip {
  const clip = {
    voice: () => vowel((t) => 130 * (1 + 0.2 * Math.sin(2.1 * t) + 0.01 * Math.sin(33 * t)), seconds, rate),
    drums: () => drums(seconds, rate),
    chord: () => chord(seconds, rate),
    sine: () => sine(440, 0.5, seconds, rate),
    noise: () => noise(Math.round(seconds * rate), rate),
  }[sound]();
  const gain = 10 ** ((lufs - integratedLoudness(clip)) / 20);
  return { ...clip, channels: clip.channels.map((side) => side.map((x) => x * gain)) };
}
