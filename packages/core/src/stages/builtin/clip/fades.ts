import { FADE_CURVES, fadeGain } from '../../../dsp/fadeCurve.ts';
import { frameCount } from '../../../model/clip.ts';
import { defineClipStage, inPlace } from '../../contract.ts';
import { choice, time } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

export const fades = defineClipStage({
  kind: 'fades',
  family: 'clip',
  title: 'Fade in / out',
  summary: 'Fades the clip in and out, including tail and lead-in.',
  keywords: words(
    'fade in, fade out, soft start, soft end, declick, ramp, fades, fade, fade-in, fade-out, s-curve, equal power, anti-click, smooth start',
  ),
  mixLaw: 'linear',
  params: {
    fadeIn: time({
      label: 'fade-in',
      default: 0,
      min: 0,
      max: 60,
      doc: 'Time from silence to full level. Longer hides the attack.',
    }),
    inCurve: choice(FADE_CURVES, {
      shown: { 's-shaped': 'S-curve', 'equal-power': 'equal power' },
      label: 'fade-in curve',
      default: 'equal-power',
      doc: 'How it rises: linear is even, equal power is full early, S-curve starts and ends gently.',
    }),
    fadeOut: time({
      label: 'fade-out',
      default: 0,
      min: 0,
      max: 60,
      doc: 'Time from full level to silence. Longer lets go earlier.',
    }),
    outCurve: choice(FADE_CURVES, {
      shown: { 's-shaped': 'S-curve', 'equal-power': 'equal power' },
      label: 'fade-out curve',
      default: 'equal-power',
      doc: 'How it falls: linear is even, equal power stays full longer, S-curve starts and ends gently.',
    }),
  },
  placeOf: inPlace,
  transform: (clip, values) => {
    const frames = frameCount(clip);
    const risingFrames = Math.min(frames, Math.round(values.fadeIn * clip.sampleRate));
    const fallingFrames = Math.min(frames, Math.round(values.fadeOut * clip.sampleRate));
    const channels = clip.channels.map((samples) => samples.slice());
    for (let i = 0; i < risingFrames; i++) {
      const gain = fadeGain(values.inCurve, i / risingFrames);
      for (const samples of channels) samples[i] *= gain;
    }
    for (let i = 0; i < fallingFrames; i++) {
      const gain = fadeGain(values.outCurve, i / fallingFrames);
      for (const samples of channels) samples[frames - 1 - i] *= gain;
    }
    return { ...clip, channels };
  },
});
