import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { clipOf, noise } from '../../testing/signals.ts';
import { encodeRender } from '../renderedWav.ts';
import { chainOf } from '../../testing/chains.ts';
import { checkMarks, type SoundMarks } from '../common/soundMarks.ts';
import { bytesInMemory } from '../common/byteSource.ts';
import { WavReader } from './reader.ts';
import { encodeWav, WavEncoder, WAV_DEPTHS, type WavOptions } from './writer.ts';
import type { Clip } from '../../model/clip.ts';

const bytesOf = (clip: Clip, options: WavOptions) => new Uint8Array(Buffer.concat([...encodeWav(clip, options)]));
const open = (bytes: Uint8Array) => WavReader.open(bytesInMemory(bytes));

/** A WAV file put together by hand, as another program might. */
function wav(
  fmt: { code?: number; channels?: number; rate?: number; bits?: number; align?: number },
  data: Uint8Array,
  claimed = data.length,
): Uint8Array {
  const { code = 1, channels = 1, rate = 48000, bits = 16, align = (channels * bits) / 8 } = fmt;
  const bytes = Buffer.alloc(44 + data.length);
  bytes.write('RIFF', 0);
  bytes.writeUInt32LE(36 + data.length, 4);
  bytes.write('WAVEfmt ', 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(code, 20);
  bytes.writeUInt16LE(channels, 22);
  bytes.writeUInt32LE(rate, 24);
  bytes.writeUInt32LE(rate * align, 28);
  bytes.writeUInt16LE(align, 32);
  bytes.writeUInt16LE(bits, 34);
  bytes.write('data', 36);
  bytes.writeUInt32LE(claimed, 40);
  bytes.set(data, 44);
  return new Uint8Array(bytes);
}

describe('what is written can be read', () => {
  test('32-bit float comes back bit for bit, with its place', async () => {
    const clip = noise(40_000, 44100, 2);
    const reader = await open(
      bytesOf(clip, { depth: '32f', timeReference: 158_760_123, info: { name: 'Bell', comment: 'a' } }),
    );
    expect(reader.header).toMatchObject({
      sampleRate: 44100,
      channels: 2,
      frames: 40_000,
      format: 'f32',
      timeReference: 158_760_123,
    });
    expect((await reader.readClip()).channels).toEqual(clip.channels);
  });

  test('16 and 24 bits come back within dither and rounding', async () => {
    const clip = noise(20_000, 48000, 1);
    for (const [depth, step] of [
      ['16', 1 / 32768],
      ['24', 1 / 8388608],
    ] as const) {
      const back = (await (await open(bytesOf(clip, { depth }))).readClip()).channels[0];
      const worst = back.reduce((most, sample, i) => Math.max(most, Math.abs(sample - clip.channels[0][i])), 0);
      expect(worst).toBeLessThanOrEqual(1.5 * step);
      expect(worst).toBeGreaterThan(0.5 * step);
    }
  });

  test('dither turns distortion of a faint sound into noise: the mean follows the sound below one step', async () => {
    const faint = clipOf([new Float32Array(200_000).fill(0.3 / 32768)]);
    const back = (await (await open(bytesOf(faint, { depth: '16' }))).readClip()).channels[0];
    const mean = back.reduce((sum, sample) => sum + sample, 0) / back.length;
    expect(mean * 32768).toBeCloseTo(0.3, 2);
  });

  test('full scale is held, not wrapped', async () => {
    for (const depth of ['16', '24'] as const) {
      const back = (await (await open(bytesOf(clipOf([[1.7, -1.7, 1, -1]]), { depth }))).readClip()).channels[0];
      expect(back[0]).toBeGreaterThan(0.999);
      expect(back[1]).toBe(-1);
    }
  });

  test('the same clip gives the same bytes at every depth; one frame is enough', async () => {
    for (const depth of WAV_DEPTHS) {
      expect(bytesOf(noise(999), { depth })).toEqual(bytesOf(noise(999), { depth }));
      expect((await (await open(bytesOf(clipOf([[0.5]]), { depth }))).readClip()).channels[0]).toHaveLength(1);
    }
  });

  test('a render says its name and chain, and lies where it belongs; before midnight it has no place', async () => {
    const chain = chainOf([]);
    const render = (origin: number, sourceTimeReference: number) =>
      new Uint8Array(
        Buffer.concat([
          ...encodeRender({
            clip: { ...clipOf([[1, 0]]), origin },
            depth: '24',
            name: 'Bell – tide',
            chain,
            version: 'version 2',
            sourceTimeReference,
          }),
        ]),
      );
    expect((await open(render(-1000, 48000))).header.timeReference).toBe(47000);
    // Before midnight no place can be said, and none is better than a wrong one.
    expect((await open(render(-50_000, 48000))).header.timeReference).toBeUndefined();
    expect(Buffer.from(render(0, 0)).includes(Buffer.from('Bell – tide'))).toBe(true);
    expect(Buffer.from(render(0, 0)).includes('Test version 2')).toBe(true);
  });
});

test('a file past 4 GiB becomes RF64 with its sizes in ds64', async () => {
  const frames = 600_000_000;
  const header = new WavEncoder({ depth: '32f', channels: 2, sampleRate: 48000 }, frames).header(frames);
  expect(Buffer.from(header).toString('latin1', 0, 4)).toBe('RF64');
  const view = new DataView(header.buffer, header.byteOffset);
  expect(view.getBigUint64(20, true)).toBe(BigInt(header.length - 8 + frames * 8));
  expect(view.getBigUint64(28, true)).toBe(BigInt(frames * 8));
});

describe('formats of other programs', () => {
  test.each([
    ['8-bit', { bits: 8 }, [0, 128, 255], [-1, 0, 127 / 128]],
    ['16-bit', { bits: 16 }, [0x00, 0x80, 0xff, 0x7f], [-1, 32767 / 32768]],
    ['24-bit', { bits: 24 }, [0x00, 0x00, 0x80, 0xff, 0xff, 0xff], [-1, -1 / 8388608]],
    ['32-bit', { bits: 32 }, [0, 0, 0, 0x80, 0, 0, 0, 0x40], [-1, 0.5]],
    ['64-bit float', { bits: 64, code: 3 }, [...new Uint8Array(new Float64Array([0.25]).buffer)], [0.25]],
  ])('%s', async (_, fmt, data, want) => {
    const clip = await (await open(wav(fmt, Uint8Array.from(data)))).readClip();
    expect([...clip.channels[0]]).toEqual(want.map(Math.fround));
  });

  test('chunks of odd length and unknown chunks are passed over', async () => {
    const plain = Buffer.from(wav({}, Uint8Array.from([1, 0])));
    const odd = Buffer.concat([
      plain.subarray(0, 36),
      Buffer.from('junk\x03\x00\x00\x00abc\x00', 'latin1'),
      plain.subarray(36),
    ]);
    expect((await open(new Uint8Array(odd))).header.frames).toBe(1);
  });
});

describe('what recorders and pipes leave is read as far as it goes, and it is said', () => {
  const data = new Uint8Array(Float32Array.from({ length: 50 }, (_, i) => i / 64).buffer);
  const floating = { code: 3, bits: 32, align: 4 };
  test.each([
    ['a size of 0', wav(floating, data, 0), 50, 'does not say how long it is'],
    ['the largest size', wav(floating, data, 0xffffffff), 50, 'does not say how long it is'],
    ['a file cut short', wav(floating, data, 5000), 50, 'claims 5000 bytes, 200 are there'],
    ['cut in the middle of a sample', wav(floating, data.subarray(0, 198), 200), 49, 'claims 200 bytes, 198 are there'],
  ])('%s', async (_, bytes, frames, message) => {
    const reader = await open(bytes);
    expect(reader.frames).toBe(frames);
    expect(reader.warning).toContain(message);
    const [samples] = (await reader.readClip()).channels;
    expect([samples[0], samples[1], samples[frames - 1]]).toEqual([0, 1 / 64, (frames - 1) / 64]);
  });

  test('a file that says all rightly has no warning', async () => {
    expect((await open(wav(floating, data))).warning).toBeUndefined();
  });
});

test('A-law and µ-law: the steps of ITU-T G.711', async () => {
  const read = async (code: number, bytes: number[]) => {
    const { channels } = await (await open(wav({ code, bits: 8, align: 1 }, Uint8Array.from(bytes)))).readClip();
    return [...channels[0]].map((x) => x * 32768);
  };
  // The ends and the middle of either sign, as the recommendation's tables give them at 16 bits.
  expect(await read(6, [0xd5, 0x55, 0xaa, 0x2a, 0x80])).toEqual([8, -8, 32256, -32256, 5504]);
  expect(await read(7, [0xff, 0x7f, 0x80, 0x00, 0xe0])).toEqual([0, -0, 32124, -32124, 260 * 0 + 372]);
});

describe('bad files are refused with what is wrong and what is allowed', () => {
  const text = new TextEncoder();
  test.each([
    ['a text file', text.encode('Dear harbour master, the fog'), 'not a WAV file: it begins with "Dear"'],
    ['nothing much', text.encode('RI'), 'only 2 bytes'],
    ['0 frames', wav({}, new Uint8Array(0)), '0 frames; at least 1'],
    ['9 channels', wav({ channels: 9 }, new Uint8Array(180)), '9 channels; 1 to 8'],
    ['no channels', wav({ channels: 0, align: 2 }, new Uint8Array(140)), '0 channels; 1 to 8'],
    ['4 kHz', wav({ rate: 4000 }, new Uint8Array(140)), '4000 Hz; allowed is 8000 to 192000'],
    ['12 bits', wav({ bits: 12, align: 2 }, new Uint8Array(140)), '12-bit'],
    ['a compressed format', wav({ code: 85 }, new Uint8Array(140)), 'format 85'],
    ['frames that do not fit', wav({ align: 3 }, new Uint8Array(140)), 'cannot have 3 bytes'],
    ['no data', wav({}, new Uint8Array(4)).slice(0, 36), 'no data chunk'],
    [
      'a chunk past the end',
      new Uint8Array(
        Buffer.concat([wav({}, new Uint8Array(4)).slice(0, 36), Buffer.from('bext\xff\xff\x00\x00', 'latin1')]),
      ),
      'chunk "bext" claims',
    ],
  ])('%s', async (_, bytes, message) => {
    await expect(open(bytes)).rejects.toThrow(message);
  });

  test('samples that are not numbers, with their place', async () => {
    const samples = new Float32Array([0, 0.5, 0, NaN, 0, 0]);
    await expect(
      (await open(wav({ code: 3, bits: 32, channels: 2 }, new Uint8Array(samples.buffer)))).readClip(),
    ).rejects.toThrow('frame 1, channel 2');
    samples[3] = Infinity;
    await expect((await open(wav({ code: 3, bits: 32 }, new Uint8Array(samples.buffer)))).readClip()).rejects.toThrow(
      'frame 3, channel 1',
    );
  });

  test('no bytes at all make it crash', async () => {
    const good = wav({}, new Uint8Array(64));
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { maxLength: 6 }), async (changes) => {
        const bytes = good.slice();
        for (const [at, value] of changes) bytes[at] = value;
        try {
          await (await open(bytes)).readClip();
        } catch (error) {
          expect((error as Error).name).toBe('InputError');
        }
      }),
    );
  });
});

describe('loops, root note and markers', () => {
  const marks: SoundMarks = {
    rootKey: 57,
    fineTune: -12,
    loops: [
      { kind: 'release', start: 700, end: 900, times: 3 },
      { kind: 'sustain', start: 100, end: 500, times: 0 },
    ],
    markers: [{ at: 42, label: 'Ümlaut' }],
  };
  const written = (options: object = {}) =>
    new Uint8Array(Buffer.concat([...encodeWav(noise(1000), { depth: '16', marks, ...options })]));

  test('come back as they were written, the sustain loop first', async () => {
    const { header } = await open(written());
    expect(header.marks).toEqual({ ...marks, loops: [marks.loops[1], marks.loops[0]] });
    expect(header.frames).toBe(1000);
  });

  test('in the bytes: the chunk says the last frame that is played, and how much above its key it sounds', () => {
    const bytes = Buffer.from(written());
    const at = bytes.indexOf('smpl') + 8;
    const word = (n: number) => bytes.readUInt32LE(at + 4 * n);
    expect([word(2), word(3), word(7)]).toEqual([Math.round(1e9 / 48000), 56, 2]);
    // 88 cents in parts of a semitone, whose whole is 2^32.
    expect(word(4) / 2 ** 32).toBeCloseTo(0.88, 6);
    expect([word(11), word(12), word(14)]).toEqual([100, 499, 0]);
    expect([word(17), word(18), word(20)]).toEqual([700, 899, 3]);
  });

  test('behind the samples they are found too; what is broken there does no harm', async () => {
    const bytes = Buffer.from(written());
    const data = bytes.length - 2000 - 8; // the cue points say the word too
    const [before, samples] = [bytes.subarray(12, data), bytes.subarray(data)];
    const format = before.subarray(0, 24);
    const turned = Buffer.concat([bytes.subarray(0, 12), format, samples, before.subarray(24)]);
    expect((await open(turned)).header.marks.loops.length).toBe(2);
    const cut = Buffer.concat([bytes.subarray(0, 12), format, samples, Buffer.from('smpl\xff\xff\x00\x00', 'latin1')]);
    expect((await open(cut)).header).toMatchObject({ frames: 1000, marks: { loops: [] } });
  });

  test('loops outside the sound are not taken', async () => {
    const outside = { ...marks, loops: [{ kind: 'sustain' as const, start: 900, end: 1100, times: 0 }] };
    expect((await open(written({ marks: outside }))).header.marks.loops).toEqual([]);
    expect(() => checkMarks(outside, 1000)).toThrow('sustain loop goes from frame 900 to 1100; allowed is 0 to 1000');
    expect(() => checkMarks({ ...marks, loops: [marks.loops[0], marks.loops[0]] }, 1000)).toThrow(
      'two loops of one kind',
    );
    expect(() => checkMarks({ ...marks, markers: [{ at: 1001, label: 'x' }] }, 1000)).toThrow('"x" lies at frame 1001');
  });
});
