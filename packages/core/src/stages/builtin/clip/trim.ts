import { peakOf, soundingRange } from '../../../analysis/level.ts';
import { decibelsToGain } from '../../../dsp/portableMath.ts';
import { InputError } from '../../../model/errors.ts';
import { clipEnd, cropClip, frameCount } from '../../../model/clip.ts';
import { showSeconds } from '../../../timing/display.ts';
import { defineClipStage, inPlace } from '../../contract.ts';
import { choice, level, time } from '../../../params/params.ts';
import { softenEnds } from './softenEnds.ts';
import { words } from '../../../model/words.ts';

/** Frames that a clip of so many is brought to. */
function lengthFor(by: string, frames: number, to: number): number {
  if (by === 'length') return Math.max(1, Math.round(to));
  // What is a multiple already, but for a frame of rounding, stays as it is.
  return by === 'multiple' ? Math.max(1, Math.round(Math.ceil((frames - 1) / to) * to)) : frames;
}

export const trim = defineClipStage({
  kind: 'trim',
  family: 'clip',
  title: 'Trim',
  summary:
    'Cuts from the start and the end of the clip, by time or by how quiet it is there, or brings it to a length.',
  keywords: words(
    'cut, crop, shorten, top and tail, clean up, length, threshold, remove silence, head, tail, ends, tighten, pad, bars, beats, exact length, loop length, next bar',
  ),
  mixLaw: 'linear',
  params: {
    by: choice(['level', 'times', 'length', 'multiple'], {
      label: 'mode',
      shown: { level: 'threshold', times: 'time', multiple: 'next multiple' },
      default: 'level',
      doc: 'What says where it is cut: how quiet it is, or two times. Length: cut or padded with silence to exactly so long. Next multiple: padded to the next bar, or whatever is set.',
    }),
    below: level({
      label: 'threshold',
      default: -60,
      min: -120,
      max: -6,
      doc: 'What is quieter than this, relative to the loudest sample, is cut from both ends. Higher cuts more.',
    }),
    start: time({
      label: 'start',
      default: 0,
      min: 0,
      max: 3600,
      doc: 'By time: how much is cut at the start. By threshold: how much is kept before the sound.',
    }),
    end: time({
      label: 'end',
      default: 0,
      min: 0,
      max: 3600,
      doc: 'By time: how much is cut at the end. By threshold: how much is kept after the sound.',
    }),
    to: time({
      label: 'target length',
      default: { bars: 1 },
      min: 0.01,
      max: 600,
      doc: 'How long it gets, or what its length gets a multiple of.',
    }),
    fade: time({
      label: 'fade time',
      default: 0.003,
      min: 0,
      max: 1,
      doc: 'How softly the new ends come and go. Longer hides more of them.',
    }),
  },
  heldTo: [
    { what: 'The kept part stays sample-aligned', how: 'sample by sample' },
    { what: 'A length in beats is met', limit: ['within', 1, 'frame'], how: 'by the length of what comes out' },
  ],
  placeOf: inPlace,
  estimate: (frames, { by, to }, sampleRate) => ({
    frames: Math.max(frames, lengthFor(by, frames, to * sampleRate)),
    cost: 20,
  }),
  transform(clip, { by, below, start, end, to, fade }, { span }) {
    const { sampleRate } = clip;
    const frames = frameCount(clip);
    const before = Math.round(start * sampleRate);
    const behind = Math.round(end * sampleRate);
    let first = before;
    let last = frames - behind;
    if (by === 'length' || by === 'multiple') {
      first = 0;
      last = lengthFor(by, frames, to * sampleRate);
    }
    if (by === 'level') {
      const sounding = soundingRange(clip, peakOf(clip) * decibelsToGain(below));
      if (!sounding) return clip;
      first = Math.max(0, sounding.first - before);
      last = Math.min(frames, sounding.last + 1 + behind);
    }
    if (last <= first)
      throw new InputError(
        `Trim would remove the whole clip: ${showSeconds(start + end)} of ${showSeconds(frames / sampleRate)}; less than its length is allowed.`,
      );
    if (first === 0 && last === frames) return clip;
    const cut = cropClip(clip, clip.origin + first, clip.origin + last);
    softenEnds(cut.channels, Math.round(fade * sampleRate), cut.origin > clip.origin, clipEnd(cut) < clipEnd(clip));
    const kept = { start: Math.max(span.start, cut.origin), end: Math.min(span.end, clipEnd(cut)) };
    return { ...cut, span: kept.end > kept.start ? kept : { start: cut.origin, end: clipEnd(cut) } };
  },
});
