import { axis } from '../drawing/axis.ts';
import type { StagePicture } from '../../model/picture.ts';
import { HilbertPair } from '../../dsp/hilbert.ts';
import { SINE, SINE_POINTS } from '../../dsp/sineTable.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, number, ratio } from '../../params/params.ts';
import { HIGHER_COUNTS, loopInStep } from '../rise.ts';
import { settled } from '../../dsp/settled.ts';
import { words } from '../../model/words.ts';

export const shifter = defineLiveStage({
  kind: 'shifter',
  family: 'motion',
  title: 'Frequency shifter',
  summary: 'Moves every partial up or down by the same number of hertz, so that they no longer belong together.',
  keywords: words(
    'inharmonic, metallic, bell, alien, detune, barber pole, spiral, clang, single side band, frequency shift, ssb, single sideband, sideband, barber-pole, dissonant, hertz',
  ),
  mixLaw: 'linear',
  widens: true,
  retunes: true,
  params: {
    shift: number({
      label: 'frequency shift',
      unit: 'Hz',
      default: 35,
      min: -2000,
      max: 2000,
      doc: 'By how much everything moves. A few hertz beat against the dry sound; hundreds turn voices into bells.',
    }),
    sides: choice(['the same', 'opposed'], {
      label: 'right channel',
      shown: { 'the same': 'same shift', opposed: 'opposite shift' },
      default: 'the same',
      doc: 'Whether the right channel shifts as the left does, or the other way, which is wide and restless.',
    }),
    feedback: ratio({
      default: 0,
      min: 0,
      max: 0.95,
      doc: 'Feeds the shifted sound back and shifts it again: it climbs or sinks in spirals.',
    }),
  },
  picture: ({ values }) => shiftPicture(values),
  exempt: [{ trial: 'direct current', because: 'a partial moved to nothing is a direct current' }],
  heldTo: [
    {
      what: 'The unwanted sideband, from 40 Hz to 16 kHz, lies',
      limit: ['below', -60, 'dB'],
      how: 'in the spectrum of sines',
    },
  ],
  mayRise: {
    by: 'its feedback, and 4 LU more, as high tones count for more',
    most: ({ feedback }) => HIGHER_COUNTS + loopInStep(feedback),
  },
  tailSeconds: ({ feedback }) => 0.15 + 0.12 / (1 - feedback),
  create({ sampleRate }, { sides }) {
    const pairs = [new HilbertPair(sampleRate), new HilbertPair(sampleRate)];
    const fed = new Float64Array(BLOCK_FRAMES);
    const real = new Float64Array(BLOCK_FRAMES);
    const imaginary = new Float64Array(BLOCK_FRAMES);
    // The last frame that came out, to be fed back with as long a delay as the sections have anyway.
    const ringFrames = Math.max(1, Math.round(0.01 * sampleRate));
    const rings = [new Float64Array(ringFrames), new Float64Array(ringFrames)];
    let place = 0;
    const turns = Float64Array.of(0);
    let fresh = true;
    const quarter = SINE_POINTS / 4;
    return {
      memoryFrames: 6 * sampleRate,
      reset() {
        for (let side = 0; side < 2; side++) {
          pairs[side].reset();
          rings[side].fill(0);
        }
        place = 0;
        fresh = true;
      },
      process(input, output, frames, { shift, feedback }, position) {
        if (fresh) {
          // Where it would be had it run from frame 0 on.
          const since = (shift.start * position) / sampleRate;
          turns[0] = since - Math.floor(since);
          fresh = false;
        }
        // Never more at once than the ring holds, so that what is read has been written.
        for (let done = 0; done < frames;) {
          const count = Math.min(frames - done, ringFrames);
          const from = shift.start + ((shift.end - shift.start) * done) / frames;
          const growth = (shift.end - shift.start) / frames / sampleRate;
          const fedStep = (feedback.end - feedback.start) / frames;
          let at = place;
          let phase = turns[0];
          for (let side = 0; side < 2; side++) {
            const ring = rings[side];
            const dry = input[side < input.length ? side : 0];
            let back = feedback.start + fedStep * done;
            at = place;
            for (let i = 0; i < count; i++) {
              fed[i] = dry[done + i] + back * ring[at];
              at = at + 1 === ringFrames ? 0 : at + 1;
              back += fedStep;
            }
            pairs[side].process(fed, real, imaginary, count);
            const sign = side === 1 && sides === 'opposed' ? -1 : 1;
            const out = output[side];
            at = place;
            phase = turns[0];
            let step = from / sampleRate;
            for (let i = 0; i < count; i++) {
              const spot = phase * SINE_POINTS;
              const whole = spot | 0;
              const part = spot - whole;
              const sine = SINE[whole] + part * (SINE[whole + 1] - SINE[whole]);
              const other = (whole + quarter) & (SINE_POINTS - 1);
              const cosine = SINE[other] + part * (SINE[other + 1] - SINE[other]);
              const y = settled(real[i] * cosine - sign * imaginary[i] * sine);
              out[done + i] = y;
              ring[at] = y;
              at = at + 1 === ringFrames ? 0 : at + 1;
              phase += step;
              if (phase < 0) phase += 1;
              if (phase >= 1) phase -= 1;
              step += growth;
            }
          }
          place = at;
          turns[0] = phase;
          done += count;
        }
      },
    };
  },
});

/** Where each frequency goes. */
function shiftPicture({ shift, sides }: { readonly shift: number; readonly sides: string }): StagePicture {
  const ticks = [0, 1000, 2000, 3000, 4000];
  const line = (by: number) => [Math.max(0, -by), Math.max(0, by), 4000, Math.max(0, 4000 + by)];
  return {
    type: 'curves',
    title: 'Where each frequency goes',
    x: axis('in', 'Hz', 0, 4000, ticks),
    y: axis('out', 'Hz', 0, 4000, ticks),
    curves: [
      { label: 'left', points: line(shift) },
      ...(sides === 'opposed' ? [{ label: 'right', points: line(-shift), faint: true }] : []),
      { label: '1:1', points: [0, 0, 4000, 4000], faint: true },
    ],
    handles: [],
  };
}
