import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { bytesInMemory } from '../../formats/common/byteSource.ts';
import { StreamedWav, encodeRender } from '../../formats/renderedWav.ts';
import { WavReader } from '../../formats/wav/reader.ts';
import { encodeWav } from '../../formats/wav/writer.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { noise } from '../../testing/signals.ts';
import { canStream } from './liveSource.ts';

const label = { depth: '24', name: 'take', version: '', sourceTimeReference: 5 } as const;

async function streamed(chain: ReturnType<typeof chainOf>, source: ReturnType<typeof noise>): Promise<Buffer> {
  const file = Buffer.concat([...encodeWav(source, { depth: '32f' })]);
  const wav = await StreamedWav.open(BUILT_INS, await WavReader.open(bytesInMemory(file)), { ...label, chain });
  const pieces: Uint8Array[] = [];
  for await (const piece of wav.bytes()) pieces.push(piece);
  pieces[0] = wav.header();
  return Buffer.concat(pieces);
}

const STAGES = [
  { kind: 'filter', settings: { cutoff: 900 } },
  {
    kind: 'split',
    branches: [
      { id: 'a', stages: [{ id: 'room', kind: 'hall', settings: { decay: 0.2 } }] },
      { id: 'b', inverted: true, stages: [] },
    ],
  },
  { kind: 'hall', mix: 0.5, settings: { decay: 0.4, size: 0.5 } },
  { kind: 'gain', settings: { gain: -30 } },
];

test('a render in one pass gives the bytes of one in memory, whatever its length, ends and stages', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(1, 127, 128, 5000, 65536, 65537, 150_000),
      fc.integer({ min: 1, max: 2 }),
      fc.constantFrom<object>(
        { mode: 'none' },
        { mode: 'fixed', length: 0.3 },
        { mode: 'auto', below: -60 },
        { mode: 'auto', below: -20 },
      ),
      fc.constantFrom<object>({ mode: 'auto' }, { mode: 'fixed', length: 0.01 }),
      fc.integer({ min: 0, max: STAGES.length }),
      fc.constantFrom('as they come', 'mono', 'stereo'),
      fc.constantFrom<object>({ mode: 'none' }, { mode: 'peak', to: -3 }, { mode: 'loudness', to: -23 }),
      async (frames, channels, tail, leadIn, count, width, level) => {
        const source = noise(frames, 48000, channels);
        const chain = chainOf(STAGES.slice(0, count), { render: { tail, leadIn, channels: width, level } });
        expect(canStream(BUILT_INS, chain)).toBe(true);
        const whole = Buffer.concat([...encodeRender({ ...label, clip: renderOf(chain, source), chain })]);
        expect((await streamed(chain, source)).equals(whole)).toBe(true);
      },
    ),
    { numRuns: 25 },
  );
});

test('what has to be heard to its end first is not streamed', () => {
  expect(canStream(BUILT_INS, chainOf([{ kind: 'reverse' }]))).toBe(false);
  expect(canStream(BUILT_INS, chainOf([{ kind: 'reverse', on: false }]))).toBe(true);
  expect(canStream(BUILT_INS, chainOf([{ kind: 'gain' }], { render: { anchor: 'end' } }))).toBe(false);
});

test('a first stage that gives its result in pieces is streamed too, with the same bytes', async () => {
  const source = noise(5000, 48_000, 2);
  for (const window of [0.02, 0.0371, 0.1]) {
    for (const rest of [[], STAGES.slice(2)]) {
      const stages = [{ kind: 'smear', settings: { factor: 11.3, window } }, ...rest];
      const chain = chainOf(stages, {
        render: { tail: { mode: 'fixed', length: 0.1 }, leadIn: { mode: 'fixed', length: 0.01 } },
      });
      expect(canStream(BUILT_INS, chain)).toBe(true);
      const whole = Buffer.concat([...encodeRender({ clip: renderOf(chain, source), ...label, chain })]);
      expect((await streamed(chain, source)).equals(whole)).toBe(true);
    }
  }
  const smear = { kind: 'smear' };
  expect(canStream(BUILT_INS, chainOf([{ kind: 'gain' }, smear]))).toBe(false);
  expect(canStream(BUILT_INS, chainOf([{ ...smear, mix: 0.5 }]))).toBe(false);
  expect(canStream(BUILT_INS, chainOf([smear, { kind: 'reverse' }]))).toBe(false);
  await expect(streamed(chainOf([{ ...smear, settings: { window: 1 } }]), source)).rejects.toThrow(
    'longer than the clip',
  );
});
