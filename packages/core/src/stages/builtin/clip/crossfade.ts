import { FADE_CURVES, fadeGain } from '../../../dsp/fadeCurve.ts';
import { frameCount } from '../../../model/clip.ts';
import { InputError } from '../../../model/errors.ts';
import { showSeconds } from '../../../timing/display.ts';
import { defineClipStage } from '../../contract.ts';
import { choice, time } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

export const crossfade = defineClipStage({
  kind: 'crossfade',
  family: 'clip',
  title: 'Loop crossfade',
  summary: 'Crossfades the end of the clip into its beginning, so that it loops without a seam.',
  keywords: words(
    'loop, seamless, endless, ambience, seam, cycle, round, crossfade loop, loop point, looping, seamless loop, blend, overlap, fade over, circular',
  ),
  mixLaw: 'linear',
  params: {
    length: time({
      label: 'crossfade length',
      default: 0.5,
      min: 0.001,
      max: 60,
      doc: 'How long end and beginning sound together. Longer hides the seam better and shortens the loop by as much.',
    }),
    curve: choice(FADE_CURVES, {
      shown: { 's-shaped': 'S-curve', 'equal-power': 'equal power' },
      default: 'equal-power',
      doc: 'How the one fades into the other: equal power for noise and crowds, linear for what is alike at both ends.',
    }),
  },
  heldTo: [
    {
      what: 'No step at the seam, and the fade is as loud as the rest',
      how: 'by the steps and the level of a loop played round',
    },
  ],
  estimate: (frames, { length }, sampleRate) => ({
    frames: Math.max(1, frames - Math.round(length * sampleRate)),
    cost: 10,
  }),
  transform(clip, { length, curve }, { span }) {
    const frames = frameCount(clip);
    const over = Math.round(length * clip.sampleRate);
    if (2 * over > frames)
      throw new InputError(
        `Crossfade loop is ${showSeconds(length)} long, on a clip of ${showSeconds(frames / clip.sampleRate)}; at most half of that is allowed.`,
      );
    const channels = clip.channels.map((samples) => {
      const out = samples.slice(0, frames - over);
      for (let i = 0; i < over; i++) {
        const rising = fadeGain(curve, (i + 0.5) / over);
        const falling = fadeGain(curve, 1 - (i + 0.5) / over);
        out[i] = rising * samples[i] + falling * samples[frames - over + i];
      }
      return out;
    });
    return {
      sampleRate: clip.sampleRate,
      origin: clip.origin,
      channels,
      span: { ...span, end: Math.max(span.start + 1, span.end - over) },
    };
  },
});
