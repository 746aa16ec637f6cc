import { clipEnd } from '../../../model/clip.ts';
import { defineClipStage } from '../../contract.ts';
import { words } from '../../../model/words.ts';

export const reverse = defineClipStage({
  kind: 'reverse',
  family: 'clip',
  title: 'Reverse',
  summary: 'Plays the sound backwards; what rang out after it now rises before it.',
  keywords: words(
    'backwards, flip, swell, rewind, reversed, suck, inhale, backward, reverse reverb, mirror, turn around',
  ),
  mixLaw: 'linear',
  params: {},
  heldTo: [{ what: 'Twice is the sound itself, bit for bit', how: 'sample by sample' }],
  placeOf: (at, _values, span) => ({ at: span.start + span.end - at, span }),
  /** Flips about the source's span [s, e): frame t goes to s + e − 1 − t, so overhang changes sides. */
  transform: (clip, _values, { span }) => ({
    sampleRate: clip.sampleRate,
    origin: span.start + span.end - clipEnd(clip),
    channels: clip.channels.map(reversed),
  }),
});

/** In one pass; a copy that is then turned round takes twice as long. */
export function reversed(samples: Float32Array): Float32Array {
  const out = new Float32Array(samples.length);
  for (let i = 0, last = samples.length - 1; i <= last; i++) out[i] = samples[last - i];
  return out;
}
