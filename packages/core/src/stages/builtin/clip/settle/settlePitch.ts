import { frequencyToKey } from '../../../../timing/expressions.ts';
import { trackPitch, type PitchRange, type PitchTrack } from '../../../../dsp/pitchTrack.ts';
import { SCALES, settledPitch, type Settling } from './settledPitch.ts';
import { withNewPitch } from '../../../../dsp/psola.ts';
import { InputError } from '../../../../model/errors.ts';
import type { Clip } from '../../../../model/clip.ts';
import { defineClipStage, inPlace, type ResolvedValues } from '../../../contract.ts';
import { choice, frequency, key, ratio, time, type Params } from '../../../../params/params.ts';
import { HIGHER_COUNTS } from '../../../rise.ts';
import { words } from '../../../../model/words.ts';

const params = {
  scale: choice(SCALES, {
    label: 'target',
    shown: { 'one note': 'single note', 'nearest note': 'nearest note per segment' },
    default: 'one note',
    doc: 'Where the pitch is pulled: a single note for all; for each sung segment its nearest note; or, moment by moment, the nearest note of a scale.',
  }),
  note: key({
    label: 'target note / key',
    default: 57,
    min: 24,
    max: 96,
    doc: 'The note it is pulled to, or the root of the scale. Higher is a higher voice.',
  }),
  amount: ratio({
    label: 'correction',
    default: 1,
    doc: 'How far it is pulled. At 100 % it stands on the note, at 0 % nothing happens.',
  }),
  movement: ratio({
    label: 'pitch variation kept',
    default: 0,
    doc: 'How much of the vibrato and drift around the notes is kept. More sounds more alive.',
  }),
  glide: time({
    label: 'transition time',
    default: 0.04,
    min: 0,
    max: 1,
    doc: 'How long it takes from one note to the next. Shorter sounds like a machine, longer is sung.',
  }),
  formants: ratio({
    label: 'formant shift with pitch',
    default: 0,
    doc: 'How far the formants move with the pitch. At 0 % the speaker stays the same.',
  }),
  lowest: frequency({
    label: 'lowest pitch',
    default: 70,
    min: 40,
    max: 400,
    doc: 'Bottom of the detection range. Nearer to the voice finds it more surely.',
  }),
  highest: frequency({ label: 'highest pitch', default: 900, min: 200, max: 2000, doc: 'Top of the detection range.' }),
} satisfies Params;

export const settlePitch = defineClipStage({
  kind: 'settlePitch',
  family: 'pitch',
  title: 'Pitch correction',
  summary: 'Follows the pitch of a single voice and pulls it to one note or to a scale.',
  keywords: words(
    'tune, pitch correction, flatten, monotone, robot, sung, note, in key, steady, formant, settle pitch, correct, correction, intonation, in tune, off key, snap, scale, hold a note, vocals, melody, quantise, quantize',
  ),
  mixLaw: 'linear',
  retunes: true,
  params,
  *clipPicture(over, clip, _span, values) {
    const { from, to } = yield* followed(clip, values);
    const keys = (pitches: Float64Array) => Array.from(pitches, (hertz) => (hertz > 0 ? frequencyToKey(hertz) : NaN));
    return {
      ...over,
      type: 'pitch',
      step: from.hop / clip.sampleRate,
      before: keys(from.pitches),
      after: keys(to.pitches),
    };
  },
  heldTo: [
    {
      what: 'A voice that glides from G3 to B3 comes to A3 at every moment',
      limit: ['within', 5, 'cents'],
      how: 'by the pitch of an artificial voice',
    },
    {
      what: 'Octave errors, as a share of what has a pitch:',
      limit: ['less than', 0.5, '%'],
      how: 'on artificial voices of known pitch',
    },
  ],
  mayRise: { by: '4 LU, as high tones count for more', most: () => HIGHER_COUNTS },
  estimate: (frames) => ({ frames, cost: 3000 }),
  placeOf: inPlace,
  *transform(clip, values) {
    if (values.amount === 0) return clip;
    const { sampleRate, channels } = clip;
    const { from, to } = yield* followed(clip, values, 0.5);
    const work = withNewPitch(channels, { from, to, formants: values.formants });
    for (;;) {
      const { done, value } = work.next();
      if (done) return { ...clip, sampleRate, channels: value };
      yield 0.5 + 0.5 * value;
    }
  },
});

/** The pitch of a clip and where these values pull it; `share` of the work is counted. */
export function* followed(
  clip: Clip,
  values: ResolvedValues<typeof params>,
  share = 1,
): Generator<number, { readonly from: PitchTrack; readonly to: PitchTrack }, void> {
  const range: PitchRange = values;
  if (range.highest <= range.lowest)
    throw new InputError(
      `Settle pitch looks for a highest pitch of ${range.highest} Hz and a lowest of ${range.lowest} Hz; the highest has to be above the lowest.`,
    );
  const work = trackPitch(clip.channels, clip.sampleRate, range);
  for (;;) {
    const { done, value } = work.next();
    if (done) return { from: value, to: settledPitch(value, values satisfies Settling) };
    yield share * value;
  }
}
