import { exp } from '../../../dsp/portableMath.ts';
import { BetweenReader } from '../../../dsp/resample.ts';
import { clipEnd } from '../../../model/clip.ts';
import { defineClipStage } from '../../contract.ts';
import { number, semitones } from '../../../params/params.ts';
import { HIGHER_COUNTS } from '../../rise.ts';
import { fillInSteps } from './inSteps.ts';
import { words } from '../../../model/words.ts';

export const speed = defineClipStage({
  kind: 'speed',
  family: 'clip',
  title: 'Varispeed',
  summary: 'Plays the clip faster or slower, and higher or lower with it: resampled, as tape at another speed.',
  keywords: words(
    'resample, varispeed, tape speed, faster, slower, slow down, pitch, octave down, chipmunk, speed, resampling, rate, playback rate, double speed, half speed, octave up, transpose',
  ),
  mixLaw: 'linear',
  retunes: true,
  params: {
    ratio: number({
      unit: '×',
      label: 'speed factor',
      default: 1,
      min: 0.0625,
      max: 16,
      curve: 'log',
      doc: 'How many times as fast it plays. 2 is twice as fast, half as long and an octave up.',
    }),
    interval: semitones({
      label: 'transposition',
      default: -12,
      min: -48,
      max: 48,
      doc: 'The same as an interval; both count together. Higher is shorter and brighter.',
    }),
  },
  hearsBeyond: true,
  heldTo: [
    {
      what: 'Aliases and images lie',
      limit: ['below', -96, 'dB'],
      how: 'in the spectrum of sines near the end of the band',
    },
  ],
  mayRise: {
    by: '4 LU upwards, as high tones count for more',
    most: (values) => (speedOf(values) > 1 ? HIGHER_COUNTS : 0),
  },
  estimate: (frames, values) => ({ frames: Math.round(frames / speedOf(values)), cost: 400 }),
  placeOf(at, values, { start, end }) {
    const factor = speedOf(values);
    const moved = (frame: number) => start + (frame - start) / factor;
    return { at: moved(at), span: { start, end: Math.max(start + 1, Math.round(moved(end))) } };
  },
  *transform(clip, values, { span: { start: first, end } }) {
    const factor = speedOf(values);
    if (factor === 1) return clip;
    const moved = (frame: number) => first + Math.round((frame - first) / factor);
    const start = moved(clip.origin);
    const frames = Math.max(1, moved(clipEnd(clip)) - start);
    const place = (i: number) => (start + i - first) * factor + first - clip.origin;
    const reader = new BetweenReader(1 / factor, factor);
    const channels = yield* fillInSteps(clip.channels, frames, (samples, out, from, to) => {
      for (let i = from; i < to; i++) out[i] = reader.read(samples, place(i));
    });
    const span = { start: first, end: Math.max(first + 1, moved(end)) };
    return { sampleRate: clip.sampleRate, origin: start, channels, span };
  },
});

function speedOf({ ratio, interval }: { readonly ratio: number; readonly interval: number }): number {
  return ratio * exp((interval / 12) * Math.LN2);
}
