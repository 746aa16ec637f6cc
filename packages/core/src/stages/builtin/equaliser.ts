import type { Params } from '../../params/params.ts';
import type { LiveStage, ResolvedValues } from '../contract.ts';
import { responsePicture } from '../drawing/responsePictures.ts';
import type { StagePicture } from '../../model/picture.ts';
import { BAND_TYPES, cookbook, magnitudeAt, type BandType } from '../../dsp/cookbook.ts';
import { MovingBiquad } from '../../dsp/movingBiquad.ts';
import { gainToDecibels, pow } from '../../dsp/portableMath.ts';
import type { Ramp } from '../../model/ramp.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, frequency, level, number, type ChoiceParam, type ScaledParam } from '../../params/params.ts';
import { words } from '../../model/words.ts';

export const EQUALISER_BANDS = 8;
const FIRST: readonly [BandType, number, number][] = [
  ['low cut', 30, 0.707],
  ['low shelf', 110, 0.707],
  ['bell', 350, 1],
  ['bell', 1200, 1],
  ['bell', 3200, 1],
  ['high shelf', 8000, 0.707],
  ['off', 500, 1],
  ['off', 5000, 1],
];

type BandKey = 'type' | 'frequency' | 'gain' | 'q';

function bandParams(): Record<`${BandKey}${number}`, ChoiceParam<BandType> | ScaledParam> {
  const params: Record<string, ChoiceParam<BandType> | ScaledParam> = {};
  FIRST.forEach(([type, hertz, q], n) => {
    const band = n + 1;
    params[`type${band}`] = choice(BAND_TYPES, {
      label: `band ${band} type`,
      default: type,
      doc: 'What the band does: boosts or cuts around its frequency or on one side of it, or filters.',
    });
    params[`frequency${band}`] = frequency({
      label: `band ${band} frequency`,
      default: hertz,
      min: 20,
      max: 20000,
      doc: 'Where the band works. Low is weight, mids are voice and body, high is air and edge.',
    });
    params[`gain${band}`] = level({
      label: `band ${band} gain`,
      default: 0,
      min: -24,
      max: 24,
      doc: 'How much is boosted or cut; low cut, high cut and notch have none.',
    });
    params[`q${band}`] = number({
      label: `band ${band} Q`,
      default: q,
      min: 0.1,
      max: 30,
      curve: 'log',
      doc: 'How narrow it is. Broad shapes, narrow picks out one tone.',
    });
  });
  return params;
}

/** The most that its bands together lift any frequency, in dB. */
function greatestLift(values: Readonly<Record<string, unknown>>): number {
  const bands = Array.from({ length: EQUALISER_BANDS }, (_, n) => n + 1)
    .filter((band) => values[`type${band}`] !== 'off')
    .map((band) => {
      const [hertz, gain, q] = ['frequency', 'gain', 'q'].map((name) => values[`${name}${band}`] as number);
      const into = coefficients();
      cookbook(values[`type${band}`] as BandType, hertz, gain, q, LIFT_RATE, into);
      return { hertz, into };
    });
  // Twelve places an octave, and the middle of each band, which may be narrower.
  const places = [...Array.from({ length: 136 }, (_, n) => 20 * pow(2, n / 12)), ...bands.map(({ hertz }) => hertz)];
  const most = Math.max(
    ...places.map((hertz) => bands.reduce((gain, { into }) => gain * magnitudeAt(into, hertz, LIFT_RATE), 1)),
  );
  return Math.max(0, gainToDecibels(most));
}

/** The rate at which what the bands lift is looked up. */
const LIFT_RATE = 192000;

const coefficients = () => ({ b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 });

export const equaliser = defineLiveStage({
  kind: 'equaliser',
  family: 'tone',
  title: 'Equaliser',
  summary: 'Boosts and cuts parts of the spectrum, in up to eight bands.',
  keywords: words(
    'eq, bass, treble, brighter, darker, thin, tone, shelf, bell, cut, muddy, air, equalizer, equalise, equalize, parametric, peak, boost, high-pass, low-pass, shelving, presence, hum, boxy, harsh, boomy, warm, clear, dull',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  params: bandParams(),
  groups: Object.fromEntries(
    Array.from({ length: EQUALISER_BANDS }, (_, n): [string, `${BandKey}${number}`[]] => [
      `band ${n + 1}`,
      [`type${n + 1}`, `frequency${n + 1}`, `gain${n + 1}`, `q${n + 1}`],
    ]),
  ),
  picture: ({ stage, values }) => bandsPicture(stage, values),
  heldTo: [
    { what: 'Follows the W3C Audio EQ Cookbook', limit: ['within', 0.01, 'dB'], how: 'by the response to an impulse' },
  ],
  mayRise: {
    by: 'what its bands lift at any frequency',
    most: greatestLift,
  },
  tailSeconds: (values) =>
    Array.from({ length: EQUALISER_BANDS }, (_, n) => n + 1)
      .filter((band) => values[`type${band}`] !== 'off')
      // A section rings as exp(−π f t / Q); a boost narrows it by its square root.
      .reduce((longest, band) => {
        const boost = Math.max(0, values[`gain${band}`] as number) / 40;
        const q = Math.max(0.7, (values[`q${band}`] as number) * pow(10, boost));
        return Math.max(longest, (2.2 * q) / (values[`frequency${band}`] as number));
      }, 0.001) * 1.5,
  create({ sampleRate, outputChannels }, words) {
    const bands = Array.from({ length: EQUALISER_BANDS }, (_, n) => n + 1)
      .filter((band) => words[`type${band}`] !== 'off')
      .map((band) => ({
        type: words[`type${band}`] as BandType,
        frequency: `frequency${band}` as const,
        gain: `gain${band}` as const,
        q: `q${band}` as const,
        /** What the coefficients were worked out for. */
        known: new Float64Array(3).fill(NaN),
        coefficients: coefficients(),
        sections: Array.from({ length: outputChannels }, () => new MovingBiquad()),
      }));
    const scratch = new Float64Array(BLOCK_FRAMES);
    return {
      memoryFrames: 2 * sampleRate,
      reset() {
        for (let b = 0; b < bands.length; b++) for (let c = 0; c < outputChannels; c++) bands[b].sections[c].reset();
      },
      process(input, output, frames, values) {
        for (let b = 0; b < bands.length; b++) {
          const band = bands[b];
          const hertz = (values[band.frequency] as Ramp).end;
          const gain = (values[band.gain] as Ramp).end;
          const q = (values[band.q] as Ramp).end;
          const known = band.known;
          if (hertz === known[0] && gain === known[1] && q === known[2]) continue;
          known[0] = hertz;
          known[1] = gain;
          known[2] = q;
          cookbook(band.type, hertz, gain, q, sampleRate, band.coefficients);
        }
        for (let c = 0; c < output.length; c++) {
          const from = input[c];
          const out = output[c];
          for (let i = 0; i < frames; i++) scratch[i] = from[i];
          for (let b = 0; b < bands.length; b++) bands[b].sections[c].process(scratch, frames, bands[b].coefficients);
          for (let i = 0; i < frames; i++) out[i] = scratch[i];
        }
      },
    };
  },
});

/** The response, with a point on it for each band that is on. */
function bandsPicture(stage: LiveStage, values: ResolvedValues<Params>): StagePicture {
  const picture = responsePicture(stage, 'Response', [['response', values, 0]], [], values);
  const bands = Array.from({ length: EQUALISER_BANDS }, (_, n) => n + 1).filter(
    (band) => values[`type${band}`] !== 'off',
  );
  return {
    ...picture,
    handles: bands.map((band) => {
      const hasGain = ['bell', 'low shelf', 'high shelf'].includes(values[`type${band}`] as string);
      return {
        label: `band ${band}`,
        x: values[`frequency${band}`] as number,
        y: hasGain ? (values[`gain${band}`] as number) : 0,
        xParam: `frequency${band}`,
        yParam: hasGain ? `gain${band}` : undefined,
      };
    }),
  };
}
