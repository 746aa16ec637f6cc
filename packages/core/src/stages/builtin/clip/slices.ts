import { noteStarts } from '../../../analysis/noteStarts.ts';
import { decibelsToGain } from '../../../dsp/portableMath.ts';
import { fadeGain } from '../../../dsp/fadeCurve.ts';
import { InputError } from '../../../model/errors.ts';
import { clipEnd, cropClip, frameCount, type Clip, type Span } from '../../../model/clip.ts';
import { defineClipStage } from '../../contract.ts';
import { choice, list, ratio, time } from '../../../params/params.ts';
import { reversed } from './reverse.ts';
import { words } from '../../../model/words.ts';

const MOST_SLICES = 2000;
const MOST_ORDER = 64;

export const slices = defineClipStage({
  kind: 'slices',
  family: 'clip',
  title: 'Slicer',
  summary: 'Cuts the clip into slices, runs stages on each of them and joins them again, in order or in another one.',
  keywords: words(
    'slice, chop, cut up, beats, rearrange, shuffle, reverse each, per hit, segments, grid, slices, slicer, transient, transients, onset, chopping, reorder, randomise, randomize, per slice',
  ),
  mixLaw: 'linear',
  params: {
    by: choice(['grid', 'attacks', 'hand'], {
      label: 'slice at',
      shown: { attacks: 'transients', hand: 'manual' },
      default: 'grid',
      doc: 'Where it is cut: evenly, at transients – struck or swelling –, or at the cut points set by hand.',
    }),
    grid: time({
      label: 'slice length',
      default: { note: '1/4' },
      min: 0.01,
      max: 60,
      doc: 'How long a slice of the grid is.',
    }),
    sensitivity: ratio({ default: 0.6, doc: 'How weak a transient may be and still begin a slice. Higher cuts more.' }),
    cuts: list({
      label: 'cut points',
      unit: 'seconds',
      min: 0,
      max: 21600,
      most: MOST_SLICES - 1,
      doc: 'Times set by hand, in seconds from the start of the sound.',
    }),
    order: list({
      label: 'slice order',
      unit: 'whole',
      min: -MOST_ORDER,
      max: MOST_ORDER,
      most: MOST_ORDER,
      doc: 'In which order the slices come, looped: 2 1 swaps neighbours, 1 -2 reverses every second one, 1 0 mutes it. None leaves them.',
    }),
    fade: time({
      label: 'crossfade',
      default: 0.005,
      min: 0,
      max: 0.5,
      doc: 'How long the crossfade from slice to slice is. Longer is softer.',
    }),
    tails: choice(['ring on', 'cut'], {
      shown: { 'ring on': 'overlap' },
      default: 'ring on',
      doc: 'Whether what the stages add overlaps the next slice, or is cut with its own.',
    }),
  },
  *clipPicture(over, clip, span, values) {
    const cuts = cutClip(clip, span, values).slice(1);
    yield 1;
    return {
      ...over,
      type: 'cuts',
      cuts: cuts.map(({ start }) => start / clip.sampleRate),
      origin: span.start / clip.sampleRate,
      byHand: values.by === 'hand',
    };
  },
  heldTo: [
    { what: 'Without stages and in order it is the sound itself', how: 'sample by sample' },
    {
      what: 'Transients of a drum pattern are found within 10 ms: F-measure',
      limit: ['at least', 0.95, ''],
      how: 'on patterns whose attacks are known',
    },
    {
      what: 'Notes that rise in 3 to 1,000 ms are cut no later than 20 dB below their height, or 10 ms after they are 6 dB over what rang before; and early by',
      limit: ['at most', 22, 'ms'],
      how: 'on notes whose beginnings are known',
    },
  ],
  holds: {
    count: () => ({ min: 1, max: 8 }),
    // Branches take turns over the slices.
    title: (_values, index, count) => (count === 1 ? 'Every slice' : `Slices ${index + 1}, ${index + 1 + count} …`),
  },
  estimate: (frames) => ({ frames, cost: 1000 }),
  *transform(clip, values, { span, branches, settings }) {
    const pieces = cutClip(clip, span, values);
    const joints = jointsOf(pieces, Math.round(values.fade * clip.sampleRate));
    const widened = settings.some(({ pan }) => pan !== 0) && clip.channels.length === 1;
    const placed: Clip[] = [];
    let at = pieces[0].start;
    for (const [slot, { index, turned, silent }] of orderOf(pieces.length, values.order).entries()) {
      const piece = pieces[index];
      const length = piece.end - piece.start;
      const branch = slot % branches.length;
      if (!silent && !settings[branch].muted) {
        // A fade lies before its cut, so that an attack stays with the piece that it begins. What is turned round comes alone.
        const before = turned ? 0 : joints[index];
        const fadeIn = turned ? joints[index + 1] : before;
        const fadeOut = turned ? joints[index] : joints[index + 1];
        const cut = cropClip(clip, piece.start - before, piece.end);
        const channels = turned ? cut.channels.map(reversed) : cut.channels;
        const source = faded({ sampleRate: clip.sampleRate, origin: 0, channels }, fadeIn, fadeOut);
        const work = branches[branch](source);
        const share = slot / pieces.length;
        let next = work.next();
        for (; !next.done; next = work.next()) yield share + next.value / pieces.length;
        let result = next.value;
        if (values.tails === 'cut') {
          const whole = frameCount(source);
          const cutIn = result.origin < 0 ? fadeIn : 0;
          const cutOut = clipEnd(result) > whole ? fadeOut : 0;
          result = faded(cropClip(result, 0, whole), cutIn, cutOut);
        }
        placed.push(atPlace(result, at - before + result.origin, settings[branch], widened));
      }
      at += length;
      yield (slot + 1) / pieces.length;
    }
    return joined(clip, placed, widened);
  },
});

interface Cutting {
  readonly by: 'grid' | 'attacks' | 'hand';
  readonly grid: number;
  readonly sensitivity: number;
  readonly cuts: readonly number[];
}

/** The pieces of a clip in order; what lies before the source belongs to the first, what lies behind it to the last. */
export function cutClip(clip: Clip, span: Span, cutting: Cutting): Span[] {
  const cuts = cutFrames(clip, span, cutting)
    .filter((cut) => cut > clip.origin && cut < clipEnd(clip))
    .sort((a, b) => a - b)
    .filter((cut, n, all) => n === 0 || cut > all[n - 1]);
  if (cuts.length >= MOST_SLICES)
    throw new InputError(
      `The slicer would cut ${cuts.length + 1} slices; at most ${MOST_SLICES} are allowed. Use a longer slice length.`,
    );
  const edges = [clip.origin, ...cuts, clipEnd(clip)];
  return edges.slice(1).map((end, n) => ({ start: edges[n], end }));
}

function cutFrames(clip: Clip, span: Span, { by, grid, sensitivity, cuts }: Cutting): number[] {
  if (by === 'hand') return cuts.map((seconds) => span.start + Math.round(seconds * clip.sampleRate));
  if (by === 'attacks') return noteStarts(clip, sensitivity).map((index) => clip.origin + index);
  const step = grid * clip.sampleRate;
  // What rings on behind the source stays with its last piece.
  const count = Math.ceil((span.end - span.start) / step);
  return Array.from({ length: Math.max(0, count - 1) }, (_, n) => span.start + Math.round((n + 1) * step));
}

/** Frames of the fade before each piece and, last, behind all: none at the ends of the clip. */
function jointsOf(pieces: readonly Span[], fade: number): number[] {
  const half = ({ start, end }: Span) => (end - start) >> 1;
  const inside = pieces.slice(1).map((piece, n) => Math.min(fade, half(piece), half(pieces[n])));
  return [0, ...inside, 0];
}

interface Slot {
  /** Which piece comes. */
  readonly index: number;
  readonly turned: boolean;
  readonly silent: boolean;
}

/** A pattern over groups of as many pieces as it has entries; a last group that is short keeps what has no piece. */
export function orderOf(count: number, order: readonly number[]): Slot[] {
  return Array.from({ length: count }, (_, slot) => {
    if (order.length === 0) return { index: slot, turned: false, silent: false };
    const first = slot - (slot % order.length);
    const wanted = order[slot % order.length];
    const index = first + Math.abs(wanted) - 1;
    return { index: wanted === 0 || index >= count ? slot : index, turned: wanted < 0, silent: wanted === 0 };
  });
}

function faded(clip: Clip, fadeIn: number, fadeOut: number): Clip {
  const frames = frameCount(clip);
  const channels = clip.channels.map((samples) => {
    const out = samples.slice();
    for (let i = 0; i < Math.min(fadeIn, frames); i++) out[i] *= fadeGain('s-shaped', (i + 0.5) / fadeIn);
    for (let i = 0; i < Math.min(fadeOut, frames); i++)
      out[frames - 1 - i] *= fadeGain('s-shaped', (i + 0.5) / fadeOut);
    return out;
  });
  return { ...clip, channels };
}

interface Voicing {
  /** dB. */
  readonly level: number;
  readonly pan: number;
  readonly inverted: boolean;
}

/** A piece at its place, as loud and where its branch says. */
function atPlace(clip: Clip, origin: number, { level, pan, inverted }: Voicing, widened: boolean): Clip {
  const gain = decibelsToGain(level) * (inverted ? -1 : 1);
  const sides = widened || clip.channels.length === 2 ? [Math.min(1, 1 - pan), Math.min(1, 1 + pan)] : [1];
  const channels = sides.map((side, c) => {
    const samples = clip.channels[Math.min(c, clip.channels.length - 1)];
    return gain * side === 1 ? samples : samples.map((sample) => gain * side * sample);
  });
  return { sampleRate: clip.sampleRate, origin, channels };
}

/** All pieces over each other, in a clip that spans the one they were cut from and all that they add. */
function joined(clip: Clip, placed: readonly Clip[], widened: boolean): Clip {
  const origin = placed.reduce((least, piece) => Math.min(least, piece.origin), clip.origin);
  const end = placed.reduce((most, piece) => Math.max(most, clipEnd(piece)), clipEnd(clip));
  const count = placed.reduce(
    (most, piece) => Math.max(most, piece.channels.length),
    widened ? 2 : clip.channels.length,
  );
  const channels = Array.from({ length: count }, (_, c) => {
    const out = new Float32Array(end - origin);
    for (const piece of placed) {
      const samples = piece.channels[Math.min(c, piece.channels.length - 1)];
      const at = piece.origin - origin;
      for (let i = 0; i < samples.length; i++) out[at + i] += samples[i];
    }
    return out;
  });
  return { sampleRate: clip.sampleRate, origin, channels };
}
