import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { describe, expect, test } from 'vitest';
import { noise, sine } from '../../testing/signals.ts';
import { flacBytes } from '../flac/flacWriter.ts';
import { bytesInMemory } from '../common/byteSource.ts';
import { encodeWav } from '../wav/writer.ts';
import { decodeClip, decodeSound } from './decodeSound.ts';

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
    await expect(whole(bytes.slice(0, Math.floor(0.6 * bytes.length)))).rejects.toThrow(/truncated/);
  });
});

describe('FLAC written', () => {
  test.each(['16', '24'] as const)(
    '%s bits: read again it is the sound within a step and its dither',
    async (depth) => {
      const clip = noise(20_000, 48_000, 2);
      const pieces = [0, 7000, 14_000].map((from) => clip.channels.map((side) => side.subarray(from, from + 7000)));
      const bytes = await flacBytes(pieces, { sampleRate: 48_000, channels: 2, depth, frames: 20_000 });
      const read = await whole(bytes);
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

test('FLAC written says the MD5 of its samples, and its tags', async () => {
  const steps = Array.from({ length: 5000 }, (_, i) => Math.round(20_000 * Math.sin(i / 9)));
  const samples = Float32Array.from(steps, (step) => step / 32_768);
  const bytes = Buffer.from(
    await flacBytes([[samples.subarray(0, 3000)], [samples.subarray(3000)]], {
      ...{ sampleRate: 48_000, channels: 1, depth: '16', frames: 5000, dithered: [] },
      tags: { TITLE: 'Glocke – Ebbe', COMMENT: '', TIME_REFERENCE: '47000' },
    }),
  );
  const raw = Buffer.alloc(10_000);
  steps.forEach((step, i) => raw.writeInt16LE(step, 2 * i));
  expect(bytes.subarray(26, 42).toString('hex')).toBe(createHash('md5').update(raw).digest('hex'));
  expect(bytes.includes(Buffer.from('TITLE=Glocke – Ebbe'))).toBe(true);
  expect(bytes.includes(Buffer.from('TIME_REFERENCE=47000'))).toBe(true);
  expect(bytes.includes(Buffer.from('COMMENT='))).toBe(false);
  expect((await whole(new Uint8Array(bytes))).samples[0]).toEqual(samples);
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

test('hours of packed sound are not held whole, by what the file promises, before they are unpacked', async () => {
  const bytes = await fixture('flac');
  // The last four bytes of the count of frames in its first block.
  new DataView(bytes.buffer, bytes.byteOffset).setUint32(22, 3 * 3600 * 44_100);
  await expect(decodeSound(bytesInMemory(bytes)).then(decodeClip)).rejects.toThrow(
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

describe('Ogg', () => {
  /** The sum at the head of an Ogg page (RFC 3533). */
  const sumOf = (page: Uint8Array): number => {
    let sum = 0;
    page.forEach((byte, i) => {
      sum ^= (i >= 22 && i < 26 ? 0 : byte) << 24;
      for (let bit = 0; bit < 8; bit++) sum = (sum & 0x80000000) !== 0 ? (sum << 1) ^ 0x04c11db7 : sum << 1;
    });
    return sum >>> 0;
  };
  /** The two tones as a file of six channels in the order of the codec: left, centre, right, … */
  const six = async () => {
    const file = Buffer.from(await fixture('opus'));
    const body = 19 + 8;
    const page = Buffer.alloc(28 + body);
    file.copy(page, 0, 0, 28 + 19);
    page[27] = body;
    page[28 + 9] = 6; // channels
    page[28 + 18] = 1; // a mapping follows: one stream of two channels, and who gets which
    page.set([1, 1, 0, 255, 1, 255, 255, 0], 28 + 19);
    page.writeUInt32LE(sumOf(page), 22);
    return new Uint8Array(Buffer.concat([page, file.subarray(28 + 19)]));
  };

  test('six channels of Opus come as left, right, centre, low, back', async () => {
    const bytes = await six();
    const sound = await whole(bytes);
    expect(sound).toMatchObject({ channels: 2, fileChannels: 6 });
    expect(strength(sound.samples[0], 500, 48_000)).toBeGreaterThan(0.11);
    expect(strength(sound.samples[1], 750, 48_000)).toBeGreaterThan(0.11);
    // What stands last in the codec's order is the low channel, the fourth of a WAV file.
    const others = await whole(bytes, [2, 3]);
    expect(strength(others.samples[0], 500, 48_000)).toBeLessThan(1e-3);
    expect(strength(others.samples[1], 500, 48_000)).toBeGreaterThan(0.11);
  });

  test('a short Opus file is as long as it says, not longer by what a decoder throws away', async () => {
    expect((await whole(await fixture('opus'))).samples[0].length).toBe(19_200);
  });
});

describe('what cannot be read is called by its right name', () => {
  const head = (text: string, at = 0) => {
    const bytes = Buffer.alloc(64);
    bytes.write(text, at, 'latin1');
    return new Uint8Array(bytes);
  };
  test.each([
    ['Wave64 (W64)', head('riff\x2e\x91\xcf\x11')],
    ['MPEG-4 (M4A, MP4)', head('ftypM4A ', 4)],
    [
      'FLAC in Ogg',
      new Uint8Array(Buffer.concat([head('OggS').subarray(0, 28), Buffer.from('\x7fFLAC\x01', 'latin1')])),
    ],
    ['Core Audio (CAF)', head('caff')],
    ['AAC', head('\xff\xf1')],
  ])('%s', async (name, bytes) => {
    await expect(whole(bytes)).rejects.toThrow(`it is ${name}; allowed are`);
  });
});

test('AIFF of 64-bit floats', async () => {
  const samples = [0, 0.25, -1, 1 / 3];
  const data = Buffer.alloc(8 + 8 * samples.length);
  samples.forEach((x, i) => data.writeDoubleBE(x, 8 + 8 * i));
  const common = Buffer.alloc(24);
  common.writeUInt16BE(1, 0);
  common.writeUInt32BE(samples.length, 2);
  common.writeUInt16BE(64, 6);
  common.set([0x40, 0x0e, 0xbb, 0x80], 8); // 48,000 as an 80-bit float
  common.write('fl64', 18);
  const chunk = (name: string, body: Buffer) => {
    const size = Buffer.alloc(4);
    size.writeUInt32BE(body.length);
    return Buffer.concat([Buffer.from(name), size, body]);
  };
  const body = Buffer.concat([Buffer.from('AIFC'), chunk('COMM', common), chunk('SSND', data)]);
  const read = await whole(new Uint8Array(chunk('FORM', body)));
  expect(read).toMatchObject({ sampleRate: 48_000, channels: 1 });
  expect([...read.samples[0]]).toEqual(samples.map(Math.fround));
});
