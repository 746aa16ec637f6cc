/** Packed files that unpack to far more than they are. */
import { readFile } from 'node:fs/promises';
import { describe, expect, test } from 'vitest';
import { flacBomb } from '../../testing/flacBomb.ts';
import { opusBomb } from '../../testing/opusBomb.ts';
import { bytesInMemory } from '../common/byteSource.ts';
import { decodeClip, decodeSound } from './decodeSound.ts';

/** How many frames come before it ends or is refused, and the largest piece. */
async function unpack(bytes: Uint8Array): Promise<{ frames: number; largest: number; refusal: string }> {
  let [frames, largest] = [0, 0];
  try {
    for await (const [left] of (await decodeSound(bytesInMemory(bytes))).pieces()) {
      frames += left.length;
      largest = Math.max(largest, left.length);
    }
  } catch (error) {
    return { frames, largest, refusal: (error as Error).message };
  }
  return { frames, largest, refusal: '' };
}

describe('a FLAC file of 65,535 frames in some 14 bytes', () => {
  const hours = (count: number, promises: boolean, channels = 1) =>
    flacBomb({ seconds: count * 3600, sampleRate: 8000, channels, promises });

  test('that says to be longer than six hours is not unpacked', async () => {
    const { frames, refusal } = await unpack(hours(6.1, true));
    expect(frames).toBe(0);
    expect(refusal).toMatch(/175\d{6} frames .* allowed are 6 hours/);
  });

  test('that does not say so is refused where it passes six hours', async () => {
    const { frames, refusal } = await unpack(hours(6.5, false));
    expect(refusal).toMatch(/allowed are 6 hours/);
    expect(frames).toBeGreaterThan(5.9 * 3600 * 8000);
    expect(frames).toBeLessThanOrEqual(6 * 3600 * 8000);
  });

  test('of half an hour comes in small pieces, eight channels too', async () => {
    const { frames, largest, refusal } = await unpack(hours(0.5, false, 8));
    expect(refusal).toBe('');
    expect(Math.abs(frames - 0.5 * 3600 * 8000)).toBeLessThan(65_536);
    // Eight channels of floats at once take 32 bytes a frame.
    expect(32 * largest).toBeLessThan(100e6);
  });

  test('that says to be too long to be held whole is not unpacked for that', async () => {
    const stream = await decodeSound(bytesInMemory(hours(5.9, true, 2)));
    await expect(decodeClip(stream)).rejects.toThrow(/30 minutes of stereo/);
  });
});

describe('an Opus file of 120 ms in three bytes', () => {
  test('is as long as its packets, in small pieces', async () => {
    const bytes = opusBomb(1200);
    const { frames, largest, refusal } = await unpack(bytes);
    expect(refusal).toBe('');
    expect(bytes.length).toBeLessThan(40_000);
    // In whole pages of half a minute.
    expect(Math.abs(frames / 48000 - 1200)).toBeLessThan(31);
    expect(8 * largest).toBeLessThan(100e6);
  });

  test('that says to be longer than six hours is not unpacked', async () => {
    const { frames, refusal } = await unpack(opusBomb(60, 7 * 3600 * 48000));
    expect(frames).toBe(0);
    expect(refusal).toMatch(/allowed are 6 hours/);
  });
});

test.each([
  ['ogg', (bytes: Buffer) => bytes.writeBigInt64LE(7n * 3600n * 44100n, bytes.lastIndexOf('OggS') + 6)],
  [
    'mp3',
    (bytes: Buffer) => bytes.writeUInt32BE(3_000_000, (bytes.indexOf('Info') + 1 || bytes.indexOf('Xing') + 1) + 7),
  ],
])('a file of the kind %s that says to be longer than six hours is not unpacked', async (kind, lie) => {
  const bytes = await readFile(new URL(`./fixtures/two-tones.${kind}`, import.meta.url));
  lie(bytes);
  const { frames, refusal } = await unpack(new Uint8Array(bytes));
  expect(frames).toBe(0);
  expect(refusal).toMatch(/allowed are 6 hours/);
});
