/** Sounds that show what a chain does rather than how it sounds. Always the same samples. */
import { TAU, exp, log, sin } from '../dsp/portableMath.ts';
import { createRandom } from '../dsp/random.ts';
import { smoothStep } from '../dsp/smoothStep.ts';
import type { Clip } from '../model/clip.ts';

const SAMPLE_RATE = 48000;
const LEVEL = 0.25; // −12 dBFS
const FADE_SECONDS = 0.01;

export interface TestSignal {
  readonly id: string;
  readonly name: string;
  readonly create: () => Clip;
}

export const TEST_SIGNALS: readonly TestSignal[] = [
  { id: 'sweep', name: 'Sweep 20 Hz – 20 kHz', create: sweep },
  { id: 'noise', name: 'White noise', create: whiteNoise },
  { id: 'impulse', name: 'Impulse', create: impulse },
  { id: 'silence', name: 'Silence', create: () => filled(4, 1, () => 0) },
];

/** A sine that passes through every octave in the same time (A. Farina, "Swept-sine technique", 2000). */
function sweep(): Clip {
  const seconds = 6;
  const [low, high] = [20, 20000];
  const growth = log(high / low) / seconds;
  const clip = filled(seconds, 1, (t) => sin(TAU * (((low / growth) * (exp(growth * t) - 1)) % 1)));
  return faded(clip);
}

function whiteNoise(): Clip {
  const random = createRandom(1);
  return faded(filled(4, 2, () => 2 * random() - 1));
}

/** One full sample a tenth of a second in. */
function impulse(): Clip {
  const clip = filled(2, 1, () => 0);
  clip.channels[0][SAMPLE_RATE / 10] = 1;
  return clip;
}

function filled(seconds: number, channels: number, value: (t: number) => number): Clip {
  return {
    sampleRate: SAMPLE_RATE,
    origin: 0,
    channels: Array.from({ length: channels }, () =>
      Float32Array.from({ length: seconds * SAMPLE_RATE }, (_, i) => LEVEL * value(i / SAMPLE_RATE)),
    ),
  };
}

function faded(clip: Clip): Clip {
  const reach = FADE_SECONDS * SAMPLE_RATE;
  for (const samples of clip.channels) {
    const last = samples.length - 1;
    samples.forEach((sample, i) => (samples[i] = sample * smoothStep(i / reach) * smoothStep((last - i) / reach)));
  }
  return clip;
}
