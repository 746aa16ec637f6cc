import { FADE_CURVES, fadeGain } from '../../../dsp/fadeCurve.ts';
import { frameCount } from '../../../model/clip.ts';
import { defineClipStage, inPlace } from '../../contract.ts';
import { choice, time } from '../../../params/params.ts';

export const fades = defineClipStage({
  kind: 'fades',
  family: 'clip',
  title: 'Fades',
  summary: 'Lets the clip rise out of silence and sink back into it, overhang included.',
  keywords: ['fade in', 'fade out', 'soft start', 'soft end', 'declick', 'ramp'],
  mixLaw: 'linear',
  params: {
    fadeIn: time({ default: 0, min: 0, max: 60, doc: 'Time from silence to full level. Longer hides the attack.' }),
    inCurve: choice(FADE_CURVES, {
      label: 'in curve',
      default: 'equal-power',
      doc: 'How it rises: linear is even, equal-power is full early, s-shaped starts and ends gently.',
    }),
    fadeOut: time({ default: 0, min: 0, max: 60, doc: 'Time from full level to silence. Longer lets go earlier.' }),
    outCurve: choice(FADE_CURVES, {
      label: 'out curve',
      default: 'equal-power',
      doc: 'How it falls: linear is even, equal-power stays full longer, s-shaped starts and ends gently.',
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
