/** Sounds for tests, made with plain Math so that they do not lean on what is tested. */
import type { Clip } from '../model/clip.ts';

export function clipOf(channels: readonly (readonly number[] | Float32Array)[], sampleRate = 48000, origin = 0): Clip {
  return { sampleRate, origin, channels: channels.map((samples) => Float32Array.from(samples)) };
}

export function sine(frequency: number, amplitude: number, seconds: number, sampleRate = 48000, channels = 1): Clip {
  const samples = Float32Array.from(
    { length: Math.round(seconds * sampleRate) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * frequency * i) / sampleRate),
  );
  return { sampleRate, origin: 0, channels: Array.from({ length: channels }, () => samples.slice()) };
}

export function impulse(frame: number, frames: number, sampleRate = 48000, channels = 1): Clip {
  return {
    sampleRate,
    origin: 0,
    channels: Array.from({ length: channels }, () => {
      const samples = new Float32Array(frames);
      samples[frame] = 1;
      return samples;
    }),
  };
}

/** White noise from a linear congruential generator (Numerical Recipes), −1…1. */
export function noise(frames: number, sampleRate = 48000, channels = 1, seed = 1): Clip {
  let state = seed >>> 0;
  const next = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2147483648 - 1;
  };
  return {
    sampleRate,
    origin: 0,
    channels: Array.from({ length: channels }, () => Float32Array.from({ length: frames }, next)),
  };
}
