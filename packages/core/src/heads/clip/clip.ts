import { clipEnd, type Clip } from '../../model/clip.ts';
import { defineHead, type PlannedHead } from '../contract.ts';
import { ClipVoice } from './clipVoice.ts';

const KIND = 'clip';

/** A sound of the shelf. */
export const clipHead = defineHead({
  kind: KIND,
  title: 'Clip',
  summary: 'A sound, from its first frame to its last.',
  params: {},
  takes: 'clip',
  channels: (head) => clipOf(head).channels.length,
  frames: (head) => clipEnd(clipOf(head)),
  create: (head, blockFrames) => new ClipVoice(clipOf(head), blockFrames),
});

/** The head that plays this clip. */
export function headOfClip(clip: Clip): PlannedHead {
  return { kind: KIND, values: {}, sampleRate: clip.sampleRate, seed: 0, clip, notes: [] };
}

/** The clip of a head that takes one. */
export function clipOf({ clip }: PlannedHead): Clip {
  if (!clip) throw new Error('A clip head without a clip.');
  return clip;
}
