import { findAttacks } from '../../../analysis/attacks.ts';
import { windowFrames } from '../../../dsp/spectralShifter.ts';
import { stretchChannels } from '../../../dsp/timeStretch.ts';
import { defineClipStage } from '../../contract.ts';
import { choice, number, ratio } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

/** Frames of the window at 48 kHz. */
const WINDOWS = { monophonic: 2048, polyphonic: 4096, percussive: 1024 } as const;

export const stretch = defineClipStage({
  kind: 'stretch',
  family: 'clip',
  title: 'Time-stretch',
  summary: 'Makes the clip longer or shorter at the same pitch; transients stay as sharp as they are.',
  keywords: words(
    'time stretch, slow down, speed up, longer, shorter, tempo, length, fit, pitch kept, stretch, time-stretch, timestretch, time compression, compress, expand, slow, fast, duration, fit to bar, phase vocoder',
  ),
  mixLaw: 'linear',
  params: {
    factor: number({
      unit: '×',
      label: 'stretch factor',
      default: 1.5,
      min: 0.25,
      max: 4,
      curve: 'log',
      doc: 'How many times as long it gets. 2 is half as fast.',
    }),
    mode: choice(['monophonic', 'polyphonic', 'percussive'], {
      label: 'material',
      default: 'monophonic',
      doc: 'What it is tuned for: voices, chords that need fine resolution, or drums that need their transients.',
    }),
    attacks: ratio({
      label: 'transient sensitivity',
      default: 0.5,
      doc: 'How weak a transient may be and still be kept sharp. Higher keeps more of them; at 0 % all is smoothed.',
    }),
  },
  heldTo: [
    {
      what: 'As long as it is set, to the frame; a sine stays in tune',
      limit: ['within', 1, 'cent'],
      how: 'by the length and the frequency of a sine',
    },
    { what: 'The clicks of a train keep their times', limit: ['within', 5, 'ms'], how: 'by the places of clicks' },
  ],
  mayRise: {
    by: '3 LU where it is shorter with its transients kept, which then lie closer together',
    most: ({ factor, attacks }) => (factor < 1 ? 3 * attacks : 0),
  },
  estimate: (frames, { factor }) => ({ frames: Math.round(frames * factor), cost: 500 }),
  placeOf(at, { factor }, { start, end }) {
    const moved = (frame: number) => start + (frame - start) * factor;
    return { at: moved(at), span: { start, end: Math.max(start + 1, Math.round(moved(end))) } };
  },
  *transform(clip, { factor, mode, attacks }, { span }) {
    if (factor === 1) return clip;
    const { sampleRate } = clip;
    const channels = yield* stretchChannels(clip.channels, {
      factor,
      size: windowFrames(WINDOWS[mode], sampleRate),
      attacks: attacks === 0 ? [] : findAttacks(clip, attacks),
    });
    const moved = (frame: number) => span.start + Math.round((frame - span.start) * factor);
    return {
      sampleRate,
      origin: moved(clip.origin),
      channels,
      span: { start: span.start, end: Math.max(span.start + 1, moved(span.end)) },
    };
  },
});
