import { dynamicsPicture } from '../../drawing/levelPictures.ts';
import { GainRamp } from '../../../dsp/gainRamp.ts';
import { PeakFinder } from '../../../dsp/peakFinder.ts';
import { decibelsToGain, exp } from '../../../dsp/portableMath.ts';
import { SlidingMinimum } from '../../../dsp/slidingMinimum.ts';
import { SteppedDelay } from '../../../dsp/steppedDelay.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { level, time } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

/** Seconds over which it turns down before a peak. */
const AHEAD_SECONDS = 0.002;
/** What peaks between the points of the finer grid may exceed them by. */
const MARGIN = 0.12; // dB

const aheadFrames = (sampleRate: number) => Math.round(AHEAD_SECONDS * sampleRate);

export const limiter = defineLiveStage({
  kind: 'limiter',
  family: 'dynamics',
  title: 'Limiter',
  summary: 'A lookahead limiter: lets no true peak above its ceiling, by turning down just before the peaks come.',
  keywords: words(
    'ceiling, loud, peak, safe, brick wall, true peak, master, protect, limit, lookahead, brickwall, overs, intersample, clipping, loudness, maximise, maximize',
  ),
  mixLaw: 'linear',
  params: {
    gain: level({
      label: 'input gain',
      default: 3,
      min: 0,
      max: 36,
      doc: 'Gain before the ceiling. More is louder and flatter.',
    }),
    ceiling: level({ unit: 'dBTP', default: -1, min: -24, max: 0, doc: 'What no true peak exceeds.' }),
    release: time({
      default: 0.08,
      min: 0.005,
      max: 2,
      doc: 'How long it takes to let go. Short is louder and rougher, long is smoother.',
    }),
  },
  picture: ({ values: { ceiling, gain } }) =>
    dynamicsPicture({ param: 'ceiling', at: ceiling }, (at) => Math.min(ceiling, at + gain)),
  latencyFrames: (_, sampleRate) => aheadFrames(sampleRate) + new PeakFinder(1).latency,
  heldTo: [
    {
      what: 'Never above its ceiling, as true peak, by more than',
      limit: ['', 0.1, 'dB'],
      how: 'by the true peak of noise and drums',
    },
  ],
  mayRise: {
    by: 'its gain',
    most: ({ gain }) => gain,
  },
  tailSeconds: () => 0.01,
  create({ sampleRate, outputChannels }) {
    const ahead = aheadFrames(sampleRate);
    const finders = Array.from({ length: outputChannels }, () => new PeakFinder(BLOCK_FRAMES));
    const late = ahead + finders[0].latency;
    const delays = finders.map(() => new SteppedDelay(late, BLOCK_FRAMES, sampleRate));
    const lifted = finders.map(() => new Float64Array(BLOCK_FRAMES));
    const gain = new GainRamp();
    // The lowest gain is held until the peak has passed.
    const lowest = new SlidingMinimum(late + 8);
    const wanted = new Float64Array(BLOCK_FRAMES);
    const ring = new Float64Array(ahead).fill(1);
    let place = 0;
    /** Gain on its way back up; sum of the ring. */
    const state = Float64Array.of(1, ahead);
    return {
      memoryFrames: late + 3 * sampleRate,
      reset() {
        for (let c = 0; c < delays.length; c++) {
          finders[c].reset();
          delays[c].reset();
        }
        gain.reset();
        lowest.reset(1);
        ring.fill(1);
        place = 0;
        state[0] = 1;
        state[1] = ahead;
      },
      process(input, output, frames, values) {
        gain.advance(values.gain.end);
        const ceiling = decibelsToGain(values.ceiling.end - MARGIN);
        for (let i = 0; i < frames; i++) wanted[i] = 0;
        for (let c = 0; c < lifted.length; c++) {
          const own = lifted[c];
          const from = input[c];
          for (let i = 0; i < frames; i++) own[i] = from[i];
          gain.apply(own, frames);
          finders[c].raise(own, wanted, frames, ceiling);
          delays[c].pass(own, frames, late);
        }
        for (let i = 0; i < frames; i++) wanted[i] = wanted[i] > ceiling ? ceiling / wanted[i] : 1;
        lowest.process(wanted, frames);
        const back = 1 - exp(-1 / (values.release.end * sampleRate));
        let rising = state[0];
        let sum = state[1];
        for (let i = 0; i < frames; i++) {
          rising += back * (1 - rising);
          if (wanted[i] < rising) rising = wanted[i];
          sum += rising - ring[place];
          ring[place] = rising;
          place++;
          if (place === ahead) {
            // Summed afresh once round, so that rounding never adds up.
            place = 0;
            sum = 0;
            for (let k = 0; k < ahead; k++) sum += ring[k];
          }
          wanted[i] = sum / ahead;
        }
        state[0] = rising;
        state[1] = sum;
        for (let c = 0; c < output.length; c++) {
          const own = lifted[c];
          const out = output[c];
          for (let i = 0; i < frames; i++) out[i] = wanted[i] * own[i];
        }
      },
    };
  },
});
