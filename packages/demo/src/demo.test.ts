import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { WavReader, bytesInMemory, integratedLoudness, peakOf, type Clip } from '@hexenkessel/core';
import { DEMO_CHAINS, DEMO_SOUNDS, type DemoSound } from './index.ts';

const clipOf = async (sound: DemoSound): Promise<Clip> =>
  'create' in sound
    ? sound.create()
    : (await WavReader.open(bytesInMemory(new Uint8Array(await readFile(sound.file))))).readClip();

test.each(DEMO_SOUNDS.map((sound) => [sound.name, sound] as const))(
  '%s sounds, does not clip, begins and ends without a click',
  async (_, sound) => {
    const clip = await clipOf(sound);
    const peak = peakOf(clip);
    expect(peak).toBeGreaterThan(0.4);
    expect(peak).toBeLessThanOrEqual(1);
    expect(integratedLoudness(clip)).toBeGreaterThan(-30);
    const seconds = clip.channels[0].length / clip.sampleRate;
    expect(seconds).toBeGreaterThan(2);
    expect(seconds).toBeLessThan(10);
    for (const samples of clip.channels) expect(Math.abs(samples[0])).toBeLessThan(0.1 * peak);
  },
);

test('the seeded sounds are the same every time', () => {
  const digest = (sound: DemoSound) => {
    if (!('create' in sound)) return '';
    const hash = createHash('sha256');
    for (const samples of sound.create().channels) hash.update(new Uint8Array(samples.buffer));
    return hash.digest('hex');
  };
  for (const sound of DEMO_SOUNDS.filter(({ name }) => /bell|clicks|rain/i.test(name)))
    expect(digest(sound)).toBe(digest(sound));
});

test('ten sounds and three chains: a reverse swell, a reversed-chord swell, a plain hall', () => {
  expect(DEMO_SOUNDS).toHaveLength(10);
  expect(DEMO_CHAINS.map(({ stages }) => stages.map(({ kind }) => kind).join())).toEqual([
    'reverse,hall,reverse',
    'reverse,fades,filter,hall',
    'hall',
  ]);
  for (const { about } of DEMO_CHAINS) expect(about.summary && about.notes && about.kind).toBeTruthy();
});
