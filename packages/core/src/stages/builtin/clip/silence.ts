import { peakOf } from '../../../analysis/level.ts';
import { decibelsToGain } from '../../../dsp/portableMath.ts';
import { fadeGain } from '../../../dsp/fadeCurve.ts';
import { frameCount, type Clip } from '../../../model/clip.ts';
import { defineClipStage, inPlace } from '../../contract.ts';
import { choice, level, time } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

export const silence = defineClipStage({
  kind: 'silence',
  family: 'clip',
  title: 'Mute sections',
  summary: 'Mutes a section of the clip, or everything that is quiet for a while: breaths, hiss, pauses.',
  keywords: words(
    'mute, breaths, pauses, gate, clean up, noise, cut out, blank, silence, muting, mute section, remove breaths, gap, noise floor, dead air, delete',
  ),
  mixLaw: 'linear',
  params: {
    by: choice(['level', 'times'], {
      label: 'mode',
      shown: { level: 'threshold', times: 'time' },
      default: 'level',
      doc: 'What is muted: what is quiet, or a section between two times.',
    }),
    below: level({
      label: 'threshold',
      default: -36,
      min: -120,
      max: -6,
      doc: 'What stays quieter than this, relative to the loudest sample, is muted. Higher takes more of it.',
    }),
    least: time({
      label: 'minimum duration',
      default: 0.12,
      min: 0.005,
      max: 10,
      doc: 'How long it has to stay quiet. Longer spares the gaps between syllables.',
    }),
    from: time({
      label: 'start',
      default: 0,
      min: 0,
      max: 3600,
      doc: 'Where the section begins, from the start of the source.',
    }),
    length: time({ default: 0.5, min: 0, max: 3600, doc: 'How long the section is.' }),
    fade: time({ label: 'fade time', default: 0.01, min: 0, max: 1, doc: 'How softly the sound goes and comes back.' }),
  },
  heldTo: [{ what: 'Outside the muted sections every sample is as it was', how: 'sample by sample' }],
  placeOf: inPlace,
  transform(clip, { by, below, least, from, length, fade }) {
    const { sampleRate } = clip;
    const start = Math.round(from * sampleRate) - clip.origin;
    const stretches: Stretch[] =
      by === 'times'
        ? [[start, start + Math.round(length * sampleRate)]]
        : quietStretches(clip, peakOf(clip) * decibelsToGain(below), Math.round(least * sampleRate));
    const fadeFrames = Math.round(fade * sampleRate);
    const channels = clip.channels.map((samples) => {
      const out = samples.slice();
      for (const stretch of stretches) silenceStretch(out, stretch, fadeFrames);
      return out;
    });
    return { ...clip, channels };
  },
});

/** First index, and the first behind it. */
type Stretch = readonly [number, number];

/** Where no channel rises above a level for at least so many frames. */
export function quietStretches(clip: Clip, above: number, least: number): Stretch[] {
  const stretches: Stretch[] = [];
  const frames = frameCount(clip);
  let from = 0;
  for (let i = 0; i <= frames; i++) {
    const quiet = i < frames && clip.channels.every((samples) => Math.abs(samples[i]) <= above);
    if (quiet) continue;
    if (i - from >= least) stretches.push([from, i]);
    from = i + 1;
  }
  return stretches;
}

/** The sound falls inside the stretch and has come back at its end. */
function silenceStretch(samples: Float32Array, [from, to]: Stretch, fadeFrames: number): void {
  const fade = Math.min(fadeFrames, (to - from) >> 1);
  for (let i = Math.max(0, from); i < Math.min(samples.length, to); i++) {
    const edge = Math.min(i - from, to - 1 - i);
    samples[i] *= edge >= fade ? 0 : 1 - fadeGain('s-shaped', (edge + 1) / (fade + 1));
  }
}
