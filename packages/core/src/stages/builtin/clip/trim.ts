import { peakOf, soundingRange } from '../../../analysis/level.ts';
import { decibelsToGain } from '../../../dsp/portableMath.ts';
import { InputError } from '../../../model/errors.ts';
import { clipEnd, cropClip, frameCount } from '../../../model/clip.ts';
import { showSeconds } from '../../../timing/display.ts';
import { defineClipStage, inPlace } from '../../contract.ts';
import { choice, level, time } from '../../../params/params.ts';
import { softenEnds } from './softenEnds.ts';
import { words } from '../../../model/words.ts';

export const trim = defineClipStage({
  kind: 'trim',
  family: 'clip',
  title: 'Trim',
  summary: 'Cuts from the start and the end of the clip, by time or by how quiet it is there.',
  keywords: words(
    'cut, crop, shorten, top and tail, clean up, length, threshold, remove silence, head, tail, ends, tighten',
  ),
  mixLaw: 'linear',
  params: {
    by: choice(['level', 'times'], {
      label: 'mode',
      shown: { level: 'threshold', times: 'time' },
      default: 'level',
      doc: 'What says where it is cut: how quiet it is, or two times.',
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
    fade: time({
      label: 'fade time',
      default: 0.003,
      min: 0,
      max: 1,
      doc: 'How softly the new ends come and go. Longer hides more of them.',
    }),
  },
  heldTo: [{ what: 'The kept part stays sample-aligned', how: 'sample by sample' }],
  placeOf: inPlace,
  transform(clip, { by, below, start, end, fade }, { span }) {
    const { sampleRate } = clip;
    const frames = frameCount(clip);
    const before = Math.round(start * sampleRate);
    const behind = Math.round(end * sampleRate);
    let first = before;
    let last = frames - behind;
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
