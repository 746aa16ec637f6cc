import { smearedFrames, smearedPieces } from '../../../dsp/phaseRandomisedStretch.ts';
import type { Clip } from '../../../model/clip.ts';
import { InputError } from '../../../model/errors.ts';
import { showSeconds } from '../../../timing/display.ts';
import { defineClipStage, type ClipContext, type ChunkedClip } from '../../contract.ts';
import { choice, number, time } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

export const smear = defineClipStage({
  kind: 'smear',
  family: 'clip',
  title: 'Extreme time-stretch',
  summary: 'Stretches the clip tens or hundreds of times into a standing texture without transients.',
  keywords: words(
    'stretch, texture, drone, pad, ambient, freeze, extreme, cloud, slow, atmosphere, smear, extreme stretch, slow motion, drones, soundscape, endless, sustain, blur, time freeze',
  ),
  mixLaw: 'linear',
  params: {
    factor: number({
      unit: '×',
      label: 'stretch factor',
      default: 8,
      min: 2,
      max: 1000,
      curve: 'log',
      doc: 'How many times as long it gets. Higher moves more slowly through the sound.',
    }),
    window: time({
      label: 'window length',
      default: 0.25,
      min: 0.02,
      max: 5,
      doc: 'How much of the clip sounds at once. Longer is smoother and purer in tone, shorter lets syllables and beats shine through.',
    }),
    sides: choice(['alike', 'apart'], {
      label: 'channels',
      shown: { alike: 'linked', apart: 'independent' },
      default: 'apart',
      doc: 'Whether left and right are randomised alike, which keeps positions, or independently, which is wider.',
    }),
  },
  heldTo: [
    {
      what: 'Ripple at the rate of its windows lies',
      limit: ['below', -40, 'dB'],
      how: 'in the spectrum of the level of noise',
    },
    {
      what: 'As long as it is set; the same memory however long',
      how: 'by the length, and the memory of long renders',
    },
    { what: 'A window longer than the clip is refused', how: 'by trying it' },
  ],
  estimate(frames, { factor, window }, sampleRate) {
    refuseLongWindow(window, frames, sampleRate);
    return { frames: Math.round(frames * factor), cost: 250 };
  },
  *transform(clip, values, context) {
    const { sampleRate } = clip;
    const { span } = context;
    const { frames, pieces } = pieced(clip, values, context);
    const channels = clip.channels.map(() => new Float32Array(frames));
    let at = 0;
    for (const piece of pieces()) {
      piece.forEach((samples, c) => channels[c].set(samples, at));
      at += piece[0].length;
      yield at / frames;
    }
    const moved = (frame: number) => span.start + Math.round((frame - span.start) * values.factor);
    return { sampleRate, origin: moved(clip.origin), channels, span: { start: span.start, end: moved(span.end) } };
  },
  stream: (clip, values, context) => pieced(clip, values, context),
});

interface Values {
  readonly factor: number;
  readonly window: number;
  readonly sides: 'alike' | 'apart';
}

function pieced(clip: Clip, { factor, window, sides }: Values, { random }: ClipContext): ChunkedClip {
  const { sampleRate, channels } = clip;
  refuseLongWindow(window, channels[0].length, sampleRate);
  const smearing = { factor, window: Math.round(window * sampleRate), alike: sides === 'alike', random };
  return { frames: smearedFrames(channels[0].length, factor), pieces: () => smearedPieces(channels, smearing) };
}

function refuseLongWindow(window: number, frames: number, sampleRate: number): void {
  if (Math.round(window * sampleRate) <= frames) return;
  throw new InputError(
    `Smear has a window of ${showSeconds(window)}, longer than the clip; at most its length of ${showSeconds(Math.floor((frames / sampleRate) * 1000) / 1000)} is allowed.`,
  );
}
