import { readFile } from 'node:fs/promises';
import { describe, expect, test } from 'vitest';
import { noise, sine } from '../../testing/signals.ts';
import { encodeFlac } from '../flac/flacWriter.ts';
import { bytesInMemory } from '../wav/byteSource.ts';
import { encodeWav } from '../wav/writer.ts';
import { decodeSound } from './decodeSound.ts';

/** Two tones of 0.4 s, 500 Hz left and 750 Hz right, made by other programs. */
const fixture = async (kind: string) =>
  new Uint8Array(await readFile(new URL(`./fixtures/two-tones.${kind}`, import.meta.url)));

async function whole(bytes: Uint8Array, picked?: readonly number[]) {
  const stream = await decodeSound(bytesInMemory(bytes), picked);
  const channels: number[][] = Array.from({ length: stream.channels }, () => []);
  for await (const piece of stream.pieces()) piece.forEach((side, c) => channels[c].push(...side));
  return { ...stream, samples: channels.map((side) => Float32Array.from(side)) };
}

/** Strength of a tone in the middle of a sound, 1 for a sine of amplitude 1. */
function strength(samples: Float32Array, hertz: number, rate: number): number {
  const from = Math.round(samples.length / 4);
  const count = Math.round(samples.length / 2);
  let [re, im] = [0, 0];
  for (let i = from; i < from + count; i++) {
    re += samples[i] * Math.cos((2 * Math.PI * hertz * i) / rate);
    im += samples[i] * Math.sin((2 * Math.PI * hertz * i) / rate);
  }
  return (2 * Math.hypot(re, im)) / count;
}

describe.each([
  ['flac', 'flac', 44_100, 17_640],
  ['ogg', 'ogg vorbis', 44_100, 17_640],
  ['mp3', 'mp3', 44_100, 17_640],
  ['aiff', 'aiff', 44_100, 17_640],
  ['opus', 'opus', 48_000, 19_200],
])('%s', (kind, format, rate, frames) => {
  const lossy = kind !== 'flac' && kind !== 'aiff';
  test('gives both channels, as long and as loud as they were written', async () => {
    const sound = await whole(await fixture(kind));
    expect(sound).toMatchObject({ format, sampleRate: rate, channels: 2, fileChannels: 2 });
    // What lossy encoders add at the ends is below a twentieth of a second.
    expect(Math.abs(sound.samples[0].length - frames)).toBeLessThan(rate / 20);
    for (const [c, hertz, other] of [
      [0, 500, 750],
      [1, 750, 500],
    ] as const) {
      expect(Math.abs(strength(sound.samples[c], hertz, rate) - 0.125)).toBeLessThan(lossy ? 0.008 : 1e-4);
      expect(strength(sound.samples[c], other, rate)).toBeLessThan(0.006);
    }
  });

  test('one channel can be picked', async () => {
    const sound = await whole(await fixture(kind), [1]);
    expect(sound.channels).toBe(1);
    expect(strength(sound.samples[0], 750, rate)).toBeGreaterThan(0.11);
  });

  test('cut short it is refused in words', async () => {
    const bytes = await fixture(kind);
    await expect(whole(bytes.slice(0, Math.floor(0.6 * bytes.length)))).rejects.toThrow(/cut short/);
  });
});

describe('FLAC written', () => {
  test.each(['16', '24'] as const)(
    '%s bits: read again it is the sound within a step and its dither',
    async (depth) => {
      const clip = noise(20_000, 48_000, 2);
      const pieces = [0, 7000, 14_000].map((from) => clip.channels.map((side) => side.subarray(from, from + 7000)));
      const bytes: Uint8Array[] = [];
      for await (const piece of encodeFlac(pieces, { sampleRate: 48_000, channels: 2, depth, frames: 20_000 }))
        bytes.push(piece);
      const read = await whole(new Uint8Array(Buffer.concat(bytes)));
      expect(read).toMatchObject({ format: 'flac', sampleRate: 48_000, channels: 2 });
      const step = depth === '16' ? 2 ** -15 : 2 ** -23;
      read.samples.forEach((side, c) => {
        expect(side.length).toBe(20_000);
        side.forEach((sample, i) =>
          expect(Math.abs(sample - Math.min(1 - step, clip.channels[c][i]))).toBeLessThanOrEqual(2 * step),
        );
      });
    },
  );
});

describe('WAV of many channels', () => {
  const six = () => {
    const clip = {
      sampleRate: 48_000,
      origin: 0,
      channels: [1, 2, 3, 4, 5, 6].map((n) => sine(100 * n, 0.1 * n, 0.1).channels[0]),
    };
    return new Uint8Array(Buffer.concat([...encodeWav(clip, { depth: '32f' })]));
  };

  test('the first two are taken, or those asked for', async () => {
    expect(await whole(six())).toMatchObject({ channels: 2, fileChannels: 6 });
    const { samples } = await whole(six(), [4, 2]);
    expect(samples[0]).toEqual(sine(500, 0.5, 0.1).channels[0]);
    expect(samples[1]).toEqual(sine(300, 0.3, 0.1).channels[0]);
  });

  test('channels that are not there are refused with what is', async () => {
    await expect(whole(six(), [6])).rejects.toThrow('Channels 7 cannot be taken: the file has 6');
    await expect(whole(six(), [0, 1, 2])).rejects.toThrow('one or two of 1 to 6');
  });
});

test('hours of packed sound are refused by what the file promises, before they are unpacked', async () => {
  const bytes = await fixture('flac');
  // The last four bytes of the count of frames in its first block.
  new DataView(bytes.buffer, bytes.byteOffset).setUint32(22, 3 * 3600 * 44_100);
  await expect(decodeSound(bytesInMemory(bytes))).rejects.toThrow(
    '476280000 frames × 2 channels; allowed are 172800000',
  );
});

test('an MP3 file of one channel gives one', async () => {
  const sound = await whole(new Uint8Array(await readFile(new URL('./fixtures/mono.mp3', import.meta.url))));
  expect(sound).toMatchObject({ channels: 1, fileChannels: 1, sampleRate: 32_000 });
  expect(strength(sound.samples[0], 500, 32_000)).toBeGreaterThan(0.1);
});

test('what is no sound is refused with what can be read', async () => {
  await expect(decodeSound(bytesInMemory(new TextEncoder().encode('no sound at all, only words')))).rejects.toThrow(
    'allowed are wav, aiff, flac, ogg vorbis, opus, mp3',
  );
  await expect(decodeSound(bytesInMemory(new Uint8Array(0)))).rejects.toThrow('empty');
});
