/** A command line on a folder of its own: a take, a chain, and what is printed. */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, vi } from 'vitest';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import { WavReader, bytesInMemory, encodeWav } from '@hexenkessel/core/formats';
import { run } from '../main.ts';

export let folder: string;
/** What was printed by the last calls. */
export const out: string[] = [];
export const err: string[] = [];
export const at = (name: string) => join(folder, name);
export const call = (...args: string[]) => run(args);

/** In take.wav. */
export const clip: Clip = {
  sampleRate: 44100,
  origin: 0,
  channels: [Float32Array.from({ length: 9000 }, (_, i) => (i < 100 ? 0 : 0.5 * Math.sin(i / 9)))],
};
/** In tide.hxk.json. */
export const chain: ChainDocument = parseChain(BUILT_INS, {
  ...emptyChain(BUILT_INS, 'Tide'),
  timing: { tempo: 93 },
  stages: [
    { id: 'flip', kind: 'reverse' },
    { id: 'hall', kind: 'hall', settings: { decay: { beats: 1 } } },
    { id: 'back', kind: 'reverse' },
  ],
  render: { tail: { mode: 'fixed', length: { beats: 1 } }, anchor: 'end' },
});

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'hexenkessel-cli-'));
  await writeFile(at('take.wav'), Buffer.concat([...encodeWav(clip, { depth: '32f' })]));
  await writeFile(at('tide.hxk.json'), JSON.stringify(chain));
});
afterAll(() => rm(folder, { recursive: true }));
beforeEach(() => {
  out.length = err.length = 0;
  vi.spyOn(console, 'log').mockImplementation((text: string) => void out.push(text));
  vi.spyOn(console, 'error').mockImplementation((text: string) => void err.push(text));
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => void err.push(String(text)) as never);
});

/** Samples of the first channel of a 32-bit float file. */
export async function samplesOf(name: string): Promise<Float32Array> {
  const reader = await WavReader.open(bytesInMemory(new Uint8Array(await readFile(at(name)))));
  return (await reader.readClip()).channels[0];
}
