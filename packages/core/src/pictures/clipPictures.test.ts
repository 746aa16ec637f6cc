import { BUILT_INS } from '../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import { chainOf } from '../testing/chains.ts';
import { noise } from '../testing/signals.ts';
import { vowel } from '../testing/voice.ts';
import type { ClipPicture } from '../model/picture.ts';
import { clipPictureOf } from './clipPictures.ts';

function pictureOf(stage: { kind: string; settings: object }, clip = noise(48_000)): ClipPicture | undefined {
  const chain = chainOf([stage]);
  const work = clipPictureOf(
    BUILT_INS,
    chain.stages[0],
    clip,
    { start: 0, end: clip.channels[0].length },
    chain.timing,
  );
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}

test('pieces: where they begin, in seconds; the waveform spans the clip', () => {
  const picture = pictureOf({ kind: 'slices', settings: { grid: { beats: 0.5 } } });
  expect(picture).toMatchObject({ type: 'cuts', cuts: [0.25, 0.5, 0.75], start: 0, end: 1, byHand: false });
  expect(Math.max(...picture!.waveform)).toBeGreaterThan(0.9);
  expect(Math.min(...picture!.waveform)).toBeLessThan(-0.9);
});

test('pitch: what was sung and where it goes, as keys; nothing where there is no pitch', () => {
  const sung = vowel((t) => (t < 0.5 ? 233.08 : 0), 1);
  const picture = pictureOf({ kind: 'settlePitch', settings: { note: 57 } }, sung);
  if (picture?.type !== 'pitch') throw new Error('no picture of the pitch');
  const at = (seconds: number) => Math.round(seconds / picture.step);
  expect(picture.before[at(0.25)]).toBeCloseTo(58, 1);
  expect(picture.after[at(0.25)]).toBeCloseTo(57, 5);
  expect(picture.before[at(0.8)]).toBeNaN();
});

test('a stage that finds nothing has no picture', () => {
  expect(pictureOf({ kind: 'reverse', settings: {} })).toBeUndefined();
});
