/** Sounds for stages that use one beside what runs through them, so that trials find them at work. */
import type { Clip } from '../model/clip.ts';
import type { SoundBank } from '../engine/plan/soundBank.ts';
import type { Params } from '../params/params.ts';
import { noise } from './signals.ts';

const RATE = 48000;

/** Noise that dies away: an impulse response, a bed or a voice with highs of its own. */
function rattle(seconds: number): Clip {
  const { channels } = noise(seconds * RATE, RATE, 2, 5);
  return {
    sampleRate: RATE,
    origin: 0,
    channels: channels.map((side) => side.map((x, i) => 0.5 * x * Math.exp((-6.9 * i) / side.length))),
  };
}

/** A low tone of whole periods that comes and goes: nothing above 1 kHz. */
function hum(frequency: number): Clip {
  const frames = RATE / 2;
  const samples = Float32Array.from(
    { length: frames },
    (_, i) => 0.4 * Math.sin((2 * Math.PI * frequency * i) / RATE) * Math.sin((Math.PI * i) / frames) ** 2,
  );
  return { sampleRate: RATE, origin: 0, channels: [samples, samples] };
}

const SOUNDS: Readonly<Record<string, Clip>> = { Rattle: rattle(0.25), Hum: hum(200), 'Deeper hum': hum(120) };

export type TrialSound = 'Rattle' | 'Hum' | 'Deeper hum';

/** Has each of them under its name, and nothing else. */
export const TRIAL_BANK: SoundBank = ({ sound }) =>
  sound in SOUNDS ? { sha256: sound, clip: SOUNDS[sound] } : undefined;

/** A stage's settings that name this sound wherever one can be named. */
export function soundSettings(params: Params, sound: TrialSound): Record<string, { sound: string }> {
  return Object.fromEntries(
    Object.entries(params).flatMap(([key, param]) => (param.type === 'sound' ? [[key, { sound }]] : [])),
  );
}

/** The same, as a processor is handed them. */
export function trialClips(params: Params, sound: TrialSound): Record<string, Clip> {
  return Object.fromEntries(Object.keys(soundSettings(params, sound)).map((key) => [key, SOUNDS[sound]]));
}
