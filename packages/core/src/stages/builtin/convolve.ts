import { PassOn } from '../passOn.ts';
import type { ImpulseParts } from '../../dsp/convolver.ts';
import type { Kernels } from '../../dsp/kernels/contract.ts';
import { TYPESCRIPT_KERNELS } from '../../dsp/kernels/typescript.ts';
import { greatestGain } from '../../dsp/greatestGain.ts';
import { gainToDecibels } from '../../dsp/portableMath.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { SteppedDelay } from '../../dsp/steppedDelay.ts';
import type { Clip } from '../../model/clip.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { ratio, sound, time, toggle } from '../../params/params.ts';
import { words } from '../../model/words.ts';

const LONGEST = 20;
const MOST_PRE_DELAY = 1;
/** Seconds over which an impulse response that is cut short fades out. */
const CUT_FADE = 0.01;
/** The rate at which a matched impulse has an energy of 1; as loud at any other. */
const MATCHED_RATE = 48000;

export const convolve = defineLiveStage({
  kind: 'convolve',
  family: 'space',
  title: 'Convolution reverb',
  summary: 'Convolves the sound with an impulse response: a real room, a bell, a machine, any sound at all.',
  keywords: words(
    'impulse response, reverb, room, cabinet, space, resonance, texture, real, convolve, convolution, convolver, ir, impulse, speaker, resonator, sampled, body, reverse reverb',
  ),
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.4,
  params: {
    impulse: sound({
      label: 'impulse response',
      doc: 'The sound to convolve with: a clap recorded in a room, a render of the test impulse, or anything else.',
    }),
    start: time({
      label: 'IR start',
      default: 0,
      min: 0,
      max: LONGEST,
      curve: 'linear',
      fixed: true,
      doc: 'Where in the impulse response it begins. Later leaves out its beginning.',
    }),
    length: time({
      label: 'IR length',
      default: 6,
      min: 0.01,
      max: LONGEST,
      fixed: true,
      doc: 'How much of the impulse response is used. Shorter is drier and costs less.',
    }),
    stretch: ratio({
      label: 'IR size',
      default: 1,
      min: 0.25,
      max: 4,
      curve: 'log',
      fixed: true,
      doc: 'Resamples the impulse response: longer and lower for larger rooms, shorter and higher for smaller ones.',
    }),
    backwards: toggle({
      label: 'reverse IR',
      default: false,
      fixed: true,
      doc: 'Reverses the impulse response: the reverb swells and breaks off.',
    }),
    matched: toggle({
      label: 'normalise IR',
      default: true,
      fixed: true,
      doc: 'Gives every impulse response the same energy, so that changing it does not change the level.',
    }),
    preDelay: time({
      label: 'pre-delay',
      default: 0,
      min: 0,
      max: MOST_PRE_DELAY,
      curve: 'linear',
      doc: 'Silence before the reverb. Longer keeps the sound in front.',
    }),
  },
  heldTo: [
    {
      what: 'Equals direct convolution; the difference lies',
      limit: ['below', -120, 'dB'],
      how: 'against the sum of products',
    },
    { what: 'No latency', how: 'on an impulse' },
  ],
  mayRise: {
    by: 'what the impulse response makes of its loudest tone',
    most: loudestTone,
  },
  tailSeconds: ({ impulse, length, preDelay }) => (impulse === '' ? 0 : length + preDelay + 0.01),
  prepare: ({ sampleRate, sounds: { impulse }, kernels }, values) =>
    impulse && {
      sides: responsesOf(kernels, impulse, sampleRate, values).map((response) => kernels.partImpulse(response)),
    },
  create({ sampleRate, inputChannels, prepared, kernels }) {
    if (!prepared) return new PassOn();
    const responses = prepared['sides'] as readonly ImpulseParts[];
    const sides = [0, 1].map((side) => ({
      convolver: kernels.convolver(responses[side < responses.length ? side : 0]),
      delay: new SteppedDelay(MOST_PRE_DELAY * sampleRate, BLOCK_FRAMES, sampleRate),
    }));
    const scratch = new Float64Array(BLOCK_FRAMES);
    return {
      memoryFrames: responses[0].length + MOST_PRE_DELAY * sampleRate + 16384,
      reset() {
        for (let side = 0; side < 2; side++) {
          sides[side].convolver.reset();
          sides[side].delay.reset();
        }
      },
      process(input, output, frames, { preDelay }) {
        const late = Math.round(preDelay.end * sampleRate);
        for (let side = 0; side < 2; side++) {
          const { convolver, delay } = sides[side];
          const from = input[side < inputChannels ? side : 0];
          const out = output[side];
          for (let i = 0; i < frames; i++) scratch[i] = from[i];
          delay.pass(scratch, frames, late);
          convolver.process(scratch, out, frames);
        }
      },
    };
  },
});

/** What an impulse makes of the tone that it lifts most, in dB. */
function loudestTone(
  { impulse: name, ...values }: ImpulseValues & { readonly impulse: string },
  sounds: Readonly<Record<string, Clip | undefined>>,
): number {
  const { impulse } = sounds;
  if (name === '' || !impulse) return 0;
  const responses = responsesOf(TYPESCRIPT_KERNELS, impulse, impulse.sampleRate, values);
  return Math.max(0, gainToDecibels(Math.max(...responses.map(greatestGain))));
}

interface ImpulseValues {
  readonly start: number;
  readonly length: number;
  readonly stretch: number;
  readonly backwards: boolean;
  readonly matched: boolean;
}

/** The impulse responses, one a channel, as they are convolved with. */
function responsesOf(kernels: Kernels, clip: Clip, sampleRate: number, values: ImpulseValues): Float64Array[] {
  const { start, length, stretch, backwards, matched } = values;
  const first = Math.min(clip.channels[0].length - 1, Math.round(start * clip.sampleRate));
  const wanted = Math.ceil((length / stretch) * clip.sampleRate);
  const last = Math.min(clip.channels[0].length, first + Math.max(1, wanted));
  const cut = last < clip.channels[0].length;
  const responses = clip.channels.map((samples) => {
    const piece = kernels.resample(samples.slice(first, last), (stretch * sampleRate) / clip.sampleRate);
    const fade = cut ? Math.min(piece.length, Math.round(CUT_FADE * sampleRate)) : 0;
    const out = Float64Array.from(piece, (x, i) => x * (fade > 0 ? smoothStep((piece.length - i) / fade) : 1));
    return backwards ? out.reverse() : out;
  });
  // At another rate there are more or fewer samples of the same response: their sum must stay what it was.
  let gain = clip.sampleRate / sampleRate;
  if (matched) {
    const energy = Math.max(...responses.map((response) => response.reduce((sum, x) => sum + x * x, 0)));
    if (energy > 0) gain = Math.sqrt(MATCHED_RATE / sampleRate / energy);
  }
  if (gain === 1) return responses;
  return responses.map((response) => response.map((x) => x * gain));
}
